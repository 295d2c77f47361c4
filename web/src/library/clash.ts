import type { Schemas } from "../api/client";
import type { CatalogRail } from "./Library";

type Exercise = Schemas["CatalogExercise"];

/** What two coaches changed of one rail, an entry of it each; an exercise is one entry. */
export interface Entry {
  key: string;
  name: string;
  mine: string;
  theirs: string;
  take: (r: CatalogRail) => CatalogRail; // theirs
}

const names: Partial<Record<keyof CatalogRail, string>> = {
  name: "Name",
  short: "Short name",
  part: "Part of the session",
  class: "Moves like",
  perWeek: "Sessions a week",
  gapDays: "Free days between",
  restS: "Rest between sets, s",
  trains: "Trains",
  when: "May stand",
  regions: "Places that concern it",
  faults: "Faults",
  stopWhen: "Stop signs",
  retired: "Retired",
};
const said = (v: CatalogRail[keyof CatalogRail]): string => {
  if (Array.isArray(v)) return v.map((x) => (typeof x === "string" ? x : "")).join(", ") || "none";
  if (typeof v === "boolean") return v ? "yes" : "no";
  return typeof v === "string" || typeof v === "number" ? String(v) || "nothing" : "nothing";
};
const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);
const of = (r: CatalogRail, id: string) => r.exercises.find((e) => e.id === id);
const exercise = (e?: Exercise) => (e ? `${e.name}: ${e.doses.join("; ")}` : "not there");

/** Lays what somebody else kept beside what was typed since `start`: what only they changed stands, what only was typed
 * here stays, and what both changed is asked. */
export function laid(start: CatalogRail, mine: CatalogRail, theirs: CatalogRail): { rail: CatalogRail; both: Entry[] } {
  let rail = mine;
  const both: Entry[] = [];
  const entry = (
    key: string,
    name: string,
    get: (r: CatalogRail) => unknown,
    show: (r: CatalogRail) => string,
    take: Entry["take"],
  ) => {
    if (same(get(theirs), get(start)) || same(get(theirs), get(mine))) return;
    if (same(get(mine), get(start))) rail = take(rail);
    else both.push({ key, name, mine: show(mine), theirs: show(theirs), take });
  };
  for (const [key, name] of Object.entries(names) as [keyof CatalogRail, string][])
    entry(
      key,
      name,
      (r) => r[key],
      (r) => said(r[key]),
      (r) => ({ ...r, [key]: theirs[key] }),
    );
  const ids = new Set([start, mine, theirs].flatMap((r) => r.exercises.map((e) => e.id)));
  for (const id of ids)
    entry(
      id,
      (of(mine, id) ?? of(theirs, id))?.name ?? id,
      (r) => of(r, id),
      (r) => exercise(of(r, id)),
      (r) => {
        const there = of(theirs, id);
        if (!there) return { ...r, exercises: r.exercises.filter((e) => e.id !== id) };
        if (!of(r, id)) return { ...r, exercises: [...r.exercises, there] };
        return { ...r, exercises: r.exercises.map((e) => (e.id === id ? there : e)) };
      },
    );
  return { rail, both };
}
