import type { Bundle, Entry } from "./kept";

/** What the releases before this store kept in localStorage. */
export function earlier() {
  const read = <T>(name: string, empty: T): T => {
    try {
      return (JSON.parse(localStorage.getItem(name) ?? "null") as T) ?? empty;
    } catch {
      return empty;
    }
  };
  const bundle = read<Bundle | null>("bundle", null);
  const runner = bundle?.runner ?? "";
  const link = localStorage.getItem("link") ?? "";
  const at = Date.now();
  const entries = read<(Omit<Entry, "n" | "runner" | "link"> & { runner?: string })[]>("outbox", []).map(
    (e, i): Entry => {
      const whose = e.runner ?? runner;
      return { ...e, runner: whose, link: whose === runner ? link : "", n: at + i };
    },
  );
  const names = Object.keys(localStorage).filter((k) => k === "morning" || k.startsWith("done "));
  const notes = new Map<string, unknown>(names.map((k) => [k, localStorage.getItem(k)]));
  for (const k of ["locked", "intake draft", "intake form"]) {
    const v = read<unknown>(k, null);
    if (v) notes.set(k, v);
  }
  return { link, runner, bundle: runner ? bundle : null, entries, notes, names: [...names, ...earlierNames] };
}
const earlierNames = ["link", "bundle", "outbox", "locked", "intake draft", "intake form"];
