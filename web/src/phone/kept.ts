import { openDB, type DBSchema, type IDBPDatabase, type IDBPTransaction } from "idb";
import { useSyncExternalStore } from "react";
import type { Schemas } from "../api/client";
import { newId } from "../api/id";
import { earlier } from "./earlier";
import { readIn } from "../ui/reader";
import { said, type Said } from "./offline";

/** What the runner's page shows, as the server made it. */
export type Bundle = Schemas["Phone"];

/** A report that the server has not confirmed yet. */
export interface Entry {
  id: string;
  n: number; // they are sent in this order
  kind: "logs" | "mornings" | "runs" | "bare" | "notes" | "selfchecks" | "signs" | "intake" | `healed/${string}`;
  body: unknown;
  label: string;
  runner: string; // whose report it is; empty: an earlier release did not say
  link: string; // id of the link it was entered under; its secret where that was not opened here yet
  refused?: string;
  fields?: Record<string, string>;
}
export type Report = Pick<Entry, "kind" | "body" | "label">;

/** Everything this phone holds, as it was last read from its store. */
export interface Kept {
  link: string; // id of the link in use; its secret until the server has opened it on this device
  print: string; // how its secret begins: the same link in the address changes nothing
  device: string; // id that this device opens it by
  runner: string; // whose link it is; empty until the server has said so
  bundle: Bundle | null; // none when a page of another release kept it: its shape may differ
  newer: boolean; // the server is of another release than this page
  entries: readonly Entry[]; // of everybody who ever used a link here
  notes: ReadonlyMap<string, unknown>;
  loose: boolean; // the store takes nothing more: what was entered since is in this page alone
}

interface Shape extends DBSchema {
  entries: { key: string; value: Entry };
  bundles: { key: string; value: Bundle }; // by runner
  notes: { key: [runner: string, name: string]; value: unknown };
  page: { key: string; value: string };
}

const nothing: Kept = {
  link: "",
  print: "",
  device: "",
  runner: "",
  bundle: null,
  newer: false,
  entries: [],
  notes: new Map(),
  loose: false,
};
let state = nothing;
let db: IDBPDatabase<Shape> | null = null;
let unwritten: Entry[] = []; // what the store did not take
const unnoted = new Map<string, unknown>();
let unpaged: Pages = {};
let channel: BroadcastChannel | null = null;
const listeners = new Set<() => void>();

export const kept = () => state;
export const useKept = () => useSyncExternalStore(listen, kept);
function listen(f: () => void) {
  listeners.add(f);
  return () => void listeners.delete(f);
}
function show(part: Partial<Kept>) {
  state = { ...state, ...part };
  if (part.bundle) readIn(part.bundle.units);
  for (const f of listeners) f();
}

const key = (runner: string, name: string) => `${runner} ${name}`;

/** A note of the link's runner, such as that this morning is in. */
export const note = <T>(k: Kept, name: string) => k.notes.get(key(k.runner, name)) as T | undefined;

/** The words of the signs that lock this phone by themselves. Until it is known whose link this is, everybody's do. */
export function lockedHere(k: Kept): string[] {
  if (k.runner) return note<string[]>(k, "locked") ?? [];
  return [...k.notes].filter(([name]) => name.endsWith(" locked")).flatMap(([, words]) => words as string[]);
}

/** What was told here that the session shown does not know of. */
export const toldHere = (k: Kept): Said[] => [...(note<Said[]>(k, "sent") ?? []), ...said(mine(k))];

/** The reports of the link's runner, those of a runner nobody knows among them. */
export const mine = (k: Kept) => k.entries.filter((e) => !k.runner || !e.runner || e.runner === k.runner);

/** Opens the store, moves over what an earlier release kept, and takes the link in the address. A browser that keeps
 * nothing works as long as the page stays open. */
