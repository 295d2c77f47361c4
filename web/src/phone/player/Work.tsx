import { Figure } from "../../ui/Figure";
import { Stop } from "./Ready";
import type { Signals } from "./signals";
import { where, type Course } from "./course";
import { breakMs, leadMs, now, worked, type Play } from "./play";

/** A set while it is done: the count large, the word of the movement, and the notch that moves with it. */
export function Work({ play, t, by }: { play: Play; t: number; by: Signals }) {
  const n = now(play);
  if (!n || !play.item) return null;
  const w = where(n.course, worked(play, t));
  const sets = n.course.sets;
  const counted = n.course.part === "repetition" || n.course.part === "pace" || n.course.part === "contact";
  const resting = play.phase === "rest" || play.phase === "break";
  const rest = play.phase === "rest" ? n.turn.rest : breakMs / 1000;
  const left = Math.max(0, Math.ceil(rest - (t - play.since) / 1000));
  const big =
    play.phase === "lead"
      ? Math.max(1, Math.ceil((leadMs - (t - play.since)) / 1000))
      : resting
        ? left
        : counted
          ? w.n
          : n.course.limit
            ? Math.floor(worked(play, t))
            : Math.ceil(n.course.part === "round" ? w.left : w.setLeft);
  const word =
    play.phase === "lead"
      ? "ready"
      : play.phase === "paused"
        ? "paused"
        : play.phase === "break"
          ? "let go, then again"
          : play.phase === "rest"
            ? n.turn.other
              ? `other side: ${n.name}`
              : n.course.part === "spot"
                ? "next spot"
                : "rest"
            : w.beat.say;
  return (
    <div className="flex flex-1 flex-col">
      <h2 className="text-xl leading-tight">{play.item.exercise.name}</h2>
      <p className="text-lg">
        {n.name !== "once" && <strong className="capitalize">{n.name} · </strong>}
        {n.course.part === "spot" ? "spot" : "set"} {n.turn.set + 1} of {sets}
        {resting && !n.turn.other && " is next"}
      </p>
      {!resting && (
        <ul className="mt-1 hidden text-quiet [@media(min-height:640px)]:block">
          {play.item.exercise.cues.slice(0, 3).map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      )}
      {resting && n.turn.rest > 10 && (
        <Figure shapes={play.item.drawing} label={play.item.exercise.name} className="mx-auto w-24" />
      )}
      <div
        role="timer"
        data-worked={worked(play, t).toFixed(2)}
        aria-label={counted ? "Count" : "Seconds"}
        className={`my-auto py-1 text-center ${resting ? "text-tide" : play.phase === "paused" ? "text-quiet" : ""}`}
      >
        <p className="fig text-[clamp(5rem,26vh,10rem)] leading-none font-semibold">{big}</p>
        <p className="text-lg text-quiet">
          {resting
            ? "s"
            : counted
              ? `of ${n.dose.amount}${n.course.part === "repetition" ? "" : ` ${n.dose.unit}`}`
              : n.course.limit
                ? `s, to ${n.dose.amount} at most`
                : n.course.part === "round"
                  ? "s"
                  : `s of ${n.dose.amount}`}
        </p>
        <p className="mt-1 min-h-10 text-3xl leading-tight font-semibold first-letter:uppercase">{word}</p>
      </div>
      <Moving course={n.course} at={resting || play.phase === "lead" ? 0 : w.at} beat={w.k} still={by.still} />
      <Stop words={play.item.exercise.stopWhen} more={[]} />
      <p aria-live="polite" className="sr-only">
        {play.phase === "rest" && (n.turn.other ? `Other side: ${n.name}` : "Rest")}
        {play.phase === "paused" && "Paused"}
      </p>
    </div>
  );
}

const plain = globalThis.matchMedia?.("(prefers-reduced-motion: reduce)");

/** The rule: the notch stands where the movement, the effort or the time stands. Without motion it stands at the end of each beat. */
function Moving({ course, at, beat, still }: { course: Course; at: number; beat: number; still: boolean }) {
  const jump = still || plain?.matches;
  const one = course.beats.length === 1;
  const shown = jump ? (one ? Math.floor(at / 10) * 10 : (course.beats[beat]?.to ?? 0)) : at;
  const x = 8 + (shown / 100) * 284;
  return (
    <svg viewBox="0 0 300 44" aria-hidden className="w-full">
      <line x1={8} x2={292} y1={22} y2={22} stroke="var(--ink)" strokeWidth={2} />
      {Array.from({ length: 11 }, (_, i) => (
        <line
          key={i}
          x1={8 + i * 28.4}
          x2={8 + i * 28.4}
          y1={i % 5 ? 17 : 12}
          y2={22}
          stroke="var(--ink)"
          strokeWidth={i % 5 ? 1 : 2}
        />
      ))}
      <path d={`M${x} 23l-9 17h18z`} fill="var(--cinder)" />
    </svg>
  );
}
