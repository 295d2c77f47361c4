import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { Button, Chip } from "../ui/basics";
import { Why } from "../ui/reason";
import { metronome } from "./metronome";
import type { Save } from "./Screen";
import { Skip } from "./Trials";

/** Counts raises with a beat every two seconds: space or a tap counts, a stop reason ends and keeps. */
export function Counter({
  measure,
  side,
  trials,
  ceiling,
  why,
  save,
  remove,
}: {
  measure: Schemas["ScreenMeasure"];
  side: "left" | "right";
  trials: Schemas["ScreenTrial"][];
  ceiling: number;
  why: Schemas["Reason"];
  save: Save;
  remove: (id: string) => void;
}) {
  const mine = trials.filter((t) => t.measure === measure.id && t.side === side);
  const [count, setCount] = useState("0");
  const [running, setRunning] = useState(false);
  const [beat, setBeat] = useState(-1);
  const [faults, setFaults] = useState<string[]>([]);
  const [wrong, setWrong] = useState("");
  const halt = useRef<(() => void) | null>(null);
  const box = useRef<HTMLButtonElement>(null);
  const stop = () => {
    halt.current?.();
    halt.current = null;
    setRunning(false);
  };
  useEffect(() => () => halt.current?.(), []);
  function start() {
    setCount("0");
    setRunning(true);
    setBeat(-1);
    halt.current = metronome(2, setBeat);
    box.current?.focus();
  }
  function one() {
    if (!running) return;
    const n = Number(count) + 1;
    setCount(String(n));
    if (ceiling && n >= ceiling) stop();
  }
  async function end(reason: string) {
    stop();
    const value = Number(count);
    if (count.trim() === "" || !Number.isFinite(value)) {
      setWrong(`“${count}” is not a number; enter ${measure.min} to ${measure.max}.`);
      return;
    }
    setWrong("");
    if (await save({ measure: measure.id, side, value, faults, stop: reason })) {
      setCount("0");
      setFaults([]);
    }
  }
  const reached = ceiling > 0 && Number(count) >= ceiling;
  return (
    <div className="border border-line bg-panel p-4">
      <div className="flex items-baseline justify-between">
        <h3 className="text-xl capitalize">{side}</h3>
        {ceiling > 0 && (
          <Why reason={why} title="Why the raises stop early">
            stop at {ceiling}
          </Why>
        )}
      </div>
      {mine.map((t) => (
        <p key={t.id} className="mt-2 flex items-center justify-between border border-ink pl-3">
          {t.skipped ? (
            <span>left out: {t.skipped}</span>
          ) : (
            <span>
              <span className="fig text-2xl">{t.value}</span> · {measure.stops.find((s) => s.id === t.stop)?.name}
            </span>
          )}
          <button
            type="button"
            aria-label={`Remove ${t.value} raises, ${side}`}
            onClick={() => remove(t.id)}
            className="min-h-11 min-w-11 border-l border-line text-quiet"
          >
            ✕
          </button>
        </p>
      ))}
      {mine.length < measure.maxTrials && (
        <>
          <div className="mt-3 flex items-center gap-3">
            <input
              aria-label={`${measure.name}, ${side}, count`}
              value={count}
              onChange={(e) => setCount(e.target.value)}
              inputMode="numeric"
              className="fig min-h-20 w-28 rounded-sq border border-ink bg-ground text-center text-5xl"
            />
            <button
              ref={box}
              type="button"
              onClick={running ? one : start}
              className={`min-h-20 flex-1 rounded-sq border text-xl font-semibold ${running ? "border-tide bg-tide text-panel" : "border-cinder bg-cinder text-on-cinder"}`}
            >
              {running ? "Raise (space)" : "Start the beat"}
            </button>
          </div>
          <p className="mt-1 flex min-h-6 items-center gap-2 text-sm text-quiet">
            {running ? (
              <>
                <span aria-hidden className={`inline-block size-4 ${beat % 2 ? "bg-cinder" : "bg-tide"}`} />
                one raise every 2 s · beat {beat + 1}
              </>
            ) : reached ? (
              <strong className="text-ochre">
                Stop here: {ceiling} is the ceiling today. Keep it as stopped at the ceiling.
              </strong>
            ) : (
              "One raise every 2 s. Start, then space or a tap for each raise; or type the count."
            )}
          </p>
          {wrong && (
            <p role="alert" className="text-brick">
              {wrong}
            </p>
          )}
          <p className="mt-2 text-sm font-medium">It ended because:</p>
          <div className="mt-1 flex flex-wrap gap-1.5">
            {measure.stops.map((s) => (
              <Button
                key={s.id}
                onClick={() => end(s.id)}
                className={`px-2.5! text-[0.95rem] ${s.id === "ceiling" && reached ? "border-2 border-cinder!" : ""}`}
              >
                {s.name}
              </Button>
            ))}
          </div>
          <div className="mt-3 flex flex-wrap gap-2">
            {measure.faults.map((f) => (
              <Chip
                key={f.id}
                on={faults.includes(f.id)}
                onChange={(on) => setFaults(on ? [...faults, f.id] : faults.filter((x) => x !== f.id))}
              >
                {f.name}
              </Chip>
            ))}
          </div>
          {mine.length === 0 && (
            <Skip onSkip={(skipped) => save({ measure: measure.id, side, value: 0, stop: "pain", skipped })} />
          )}
        </>
      )}
    </div>
  );
}
