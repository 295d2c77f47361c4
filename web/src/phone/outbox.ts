import { newId, problemOf, type Schemas } from "../api/client";

export type Bundle = Schemas["Phone"];
export interface Entry {
  id: string;
  kind: "logs" | "mornings" | "runs" | "signs" | "intake" | `healed/${string}`;
  body: unknown;
  label: string;
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
    for (const k of ["link", "bundle", "outbox", "locked", "intake draft", "intake form"]) localStorage.removeItem(k);
    localStorage.setItem("link", fresh);
    return fresh;
  }
  return kept;
}

export const keptBundle = () => read<Bundle | null>("bundle", null);
export const outbox = () => read<Entry[]>("outbox", []);
export const lockedHere = () => read<string[]>("locked", []);

/** A stop the runner just reported locks this phone at once, signal or not. */
export function lockHere(words: string) {
  write("locked", [...lockedHere(), words]);
}

/** Puts an entry into the outbox before anything is sent, so that a dead battery loses nothing. */
export function put(kind: Entry["kind"], body: unknown, label: string) {
  write("outbox", [...outbox(), { id: newId(), kind, body, label }]);
}

export const call = (path: string, init: RequestInit = {}) =>
  fetch(path, { ...init, headers: { Authorization: "Bearer " + token(), "Content-Type": "application/json" } });

/** Sends what waits: warning signs before anything else, then in order. An entry leaves the outbox only when
 * the server has confirmed it; a refused one stays with the reason, and never holds back the others. */
export async function flush(): Promise<void> {
  const waiting = outbox().filter((x) => !x.refused);
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

/** Fetches the page's records and keeps them. */
export async function refresh(): Promise<Bundle> {
  const a = await call("/api/phone");
  if (!a.ok) throw problemOf(a.status, await a.json().catch(() => null));
  const b = (await a.json()) as Bundle;
  write("bundle", b);
  // The server knows every sign once the outbox is empty; its word replaces this phone's.
  if (!outbox().some((e) => e.kind === "signs")) localStorage.removeItem("locked");
  return b;
}

/** Today's date in the runner's zone. */
export const todayIn = (zone: string) => new Intl.DateTimeFormat("en-CA", { timeZone: zone }).format(new Date());
