import type { Schemas } from "../../api/client";
import type { Bundle } from "../kept";

export type Offer = Schemas["SelfcheckOffer"];
export type Try = Schemas["SelfcheckTry"];
export type Stretch = Schemas["SelfcheckStretch"];

/** A self-check in hand. It is kept at every step. */
export interface Checking {
  on: string;
  at: number; // of the steps; -1 before the first
  tries: Try[];
  motion: Stretch[];
}

/** One thing asked on one side. */
export interface Step {
  offer: Offer;
  side: Schemas["SelfcheckSide"];
}

export const begin = (on: string): Checking => ({ on, at: -1, tries: [], motion: [] });

/** What is asked, in order; what may not be done is not. */
export const steps = (check: NonNullable<Bundle["check"]>): Step[] =>
  check.items.flatMap((offer) => offer.sides.filter((s) => s.may).map((side) => ({ offer, side })));

/** What may not be done today, and why. */
export const barred = (check: NonNullable<Bundle["check"]>): { name: string; why: string }[] =>
  check.items.flatMap((offer) => {
    const shut = offer.sides.filter((s) => !s.may);
    const one = shut.length < offer.sides.length || new Set(shut.map((s) => s.why)).size > 1;
    return (one ? shut : shut.slice(0, 1)).map((s) => ({
      name: offer.name + (one ? `, ${s.side}` : ""),
      why: s.why,
    }));
  });

/** A step that asks for another one first, where that did not come to enough. */
const waits = (c: Checking, s: Step) =>
  !!s.offer.after &&
  !c.tries.some(
    (t) =>
      t.item === s.offer.after && t.side === s.side.side && !t.skipped && !t.hand && t.value >= (s.offer.atLeast ?? 0),
  );

/** The next step from here on; past the last one the check is at its end. */
export function onwards(c: Checking, all: Step[]): Checking {
  let at = c.at + 1;
  const tries = [...c.tries];
  for (; at < all.length; at++) {
    const s = all[at] as Step;
    if (!waits(c, s)) break;
    tries.push({ item: s.offer.id, side: s.side.side, value: 0, skipped: "eyes open was not steady enough" });
  }
  return { ...c, at, tries };
}

/** The step in hand is answered. */
export const answer = (c: Checking, all: Step[], tries: Try[], motion?: Stretch[]): Checking =>
  onwards({ ...c, tries: [...c.tries, ...tries], ...(motion ? { motion } : {}) }, all);

/** One step back: what was answered there is asked again. */
export function back(c: Checking, all: Step[]): Checking {
  for (let at = Math.min(c.at, all.length) - 1; at >= 0; at--) {
    const s = all[at] as Step;
    const mine = (t: Try) => t.item === s.offer.id && t.side === s.side.side;
    const ours = c.tries.filter(mine);
    const rest = {
      ...c,
      at,
      tries: c.tries.filter((t) => !mine(t)),
      ...(s.offer.id === "cadence" ? { motion: [] } : {}),
    };
    if (ours.some((t) => !t.skipped) || (s.offer.id === "cadence" && c.motion.length > 0) || !waits(rest, s))
      return rest;
    c = rest;
  }
  return { ...c, at: -1 };
}

/** The highest pain of the walks. */
export const worst = (c: Checking) =>
  Math.max(0, ...c.tries.filter((t) => t.item === "heels" || t.item === "toes").map((t) => t.value));

/** Something was told, and has to reach the coach. */
export const told = (c: Checking) => c.motion.length > 0 || c.tries.some((t) => !t.skipped);

/** Footfalls of taps in the 15 s from the first one, which is zero. */
export const footfalls = (taps: number[]) =>
  taps.filter((t) => t > (taps[0] ?? 0) && t - (taps[0] ?? 0) <= 15_000).length;
