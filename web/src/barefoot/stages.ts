import type { Schemas } from "../api/client";
import { day } from "../ui/day";

export type View = Schemas["BareView"];
export type At = Schemas["BarefootAt"];
export type State = Schemas["BarefootState"];

/** The stages by their names, from 0 on. */
export const stages = ["at home", "walks", "strength", "bounces", "run–walk", "share"] as const;

export const stageName = (stage: number) => (stage < 0 ? "none" : `${stage} ${stages[Math.min(stage, 5)]}`);

/** How far along the stages a place is: 2.5 is halfway through stage 2. */
export function along(at: At, cap: number, ladder: View["ladder"]): number {
  if (at.stage < 0) return 0;
  const of = ladder[at.stage]?.length;
  if (of) return at.stage + (at.step + 0.5) / of;
  return at.stage === 4 ? 4.5 : 5 + Math.min(1, (at.minutes ?? 0) / Math.max(1, cap));
}

export const outcomes = {
  pass: { shape: "●", word: "pass", tone: "text-tide" },
  borderline: { shape: "◐", word: "borderline", tone: "text-ochre" },
  fail: { shape: "◣", word: "fail", tone: "text-brick" },
  unknown: { shape: "○", word: "unknown", tone: "text-ochre" },
} as const;

export const surfaces = ["floor", "track", "pavement", "grass", "sand", "trail"] as const;

/** A day that may lie more than half a year ahead: with its year where it is another. */
export const far = (d: string) =>
  d.slice(0, 4) === String(new Date().getFullYear()) ? day(d) : `${day(d)} ${d.slice(0, 4)}`;

/** What is looked at again on bare feet. */
export const bareMeasures = "sound, cadence and strike";
