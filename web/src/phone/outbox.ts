import { newId, problemOf, type Schemas } from "../api/client";

export type Bundle = Schemas["Phone"];
export interface Entry {
  id: string;
  kind: "logs" | "mornings" | "runs" | "signs" | "intake" | `healed/${string}`;
  body: unknown;
  label: string;
  /** Whose report it is; a report is sent for nobody else. */
  runner?: string;
  refused?: string;
  fields?: Record<string, string>;
}

const read = <T>(key: string, empty: T): T => {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "") as T;
  } catch {
    return empty;
  }
};
const write = (key: string, v: unknown) => localStorage.setItem(key, JSON.stringify(v));

/** The link's token stands behind the # and is kept for the next opening. */
export function token(): string {
  const fresh = location.hash.slice(1);
  const kept = localStorage.getItem("link") ?? "";
  if (fresh && fresh !== kept) {
    // A new link may be the same runner's or another's. What was reported stays until it is known whose it is.
    const whose = read<Partial<Bundle> | null>("bundle", null)?.runner ?? (kept ? "before" : "");
    if (whose)
      write(
        "outbox",
        outbox().map((e) => ({ runner: whose, ...e })),
      );
    for (const k of ["link", "bundle", "intake draft", "intake form"]) localStorage.removeItem(k);
    localStorage.setItem("link", fresh);
    return fresh;
  }
  return kept;
}

/** The kept records; none when a page of another release wrote them: their shape may differ. */
export function keptBundle(): Bundle | null {
  const b = read<Bundle | null>("bundle", null);
  return b?.release === __RELEASE__ ? b : null;
}
export const outbox = () => read<Entry[]>("outbox", []);
export const lockedHere = () => read<string[]>("locked", []);

/** A stop the runner just reported locks this phone at once, signal or not. */
export function lockHere(words: string) {
  write("locked", [...lockedHere(), words]);
}

/** Puts an entry into the outbox before anything is sent, so that a dead battery loses nothing. */
export function put(kind: Entry["kind"], body: unknown, label: string) {
  const runner = read<Partial<Bundle> | null>("bundle", null)?.runner;
  write("outbox", [...outbox(), { id: newId(), kind, body, label, runner }]);
}

export const call = (path: string, init: RequestInit = {}) =>
  fetch(path, { ...init, headers: { Authorization: "Bearer " + token(), "Content-Type": "application/json" } });

/** Sends what waits: warning signs before anything else, then in order. An entry leaves the outbox only when
 * the server has confirmed it; a refused one stays with the reason, and never holds back the others. */
export async function flush(): Promise<void> {
  const me = read<Partial<Bundle> | null>("bundle", null)?.runner;
  const waiting = outbox().filter((x) => !x.refused && (!x.runner || x.runner === me));
  for (const e of [...waiting.filter((x) => x.kind === "signs"), ...waiting.filter((x) => x.kind !== "signs")]) {
    const a = await call(`/api/phone/${e.kind}/${e.id}`, { method: "PUT", body: JSON.stringify(e.body) });
    if (a.ok)
      write(
        "outbox",
        outbox().filter((x) => x.id !== e.id),
      );
    else if (a.status >= 400 && a.status < 500 && a.status !== 401 && a.status !== 429) {
      const why = problemOf(a.status, await a.json().catch(() => null));
      write(
        "outbox",
        outbox().map((x) => (x.id === e.id ? { ...x, refused: why.message, fields: why.fields } : x)),
      );
    } else throw problemOf(a.status, await a.json().catch(() => null));
  }
}

/** Puts refused entries away once they were read. A refused warning sign stays: it keeps this phone locked. */
export function dropRefused() {
  write(
    "outbox",
    outbox().filter((x) => !x.refused || x.kind === "signs"),
  );
}

const earlier = "it was entered under an earlier link of another runner, or of nobody this phone knows; tell the coach";

/** Fetches the page's records and keeps them. */
export async function refresh(): Promise<Bundle> {
  const a = await call("/api/phone");
  if (!a.ok) throw problemOf(a.status, await a.json().catch(() => null));
  const b = (await a.json()) as Bundle;
  write("bundle", b);
  // The server knows every sign once the outbox is empty; its word replaces this phone's.
  if (!outbox().some((e) => e.kind === "signs")) localStorage.removeItem("locked");
  const others = outbox().filter((e) => e.runner && e.runner !== b.runner && !e.refused);
  if (others.length)
    write(
      "outbox",
      outbox().map((e) => (others.some((o) => o.id === e.id) ? { ...e, refused: earlier } : e)),
    );
  return b;
}

/** Today's date in the runner's zone. */
export const todayIn = (zone: string) => new Intl.DateTimeFormat("en-CA", { timeZone: zone }).format(new Date());
