import type { Schemas } from "../../api/client";
import type { Bundle } from "../kept";

export type Offer = Schemas["SelfcheckOffer"];
export type Try = Schemas["SelfcheckTry"];
export type Stretch = Schemas["SelfcheckStretch"];

/** A self-check in hand. It is kept at every step; where it stands follows from what was answered. */
export interface Checking {
  on: string;
  begun: boolean;
  tries: Try[];
  motion: Stretch[];
}

/** One thing asked on one side. */
export interface Step {
  offer: Offer;
  side: Schemas["SelfcheckSide"];
}

export const begin = (on: string): Checking => ({ on, begun: false, tries: [], motion: [] });

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

const of = (s: Step) => (t: Try) => t.item === s.offer.id && t.side === s.side.side;
const answered = (c: Checking, s: Step) => c.tries.some(of(s)) || (s.offer.kind === "cadence" && c.motion.length > 0);

/** A step that asks for another one first, where that did not come to enough. */
const waits = (c: Checking, s: Step) =>
  !!s.offer.after &&
  !c.tries.some(
    (t) =>
      t.item === s.offer.after && t.side === s.side.side && !t.skipped && !t.hand && t.value >= (s.offer.atLeast ?? 0),
  );

/** The step to be answered; none where the check is at its end. */
export const next = (c: Checking, all: Step[]) => all.find((s) => !answered(c, s) && !waits(c, s));

/** A step is answered; answered again it is the later answer. */
export const answer = (c: Checking, s: Step, tries: Try[], motion?: Stretch[]): Checking => ({
  ...c,
  tries: [...c.tries.filter((t) => !of(s)(t)), ...tries],
  ...(motion ? { motion } : {}),
});

/** One step back: what was answered last is asked again. */
export function back(c: Checking, all: Step[]): Checking {
  const last = all.findLast((s) => answered(c, s));
  if (!last) return { ...c, begun: false };
  return answer(c, last, [], last.offer.kind === "cadence" ? [] : undefined);
}

/** The check as it is sent: what another step did not open is left out, with why. */
export const whole = (c: Checking, all: Step[]): Checking => ({
  ...c,
  tries: [
    ...c.tries,
    ...all
      .filter((s) => !answered(c, s) && waits(c, s))
      .filter((s) => c.tries.some((t) => t.item === s.offer.after && t.side === s.side.side))
      .map((s) => ({ item: s.offer.id, side: s.side.side, value: 0, skipped: "eyes open was not steady enough" })),
  ],
});

/** The highest pain of the walks: they alone say where something hurt. */
export const worst = (c: Checking) => Math.max(0, ...c.tries.filter((t) => t.where).map((t) => t.value));

/** Something was told, and has to reach the coach. */
export const told = (c: Checking) => c.motion.length > 0 || c.tries.some((t) => !t.skipped);

/** Footfalls of taps in the 15 s from the first one, which is zero. */
export const footfalls = (taps: number[]) =>
  taps.filter((t) => t > (taps[0] ?? 0) && t - (taps[0] ?? 0) <= 15_000).length;