export async function open(): Promise<void> {
  try {
    db = await openDB<Shape>("notchback-phone", 1, {
      upgrade(d) {
        d.createObjectStore("entries", { keyPath: "id" });
        d.createObjectStore("bundles");
        d.createObjectStore("notes");
        d.createObjectStore("page");
      },
      // A later release changes the shape, or the browser took the store away: this page goes on from memory.
      blocking: () => {
        db?.close();
        db = null;
      },
      terminated: () => (db = null),
    });
  } catch {
    db = null;
  }
  if (!(await moveOver(db))) {
    db?.close();
    db = null;
    show({ loose: true });
  }
  if (globalThis.BroadcastChannel) {
    channel?.close();
    channel = new BroadcastChannel("notchback-phone");
    channel.onmessage = () => void reload();
  }
  await reload();
  const link = location.hash.slice(1);
  if (link) await take(link);
}

/** Closes the store. */
export function close() {
  db?.close();
  channel?.close();
  [db, channel, unwritten, unpaged, state] = [null, null, [], {}, nothing];
  unnoted.clear();
}

/** Reads everything anew: another tab may have written. */
export async function reload(): Promise<void> {
  if (!db) return;
  const t = db.transaction(stores);
  const [entries, names, values, link, print, device, runner] = await Promise.all([
    t.objectStore("entries").getAll(),
    t.objectStore("notes").getAllKeys(),
    t.objectStore("notes").getAll(),
    t.objectStore("page").get("link"),
    t.objectStore("page").get("print"),
    t.objectStore("page").get("device"),
    t.objectStore("page").get("runner"),
  ]);
  const whose = unpaged.runner ?? runner;
  const bundle = whose ? ((await t.objectStore("bundles").get(whose)) ?? null) : null;
  show({
    link: link ?? "",
    print: print ?? "",
    device: device ?? "",
    runner: runner ?? "",
    ...unpaged,
    // What is drawn stays while somebody types, as it does without signal.
    bundle: bundle?.release === __RELEASE__ ? bundle : whose === state.runner ? state.bundle : null,
    entries: [...entries, ...unwritten].sort((a, b) => a.n - b.n),
    notes: new Map([...names.map(([whose, name], i) => [key(whose, name), values[i]] as const), ...unnoted]),
  });
}

const stores: ("entries" | "bundles" | "notes" | "page")[] = ["entries", "bundles", "notes", "page"];
type Deed = (t: IDBPTransaction<Shape, typeof stores, "readwrite">) => Promise<unknown>;
const setPage =
  (name: "link" | "print" | "device" | "runner", v: string): Deed =>
  (t) =>
    t.objectStore("page").put(v, name);
const setEntry =
  (e: Entry): Deed =>
  (t) =>
    t.objectStore("entries").put(e);
const setKept =
  (b: Bundle, runner: string): Deed =>
  (t) =>
    t.objectStore("bundles").put(b, runner);
const set =
  (runner: string, name: string, v: unknown): Deed =>
  (t) =>
    v === undefined ? t.objectStore("notes").delete([runner, name]) : t.objectStore("notes").put(v, [runner, name]);

/** Writes all of it or nothing, and tells the other tabs. It reports false when the store took nothing. */
async function write(deeds: Deed[]): Promise<boolean> {
  if (!db || !(await written(db, deeds))) return false;
  await reload();
  channel?.postMessage("written");
  return true;
}

async function written(d: IDBPDatabase<Shape>, deeds: Deed[]): Promise<boolean> {
  try {
    const t = d.transaction(stores, "readwrite", { durability: "strict" });
    t.done.catch(() => undefined);
    try {
      for (const deed of deeds) deed(t).catch(() => undefined); // one that fails ends the whole
      await t.done;
    } catch (e) {
      t.abort(); // or the first half of it would stay
      throw e;
    }
  } catch {
    return false;
  }
  return true;
}

/** Says that a link is known by its id, not by its secret. */
export const isOpen = (link: string) => link.length === 36;
const beginning = (secret: string) => (isOpen(secret) ? "" : secret.slice(0, 6));

/** Takes another link. It may be the same runner's or another's: nothing is shown until that is known. The same link again
 * is opened again, by the same device, and changes nothing else. */
