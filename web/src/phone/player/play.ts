import { length, reached } from "./course";
import { doseOf, sideName, type Item, type Side } from "../session";

/** What of a session has been done on this phone, and what is in hand. It is kept at every step: a dead battery loses nothing. */
export interface Play {
  on: string;
  slot: string; // part of the day it is
  short: boolean;
  item: Item | null; // in hand, as it was begun
  turn: number; // of the turns of the item
  phase: "ready" | "lead" | "work" | "paused" | "break" | "rest" | "ask" | "end";
  since: number; // when the phase began, ms by this phone's clock
  before: number; // ms of the set that were done before a pause
  halves: boolean; // holds are gathered in two halves
  sides: Part[]; // of the item in hand
  done: Did[];
}

/** What was done on one side. */
export interface Part {
  done: number[]; // of each set
  cramp: number; // repetition or second it came at; 0 none
  discomfort: number | null; // of release work
  told: boolean; // its report is on its way already
}

export interface Did {
  item: Item;
  sides: Part[];
  short: boolean;
  skipped: string; // why it was left out; empty where it was done
}

/** A set of one side, with the rest before it. */
export interface Turn {
  side: number;
  set: number;
  rest: number; // seconds
  other: boolean; // the side changes here
}

export const leadMs = 3000;
export const breakMs = 8000;
const changeS = 6; // to change sides

const courseOf = (s: Side, short: boolean) => (short && s.shortCourse) || s.course;

/** The sets in order: each side's first, then each side's second. What one leg works the other rests. */
export function turns(item: Item, short: boolean): Turn[] {
  const out: Turn[] = [];
  const most = Math.max(...item.sides.map((s) => courseOf(s, short).sets));
  for (let set = 0; set < most; set++)
    item.sides.forEach((s, side) => {
      const c = courseOf(s, short);
      if (set >= c.sets) return;
      const last = out.at(-1);
      if (!last) return void out.push({ side, set, rest: 0, other: false });
      const other = last.side !== side;
      let passed = 0; // since this side worked last
      for (let i = out.length - 1; i >= 0 && out[i]?.side !== side; i--) {
        const t = out[i] as Turn;
        passed += t.rest + length(courseOf(item.sides[t.side] as Side, short));
      }
      const worked = out.some((t) => t.side === side);
      const rest = worked ? Math.max(0, (c.restS ?? 0) - passed) : 0;
      out.push({ side, set, rest: Math.max(rest, other ? changeS : c.part === "spot" ? 5 : 3), other });
    });
  return out;
}

/** The set that is in hand or comes next. */
export function now(p: Play) {
  const all = p.item ? turns(p.item, p.short) : [];
  const turn = all[p.turn];
  const side = turn && p.item?.sides[turn.side];
  return turn && side
    ? {
        all,
        turn,
        side,
        course: courseOf(side, p.short),
        dose: doseOf(side, p.short),
        name: sideName(p.item as Item, side),
      }
    : null;
}

export const begin = (on: string, slot: string, short: boolean): Play => ({
  on,
  slot,
  short,
  item: null,
  turn: 0,
  phase: "ready",
  since: 0,
  before: 0,
  halves: false,
  sides: [],
  done: [],
});

/** What is played of a part of the day: what is not done yet, in the short version what stands in it. */
export const played = (items: readonly Item[], slot: string, short: boolean) =>
  items.filter((i) => i.slot === slot && !i.done && (!short || i.sides.some((s) => s.short)));

/** Takes up the next exercise, as the session is now: what was told meanwhile may have changed what is still to come. */
export function next(p: Play, items: readonly Item[], t: number): Play {
  const item = played(items, p.slot, p.short).find((i) => !p.done.some((d) => d.item.exercise.id === i.exercise.id));
  if (!item) return { ...p, item: null, phase: "end", since: t };
  const sides = p.short ? item.sides.filter((s) => s.short) : item.sides;
  const kept = { ...item, sides };
  return {
    ...p,
    item: kept,
    turn: 0,
    phase: "ready",
    since: t,
    before: 0,
    sides: sides.map(() => ({ done: [], cramp: 0, discomfort: null, told: false })),
  };
}

/** The work of the set in hand so far, seconds. */
export const worked = (p: Play, t: number) => (p.phase === "work" ? p.before + t - p.since : p.before) / 1000;

export const start = (p: Play, t: number): Play => ({ ...p, phase: "lead", since: t });
export const pause = (p: Play, t: number): Play =>
  p.phase === "work"
    ? { ...p, phase: "paused", before: p.before + t - p.since, since: t }
    : p.phase === "lead"
      ? { ...p, phase: p.before > 0 ? "paused" : "ready", since: t }
      : p;

/** The phase that the clock has come to. Time runs on while nobody looks; a new set begins only before somebody's eyes. */
export function tick(p: Play, items: readonly Item[], t: number, seen: boolean): Play {
  const n = now(p);
  if (!n) return p;
  switch (p.phase) {
    case "lead":
      return t - p.since < leadMs ? p : tick({ ...p, phase: "work", since: p.since + leadMs }, items, t, seen);
    case "work": {
      const all = length(n.course) * 1000;
      const half = all / 2;
      if (p.halves && n.course.breaks && p.before < half && p.before + t - p.since >= half)
        return tick({ ...p, phase: "break", since: p.since + half - p.before, before: half }, items, t, seen);
      if (p.before + t - p.since < all) return p;
      return tick(ended(p, n.dose.amount, items, p.since + all - p.before), items, t, seen);
    }
    case "break":
      return t - p.since < breakMs || !seen ? p : { ...p, phase: "lead", since: t };
    case "rest":
      return t - p.since < n.turn.rest * 1000 || !seen ? p : { ...p, phase: "lead", since: t };
  }
  return p;
}

