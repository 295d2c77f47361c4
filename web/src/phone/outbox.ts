import { problemOf, Problem } from "../api/problem";
import {
  amend,
  confirm,
  drop,
  isOpen,
  keep,
  kept,
  mine,
  note,
  put,
  reload,
  setNote,
  type Bundle,
  type Entry,
} from "./kept";
import type { Offline } from "./offline";

/** Asks the server with the link that is in use, or with another one: by the cookie of its id, or by its secret. */
export const call = (path: string, init: RequestInit = {}, link = kept().link) => {
  const by: HeadersInit = isOpen(link) ? { "Notchback-Link": link } : link ? { Authorization: "Bearer " + link } : {};
  return fetch(path, { ...init, headers: { ...init.headers, ...by, "Content-Type": "application/json" } });
};

export const problem = async (a: Response) => problemOf(a.status, await a.json().catch(() => null));

/** A stop the runner just reported locks this phone in the same write as the report, signal or not. */
export const putSign = (body: unknown, locks: string) =>
  put(
    [{ kind: "signs", body, label: "Warning sign" }],
    locks ? { locked: [...(note<string[]>(kept(), "locked") ?? []), locks] } : {},
  );

let turn: Promise<unknown> = Promise.resolve();

/** Runs one after another what sends or fetches, in all tabs: an answer on its way never overwrites a newer one. */
function alone<T>(f: () => Promise<T>): Promise<T> {
  if (navigator.locks) return navigator.locks.request("notchback-phone", f) as Promise<T>;
  const mine = turn.then(f, f); // without a secure address there are no locks between tabs; each write is safe to repeat
  turn = mine.catch(() => undefined);
  return mine;
}

/** Sends what waits, then fetches what is so now. It throws what the runner should read. */
export async function sync() {
  const trouble = await alone(async () => {
    await reload();
    const { link } = kept();
    // Where the page's later parts cannot be had, the secret itself is said.
    if (link && !isOpen(link)) await (await import("./opening").catch(() => null))?.openLink({ token: link });
    const first = !kept().runner;
    if (first) await refresh(); // whose reports they are
    const sends = waiting().length > 0;
    const trouble = await flush();
    if (!first || sends) await refresh();
    return trouble;
  });
  await provide();
  if (trouble) throw trouble;
}

/** What waits, in the order it is sent: warning signs before anything else, the link's runner before others. Others'
 * reports go under the link they were entered under, so that none crosses to another runner. */
export function waiting(): { entry: Entry; link: string }[] {
  const k = kept();
  const all = k.entries
    .filter((e) => !e.refused)
    .map((entry) => ({ entry, own: entry.runner === k.runner, link: entry.runner === k.runner ? k.link : entry.link }))
    .filter((x) => x.entry.runner !== "" && x.link !== "");
  const rank = (x: (typeof all)[number]) => (x.own ? 0 : 2) + (x.entry.kind === "signs" ? 0 : 1);
  return all.sort((a, b) => rank(a) - rank(b) || a.entry.n - b.entry.n);
}

const over = new Set<string>(); // links that have ended, of others: they are not tried again and again

const later = [408, 425, 429, 499]; // no refusals: it waits, as it does for its day to come

/** An entry leaves the outbox only when the server has confirmed it; a refused one stays with the reason. One that the
 * server cannot take now holds nothing else back. It returns what the runner should read of it. */
async function flush(): Promise<Problem | null> {
  let trouble: Problem | null = null;
  let failed = 0;
  for (const { entry: e, link } of waiting()) {
    const own = e.runner === kept().runner;
    if (!own && over.has(link)) continue;
    const a = await call(`/api/phone/${e.kind}/${e.id}`, { method: "PUT", body: JSON.stringify(e.body) }, link);
    if (a.ok) {
      await confirm(e);
      failed = 0;
      continue;
    }
    const why = await problem(a);
    if (a.status === 401) {
      if (own) throw why; // the link has ended: nothing goes under it
      over.add(link);
    } else if (a.status >= 400 && a.status < 500 && !later.includes(a.status)) {
      await amend({ ...e, refused: why.message, fields: why.fields });
    } else {
      trouble = why;
      if (a.status === 429 || (a.status !== 425 && ++failed === 3)) break; // it is the server, not the entry
    }
  }
  return trouble;
}

/** Puts refused entries away once they were read. A refused warning sign stays: it keeps this phone locked. */
export async function dropRefused() {
  for (const e of mine(kept())) if (e.refused && e.kind !== "signs") await drop(e.id);
}

const earlier = "it was entered under an earlier link of another runner, or of nobody this phone knows; tell the coach";

/** Fetches the page's records and keeps them. */
async function refresh(): Promise<void> {
  const asked = Date.now();
  const held = kept().bundle;
  const a = await call("/api/phone", held?.state ? { headers: { "If-None-Match": `"${held.state}"` } } : {});
  if (a.status === 304) return contact(Date.parse(a.headers.get("Date") ?? ""), asked);
  if (!a.ok) throw await problem(a);
  const b = (await a.json()) as Bundle;
  await keep(b);
  for (const e of kept().entries) if (!e.runner && !e.refused) await amend({ ...e, refused: earlier });
  await contact(Date.parse(b.at), asked);
}

/** Keeps when there was contact, and how wrong this phone's clock is. */
async function contact(at: number, asked: number) {
  if (!at) return;
  const ahead = (Date.now() + asked) / 2 - at;
  const wrong = Math.abs(ahead) > 5 * 60_000 ? Math.round(ahead) : 0;
  if ((note<number>(kept(), "clock ahead") ?? 0) !== wrong) await setNote("clock ahead", wrong || undefined);
  if (Math.abs((note<number>(kept(), "contact") ?? 0) - at) > 5 * 60_000) await setNote("contact", at);
}

/** Fetches what this phone goes by without signal, where it does not hold it for the session it shows. Without it what
 * is told takes everything away that may not be done alone. */
async function provide(): Promise<void> {
  const { bundle, newer } = kept();
  if (!bundle || newer || note<Offline>(kept(), "offline")?.state === bundle.state) return;
  const a = await call("/api/phone/offline").catch(() => null);
  if (!a?.ok) return;
  const o = (await a.json()) as Offline;
  if (o.runner === kept().runner) await setNote("offline", o);
}

/** Hours since the server was reached last. A clock that was set back meanwhile tells nothing: as far the other way. */
export function hoursAlone(): number {
  const k = kept();
  const at = note<number>(k, "contact") ?? (k.bundle ? Date.parse(k.bundle.at) : 0);
  return Math.abs(now() - at) / 3_600_000;
}

/** The time by the server's clock, as far as it is known: a phone's own may be set wrong. Milliseconds. */
export const now = () => Date.now() - (note<number>(kept(), "clock ahead") ?? 0);

/** Today's date in the runner's zone. */
export const todayIn = (zone: string) => new Intl.DateTimeFormat("en-CA", { timeZone: zone }).format(new Date(now()));