export async function take(link: string) {
  const print = beginning(link);
  const same = link === state.link || (!!print && print === state.print);
  const part = { link, print, ...(same ? {} : { device: "", runner: "" }) };
  if (!same) show({ bundle: null });
  if ((await setPages(part)) || isOpen(link)) cleanAddress();
}

type Pages = Partial<Pick<Kept, "link" | "print" | "device" | "runner">>;
/** Keeps what this page goes by, with what belongs to it; in memory where the store takes nothing. */
async function setPages(part: Pages, deeds: Deed[] = []): Promise<boolean> {
  const named = Object.entries(part) as [keyof Pages, string][];
  const was = unpaged;
  unpaged = Object.fromEntries(Object.entries(was).filter(([name]) => !(name in part)));
  if (await write([...named.map(([name, v]) => setPage(name, v)), ...deeds])) return true;
  unpaged = { ...was, ...part };
  show(part);
  return false;
}

/** The secret does not stay where others read it, once it is kept or no longer needed. */
const cleanAddress = () => location.hash && history.replaceState(null, "", location.pathname);

/** Keeps the id that this device opens links by. */
export const setDevice = (device: string) => setPages({ device });

/** The link was opened here: its id is said from now on, beside a cookie that no page can read. */
export async function opened(secret: string, link: string) {
  const known = (e: Entry) => (e.link === secret ? { ...e, link } : e);
  unwritten = unwritten.map(known);
  const stored = state.entries.filter((e) => e.link === secret && !unwritten.some((x) => x.id === e.id));
  const deeds = stored.map((e) => setEntry(known(e)));
  if (!(await setPages({ link, print: beginning(secret) }, deeds))) show({ entries: state.entries.map(known) });
  cleanAddress();
}

/** Keeps reports before anything is sent, with notes that belong to them: all of it or nothing, so that a dead battery
 * leaves no half of a session. Where the store is full they stay in the page, and `loose` says so. */
export async function put(reports: Report[], notes: Record<string, unknown> = {}): Promise<void> {
  const { link, runner } = state;
  const last = state.entries.reduce((n, e) => Math.max(n, e.n), Date.now());
  const entries: Entry[] = reports.map((r, i) => ({ ...r, id: newId(), n: last + 1 + i, runner, link }));
  const named = Object.entries(notes);
  if (await write([...entries.map(setEntry), ...named.map(([name, v]) => set(runner, name, v))])) return void persist();
  unwritten = [...unwritten, ...entries];
  for (const [name, v] of named) unnoted.set(key(runner, name), v);
  show({ entries: [...state.entries, ...entries], notes: new Map([...state.notes, ...unnoted]), loose: true });
}

/** Keeps or forgets (undefined) a note of the link's runner. */
export async function setNote(name: string, v: unknown): Promise<void> {
  const { runner } = state;
  unnoted.delete(key(runner, name));
  if (await write([set(runner, name, v)])) return;
  const notes = new Map(state.notes);
  notes.delete(key(runner, name));
  if (v !== undefined) unnoted.set(key(runner, name), v);
  show({ notes: new Map([...notes, ...unnoted]) });
}

/** Forgets an entry that was read as refused. */
export const drop = (id: string) => forget(id, []);

/** Forgets an entry that the server has. What it told counts on until a session that knows of it is here. */
export function confirm(e: Entry): Promise<void> {
  const told = said([e]);
  if (!told.length) return forget(e.id, []);
  const sent = [...((state.notes.get(key(e.runner, "sent")) as Said[] | undefined) ?? []), ...told];
  return forget(e.id, [[e.runner, "sent", sent]]);
}

async function forget(id: string, notes: [runner: string, name: string, v: unknown][]) {
  unwritten = unwritten.filter((e) => e.id !== id);
  const done = await write([(t) => t.objectStore("entries").delete(id), ...notes.map((n) => set(...n))]);
  if (!done) {
    for (const [runner, name, v] of notes) unnoted.set(key(runner, name), v);
    show({ entries: state.entries.filter((e) => e.id !== id), notes: new Map([...state.notes, ...unnoted]) });
  }
  if (!unwritten.length && db) show({ loose: false });
}

