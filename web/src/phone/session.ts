import type { Schemas } from "../api/client";
import type { Report } from "./kept";
import { parseCount } from "../ui/number";

/** An exercise of today. Without signal the phone may have lowered it: `less` says why. */
export type Item = Schemas["PhoneItem"] & { less?: string };
export type Side = Schemas["PhoneSide"];

/** When on the day an exercise stands. */
export const slotWords: Record<Schemas["PhoneItem"]["slot"], string> = {
  before: "before the run",
  run: "inside the run",
  after: "after the run",
  own: "own time",
  evening: "this evening",
  habit: "with daily chores",
};

/** What was done on one side, as it is typed. */
export interface Told {
  done: string[]; // of each set
  pain: number | null;
  cramp: string;
}

/** What was done of one exercise, as it is typed. */
export interface Typed {
  told: Told[]; // a side each
  rpe: number | null;
  times: number;
  faults: string[];
  odd: boolean | null;
}

export const blank = (item: Item): Typed => ({
  told: item.sides.map(() => ({ done: [], pain: null, cramp: "" })),
  rpe: null,
  times: 1,
  faults: [],
  odd: null,
});

export const doseOf = (s: Side, short: boolean) => (short && s.short) || s.dose;
export const perDay = (item: Item) => Math.max(...item.sides.map((s) => s.dose.perDay));

export const sideName = (item: Item, s: Side) =>
  s.side !== "both" ? s.side : item.exercise.trainsLegs === "none" ? "once" : "both legs";

/** So much pain, or discomfort of release, that the exercise ends for the day. */
export const hurting = (item: Item, t: Typed) => t.told.some((x) => (x.pain ?? 0) > item.ends);

/** So much that the warning signs are asked. */
export const asks = (item: Item, t: Typed) => t.told.some((x) => (x.pain ?? 0) > item.asks);

/** The sets of a side: as many as its dose has, and none of those typed before the short version was chosen is lost. */
export function sets(t: Told, n: number): string[] {
  const last = t.done.findLastIndex((x) => x.trim() !== "");
  return Array.from({ length: Math.max(n, last + 1) }, (_, i) => t.done[i] ?? "");
}

const whole = (text: string, most: number) => (parseCount(text) ?? most + 1) <= most;

/** What keeps it from being kept, in words; empty when nothing does. */
export function missing(item: Item, t: Typed, most: number): string {
  const bad = t.told.flatMap((x) => x.done).find((n) => n.trim() !== "" && !whole(n, most));
  if (bad !== undefined) return `“${bad}”: a set is a whole number from 0 to ${most}.`;
  const cramp = t.told.map((x) => x.cramp).find((c) => c.trim() !== "" && !whole(c, most));
  if (cramp !== undefined) return `“${cramp}”: a cramp is counted from 0 to ${most}.`;
  if (t.told.every((x) => x.done.every((n) => n.trim() === ""))) return "Enter what you did, or tap “as planned”.";
  if (t.told.some((x) => x.pain === null))
    return item.release
      ? "Tap the discomfort, 0 for none, on each side."
      : "Tap the pain during it, 0 for none, on each side.";
  if (t.odd === null) return "One more: anything new or odd?";
  return "";
}

/** The logs of an exercise: one for each prescription of each side, with what was shown. */
export function logsOf(item: Item, t: Typed, today: string, short: boolean): Report[] {
  return item.sides.flatMap((s, i) => {
    const told = t.told[i];
    if (!told) return [];
    return s.prescriptions.map((prescription): Report => ({
      kind: "logs",
      label: item.exercise.name,
      body: {
        prescription,
        on: today,
        done: sets(told, doseOf(s, short).sets).map((n) => parseCount(n) ?? 0),
        rpe: t.rpe ?? -1,
        pain: told.pain,
        crampAt: parseCount(told.cramp) ?? 0,
        faults: t.faults,
        ...(perDay(item) > 1 ? { times: t.times } : {}),
        ...(short ? { short } : {}),
        // A page kept from an earlier release does not say it: then the server computes what was shown.
        ...(s.exact ? { shown: { exercise: item.exercise.id, dose: (short && s.exactShort) || s.exact } } : {}),
      },
    }));
  });
}
