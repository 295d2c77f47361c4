import type { Report } from "../kept";
import { doseOf, perDay, sets, type Item } from "../session";
import type { Did, Part, Play } from "./play";

type Leg = "left" | "right";

/** What is asked once, at the end of a session. What is not answered is unknown: nothing is filled in for it. */
export interface Answers {
  pain: Record<Leg, number | null>;
  which: Record<Leg, string[]>; // exercises that hurt; none: not said, so it counts for all
  effort: number | null;
  odd: boolean | null;
  faults: Record<string, string[]>; // form that slipped, by exercise
}

export const nothing = (): Answers => ({
  pain: { left: null, right: null },
  which: { left: [], right: [] },
  effort: null,
  odd: null,
  faults: {},
});

export const legs: readonly Leg[] = ["left", "right"];
/** A side was tried: a set of none is told as such. */
const tried = (s: Part) => s.done.length > 0 || s.cramp > 0;

/** The exercises that pain may be of on a leg: done, not release work, and not told already. */
export function hurtable(p: Play, leg: Leg): Item[] {
  return p.done
    .filter((d) => !d.item.release)
    .filter((d) => d.sides.some((s, i) => tried(s) && !s.told && of(d, i, leg)))
    .map((d) => d.item);
}

/** Whether a side of what was done is of a leg. What is done on no leg, as work of the trunk, counts for both. */
const of = (d: Did, i: number, leg: Leg) => {
  const legs = d.item.sides[i]?.legs ?? [];
  return legs.includes(leg) || legs.includes("both");
};

/** The legs that are asked about. */
export const asked = (p: Play) => legs.filter((leg) => hurtable(p, leg).length > 0);

/** The pain of an exercise on one leg, as it was answered: −1 unknown. Until it is said which exercise it was, it counts for
 * all of them. */
function painOf(a: Answers, leg: Leg, exercise: string): number {
  const pain = a.pain[leg];
  if (pain === null) return -1;
  return a.which[leg].length === 0 || a.which[leg].includes(exercise) ? pain : 0;
}

/** What keeps it from being kept, in words; empty when nothing does. Nothing answered at all may be kept, one leg of two may not:
 * what both did would be known by half. */
export function missing(p: Play, a: Answers): string {
  const all = asked(p);
  const open = all.filter((leg) => a.pain[leg] === null);
  return open.length > 0 && open.length < all.length
    ? `Tap the pain of the ${open.join(" and ")} side too, 0 for none.`
    : "";
}

/** What was left open, in words; empty when nothing was. */
export function open(p: Play, a: Answers): string {
  const out = [];
  if (asked(p).some((leg) => a.pain[leg] === null)) out.push("pain");
  if (a.effort === null && p.done.some((d) => d.sides.some((s) => tried(s) && !s.told))) out.push("effort");
  return out.join(" and ");
}

/** The most that hurt. */
export const worst = (p: Play, a: Answers) => Math.max(0, ...asked(p).map((leg) => a.pain[leg] ?? 0));

/** The reports of one exercise on one side: one for each prescription, with what was shown. */
export function report(
  d: Did,
  i: number,
  today: string,
  pain: (leg: Leg | "both") => number,
  effort: number | null,
  faults: string[],
): Report[] {
  const s = d.item.sides[i];
  const part = d.sides[i];
  if (!s || !part) return [];
  const dose = doseOf(s, d.short);
  return s.prescriptions.map((prescription, k): Report => ({
    kind: "logs",
    label: d.item.exercise.name,
    body: {
      prescription,
      on: today,
      done: sets({ done: part.done.map(String), pain: null, cramp: "" }, dose.sets).map(Number),
      rpe: effort ?? -1,
      pain: d.item.release ? (part.discomfort ?? -1) : pain(s.legs[k] ?? "both"),
      crampAt: part.cramp,
      faults,
      ...(perDay(d.item) > 1 ? { times: 1 } : {}),
      ...(d.short ? { short: true } : {}),
      shown: { exercise: d.item.exercise.id, dose: (d.short && s.exactShort) || s.exact },
    },
  }));
}

/** The reports of all that was done and not told yet. */
export function reports(p: Play, a: Answers): Report[] {
  return p.done.flatMap((d) =>
    d.sides.flatMap((s, i) => {
      if (s.told || !tried(s)) return [];
      const id = d.item.exercise.id;
      const pain = (leg: Leg | "both") =>
        leg === "both" ? Math.max(painOf(a, "left", id), painOf(a, "right", id)) : painOf(a, leg, id);
      return report(d, i, p.on, pain, a.effort, a.faults[id] ?? []);
    }),
  );
}

/** What the session left out, and why, as the coach reads it. */
export function leftOut(p: Play): Report[] {
  const skipped = p.done.filter((d) => d.skipped).map((d) => ({ exercise: d.item.exercise.id, why: d.skipped }));
  return skipped.length ? [{ kind: "notes", body: { on: p.on, skipped }, label: "Session" }] : [];
}