/** Changes an entry that stays, such as one that was refused. */
export async function amend(e: Entry): Promise<void> {
  unwritten = unwritten.map((x) => (x.id === e.id ? e : x));
  if (unwritten.some((x) => x.id === e.id) || !(await write([setEntry(e)])))
    show({ entries: state.entries.map((x) => (x.id === e.id ? e : x)) });
}

/** Keeps what the server said of the link's runner. What was kept before anybody knew whose link this is becomes theirs.
 * Notes of sessions done are put away after some days. The server knows every sign once none waits here, in any tab: its
 * word then replaces this phone's. */
export async function keep(b: Bundle): Promise<void> {
  const from = daysBefore(b.today, 3);
  const deeds = [setKept(b, b.runner), setPage("runner", b.runner), set(b.runner, "sent", undefined)];
  unnoted.delete(key(b.runner, "sent"));
  for (const e of state.entries)
    if (!e.runner && e.link === state.link) deeds.push(setEntry({ ...e, runner: b.runner }));
  for (const [k, v] of state.notes) {
    const [runner = "", ...words] = k.split(" ");
    if (!runner && words[0] !== "sent") deeds.push(set(b.runner, words.join(" "), v));
    if (!runner || (words[0] === "done" && (words[1] ?? "") < from))
      deeds.push(set(runner, words.join(" "), undefined));
  }
  const waits = (e: Entry) => e.kind === "signs" && (e.runner === b.runner || !e.runner);
  const clear = !unwritten.some(waits);
  if (clear) {
    unnoted.delete(key(b.runner, "locked"));
    deeds.push(async (t) => {
      if (!(await t.objectStore("entries").getAll()).some(waits))
        await t.objectStore("notes").delete([b.runner, "locked"]);
    });
  }
  const same = b.release === __RELEASE__;
  if (await write(deeds)) {
    delete unpaged.runner;
    return show({ newer: !same });
  }
  unpaged.runner = b.runner;
  const notes = new Map(state.notes);
  notes.delete(key(b.runner, "sent"));
  if (!state.entries.some(waits)) notes.delete(key(b.runner, "locked"));
  const bundle = same ? b : b.runner === state.runner ? state.bundle : null;
  show({ runner: b.runner, bundle, newer: !same, notes });
}

function daysBefore(day: string, n: number) {
  const d = new Date(day + "T12:00:00Z");
  d.setUTCDate(d.getUTCDate() - n);
  return d.toISOString().slice(0, 10);
}

/** Asks the browser once not to clear the store when room is short. */
async function persist() {
  if (!navigator.storage?.persist || (await navigator.storage.persisted())) return;
  await navigator.storage.persist();
}

/** Moves what an earlier release kept into the store. Nothing is removed before all of it is written, and doing it again
 * is the same. Where the store takes nothing, the page goes on with it from memory. */
async function moveOver(d: IDBPDatabase<Shape> | null): Promise<boolean> {
  const e = earlier();
  if (!e.link && !e.entries.length && !e.notes.size) return !!d;
  const done =
    d &&
    (await written(d, [
      ...(e.link ? [setPage("link", e.link)] : []),
      ...(e.bundle ? [setPage("runner", e.runner), setKept(e.bundle, e.runner)] : []),
      ...e.entries.map(setEntry),
      ...[...e.notes].map(([name, v]) => set(e.runner, name, v)),
    ]));
  if (done) {
    for (const name of e.names) localStorage.removeItem(name);
    return true;
  }
  unwritten = e.entries;
  const bundle = e.bundle?.release === __RELEASE__ ? e.bundle : null;
  const notes = new Map([...e.notes].map(([name, v]) => [key(e.runner, name), v] as const));
  show({ link: e.link, runner: e.runner, bundle, entries: e.entries, notes });
  return false;
}
