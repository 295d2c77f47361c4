import { where } from "./course";
import { leadMs, now, worked, type Play } from "./play";
import type { Cue } from "./signals";

const long = [200, 80, 200];

/** What there is to be told at a moment; the same key is told once. */
export function cueOf(p: Play, t: number): (Cue & { key: string }) | null {
  const n = now(p);
  if (!n) return { key: p.phase, hz: 880, s: 0.5, buzz: long, words: p.phase === "end" ? "That was all" : "" };
  const id = `${p.done.length}.${p.turn}.${p.phase}`;
  switch (p.phase) {
    case "lead": {
      const left = Math.max(1, Math.ceil((leadMs - (t - p.since)) / 1000));
      return { key: `${id}.${left}`, hz: 520, s: 0.08, buzz: [40], words: String(left) };
    }
    case "work": {
      const w = where(n.course, worked(p, t));
      const many = n.course.beats.length > 1;
      if (n.course.part === "hold" || n.course.part === "stretch" || n.course.part === "spot") {
        const last = Math.ceil(w.setLeft);
        if (last <= 3) return { key: `${id}.${last}`, hz: 520, s: 0.08, buzz: [40], words: String(last) };
        const tens = Math.ceil(w.setLeft / 10);
        return { key: `${id}.t${tens}`, hz: 660, buzz: [30], words: `${tens * 10}` };
      }
      const up = w.beat.to >= w.at && w.k < n.course.beats.length - 1;
      const words = w.k === 0 && many && w.n > 0 ? String(w.n) : many && n.course.part === "round" ? w.beat.say : "";
      return {
        key: `${id}.${w.n}.${w.k}`,
        hz: !many || up ? 660 : 440,
        s: many ? 0.12 : 0.04,
        buzz: [many ? 40 : 15],
        words,
      };
    }
    case "rest":
      return {
        key: id,
        hz: 880,
        s: 0.3,
        buzz: long,
        words: n.turn.other ? `Other side: ${n.name}` : "Rest",
      };
    default:
      return { key: id, hz: 700, s: 0.2, buzz: [80], words: p.phase === "ready" ? (p.item?.exercise.name ?? "") : "" };
  }
}