function record(p: Play, amount: number): Part[] {
  const n = now(p);
  return p.sides.map((s, i) => {
    if (!n || i !== n.turn.side) return s;
    const done = [...s.done];
    for (let k = 0; k < n.turn.set; k++) done[k] ??= 0;
    done[n.turn.set] = amount;
    return { ...s, done };
  });
}

/** The set in hand ended at an amount: the rest before the next one, or what comes after the exercise. */
export function ended(p: Play, amount: number, items: readonly Item[], t: number): Play {
  return onwards({ ...p, sides: record(p, amount) }, p.turn + 1, items, t);
}

function onwards(p: Play, from: number, items: readonly Item[], t: number): Play {
  const all = p.item ? turns(p.item, p.short) : [];
  const turn = all.findIndex((x, i) => i >= from && !p.sides[x.side]?.cramp && !p.sides[x.side]?.told);
  if (turn >= 0) return { ...p, turn, phase: "rest", since: t, before: 0 };
  if (p.item?.release && p.sides.some((s) => s.discomfort === null && s.done.some((d) => d > 0)))
    return { ...p, phase: "ask", since: t, before: 0 };
  return over(p, items, t);
}

/** The exercise in hand is over. */
export function over(p: Play, items: readonly Item[], t: number, skipped = ""): Play {
  if (!p.item) return p;
  const did: Did = { item: p.item, sides: p.sides, short: p.short, skipped };
  return next({ ...p, done: [...p.done, did] }, items, t);
}

/** The set is stopped where it is: what was reached counts. */
export const stopped = (p: Play, items: readonly Item[], t: number): Play => ended(p, reachedBy(p, t), items, t);

export function reachedBy(p: Play, t: number): number {
  const n = now(p);
  return n && (p.phase === "work" || p.phase === "paused" || p.phase === "break")
    ? reached(n.course, n.dose.amount, worked(p, t))
    : 0;
}

/** A cramp ends the side's sets for today, at what was reached; one that comes in a rest is of the set before it. */
export function cramped(p: Play, items: readonly Item[], t: number): Play {
  const n = now(p);
  const before = p.phase === "rest" ? n?.all[p.turn - 1] : undefined;
  const of = before ?? n?.turn;
  if (!of) return p;
  const at = Math.max(1, before ? (p.sides[of.side]?.done[of.set] ?? 0) : reachedBy(p, t));
  const sides = (before ? p.sides : record(p, at)).map((s, i) => (i === of.side ? { ...s, cramp: at } : s));
  return onwards({ ...p, sides }, before ? p.turn : p.turn + 1, items, t);
}

/** It was too much: what was reached is filled in, and the set stands until it is said why. */
export const tooMuch = (p: Play, t: number): Play => ({
  ...p,
  sides: p.phase === "ready" || p.phase === "rest" ? p.sides : record(p, reachedBy(p, t)),
  phase: "paused",
  before: 0,
  since: t,
});

/** It hurt so much, or pressed so hard in release work: the side in hand is told by itself, and is over for today; above the
 * limit of the exercise so is the other side. */
export function hurts(p: Play, pain: number, items: readonly Item[], t: number) {
  const n = now(p);
  if (!n || !p.item) return null;
  const part = { told: true, ...(p.item.release ? { discomfort: pain } : {}) };
  const sides = p.sides.map((s, i) => (i === n.turn.side ? { ...s, ...part } : s));
  const did: Did = { item: p.item, sides, short: p.short, skipped: "" };
  const then = pain > p.item.ends ? over({ ...p, sides }, items, t) : sideOver(p, part, items, t);
  return { did, side: n.turn.side, then };
}

/** The side in hand is over for today; the other one goes on. */
export function sideOver(p: Play, part: Partial<Part>, items: readonly Item[], t: number): Play {
  const n = now(p);
  if (!n) return p;
  const sides = p.sides.map((s, i) => (i === n.turn.side ? { ...s, ...part } : s));
  const rest = n.all.findIndex((x, i) => i > p.turn && x.side !== n.turn.side);
  return onwards({ ...p, sides }, rest < 0 ? n.all.length : rest, items, t);
}

/** One set back, to be done again. */
export function back(p: Play, t: number): Play {
  if (p.item && p.turn > 0 && p.before === 0 && p.phase !== "work")
    return { ...p, turn: p.turn - 1, phase: "ready", since: t };
  if (p.item && (p.phase !== "ready" || p.before > 0)) return { ...p, phase: "ready", before: 0, since: t };
  const last = p.done.at(-1);
  if (!last || last.sides.some((s) => s.told)) return p;
  const before = { ...p, item: last.item, sides: last.sides, short: last.short, done: p.done.slice(0, -1) };
  return { ...before, turn: turns(last.item, last.short).length - 1, phase: "ready", before: 0, since: t };
}

/** A session that was left: what was in hand is over as far as it came, and the questions are still to be answered. */
export function leftBehind(p: Play): Play {
  const some = p.item && p.sides.some((s) => s.done.length > 0);
  const did = some && p.item ? [{ item: p.item, sides: p.sides, short: p.short, skipped: "" }] : [];
  return { ...p, item: null, phase: "end", done: [...p.done, ...did] };
}
