import type { Schemas } from "../../api/client";

export type Course = Schemas["CatalogCourse"];
export type Beat = Schemas["CatalogBeat"];

/** Seconds of one time through the beats. */
export const once = (c: Course) => c.beats.reduce((s, b) => s + b.s, 0);

/** Seconds of a set. */
export const length = (c: Course) => once(c) * c.repeats;

/** Where a set stands after so many seconds of work. */
export interface Where {
  over: boolean;
  n: number; // times through the beats that are done
  k: number; // beat that is on
  beat: Beat;
  left: number; // seconds of this beat
  setLeft: number; // seconds of the set
  at: number; // of the movement or the effort, 0–100
}

export function where(c: Course, seconds: number): Where {
  const one = once(c);
  const all = one * c.repeats;
  const last = c.beats.length - 1;
  const end = c.beats[last] as Beat;
  const t = Math.max(0, seconds);
  if (t >= all - 1e-9) return { over: true, n: c.repeats, k: last, beat: end, left: 0, setLeft: 0, at: end.to };
  const n = Math.floor(t / one + 1e-9);
  let rest = t - n * one;
  let k = 0;
  while (k < last && rest >= (c.beats[k] as Beat).s - 1e-9) rest -= (c.beats[k++] as Beat).s;
  const beat = c.beats[k] as Beat;
  const from = k > 0 ? (c.beats[k - 1] as Beat).to : n > 0 ? end.to : 0;
  const share = Math.min(1, Math.max(0, rest / beat.s));
  const moved = c.beats.length === 1 ? (100 * t) / all : from + (beat.to - from) * share;
  return { over: false, n, k, beat, left: beat.s - rest, setLeft: all - t, at: moved };
}

/** So much of a set is done after so many seconds, in the unit of its dose: whole repetitions, paces or contacts; seconds;
 * of a round of press and lift the share of its seconds. */
export function reached(c: Course, amount: number, seconds: number): number {
  const w = where(c, seconds);
  if (w.over) return amount;
  if (c.part === "repetition" || c.part === "pace" || c.part === "contact") return Math.min(amount, w.n);
  if (c.part === "round") return Math.floor((amount * seconds) / length(c));
  return Math.min(amount, Math.floor(seconds + 1e-9));
}
