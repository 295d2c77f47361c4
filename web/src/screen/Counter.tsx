import { useEffect, useRef, useState } from "react";
import { Button } from "../ui/Button";
import { Why } from "../ui/reason";
import { Faults, Wrong, type Entry } from "./entry";
import { metronome } from "./metronome";
import { parse, parseCount } from "../ui/number";

/** Counts to a beat: space or a tap counts, a stop reason ends and keeps. */
export function Counter({ measure, side, view, save }: Entry) {
  const ceiling = view.ceiling;
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
    halt.current = metronome(measure.beat || 2, setBeat);
    box.current?.focus();
  }
  function one() {
    const n = (parseCount(count) ?? 0) + 1;
    setCount(String(n));
    if (ceiling && n >= ceiling) stop();
  }
  function end(reason: string) {
    stop();
    const value = parse(count);
    if (value === null) return setWrong(`“${count}” is not a number; enter ${measure.min} to ${measure.max}.`);
    setWrong("");
    save({ value, faults, stop: reason });
    setCount("0");
    setFaults([]);
  }
  const reached = ceiling > 0 && (parseCount(count) ?? 0) >= ceiling;
  return (
    <>
      {ceiling > 0 && (
        <p className="mt-1 text-right">
          <Why reason={view.ceilingWhy} title="Why the raises stop early">
            stop at {ceiling}
          </Why>
        </p>
      )}
      <div className="mt-2 flex items-center gap-3">
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
          data-instrument={running ? "running" : "waiting"}
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
            one raise every {measure.beat || 2} s · beat {beat + 1}
          </>
        ) : reached ? (
          <strong className="text-ochre">
            Stop here: {ceiling} is the ceiling today. Keep it as stopped at the ceiling.
          </strong>
        ) : (
          "Start, then space or a tap for each raise; or type the count."
        )}
      </p>
      <Wrong text={wrong} />
      <p className="mt-2 text-sm font-medium">It ended because:</p>
      <div className="mt-1 flex flex-wrap gap-1.5">
        {measure.stops.map((s) => (
          <Button
            key={s.id}
            onClick={() => end(s.id)}
            size="tight"
            className={`text-[0.95rem] ${s.id === "ceiling" && reached ? "shadow-[inset_0_0_0_2px_var(--cinder)]" : ""}`}
          >
            {s.name}
          </Button>
        ))}
      </div>
      <Faults measure={measure} on={faults} onChange={setFaults} />
    </>
  );
}
