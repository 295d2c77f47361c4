import { useEffect, useRef, useState } from "react";
import { Button } from "../ui/Button";
import { Faults, Wrong, type Entry } from "./entry";
import { tone } from "./metronome";
import { fixed, parse } from "../ui/number";

type State = { at: "idle" } | { at: "in"; n: number } | { at: "running"; since: number };

/** A hold: space or touch starts it after a count-in of three, and stops it; it ends itself at the cap. */
export function Stopwatch({ measure, side, mine, save }: Entry) {
  const [state, setState] = useState<State>({ at: "idle" });
  const [now, setNow] = useState(0);
  const [text, setText] = useState("");
  const [parts, setParts] = useState<string[]>(() => measure.parts.map(() => ""));
  const [faults, setFaults] = useState<string[]>([]);
  const [wrong, setWrong] = useState("");
  const box = useRef<HTMLInputElement>(null);
  const most = measure.cap || measure.max;
  useEffect(() => {
    if (state.at === "in") {
      tone(660);
      const t = setTimeout(
        () => setState(state.n > 1 ? { at: "in", n: state.n - 1 } : { at: "running", since: performance.now() }),
        1000,
      );
      return () => clearTimeout(t);
    }
    if (state.at === "running") {
      tone(990);
      const t = setInterval(() => {
        const s = (performance.now() - state.since) / 1000;
        setNow(s);
        if (s >= most) {
          tone(440);
          setText(String(most));
          setState({ at: "idle" });
        }
      }, 50);
      return () => clearInterval(t);
    }
  }, [state, most]);
  function press() {
    if (state.at === "idle") {
      setNow(0);
      setText("");
      setState({ at: "in", n: 3 });
    } else if (state.at === "in") setState({ at: "idle" });
    else {
      setText(fixed(Math.min(most, (performance.now() - state.since) / 1000), 1));
      setState({ at: "idle" });
      box.current?.focus();
    }
  }
  function keep() {
    const value = parse(text);
    const extra = parts.map((p) => parse(p));
    if (value === null) return setWrong(`“${text}” is not a time; enter 0 to ${most} s.`);
    if (extra.some((x) => x === null)) return setWrong(`Enter ${measure.parts.map((p) => p.name).join(", ")} too.`);
    setWrong("");
    setText("");
    setFaults([]);
    save({ value, parts: extra.flatMap((n) => n ?? []), faults });
  }
  return (
    <>
      <div className="mt-2 flex flex-wrap items-stretch gap-2">
        <button
          type="button"
          aria-label={`${state.at === "idle" ? "Start" : "Stop"} the stopwatch, ${measure.name}, ${side}`}
          data-instrument={state.at === "idle" ? "waiting" : "running"}
          onClick={press}
          className={`fig min-h-20 min-w-32 flex-1 rounded-sq border px-2 text-3xl font-semibold ${state.at === "idle" ? "border-cinder bg-cinder text-on-cinder" : "border-tide bg-tide text-panel"}`}
        >
          {state.at === "in" ? state.n : state.at === "running" ? fixed(now, 1) : "Start"}
        </button>
        <label className="flex items-center gap-2">
          <input
            ref={box}
            aria-label={`${measure.name}, ${side}, trial ${mine.length + 1}`}
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => e.key === "Enter" && (e.preventDefault(), void keep())}
            inputMode="decimal"
            placeholder={
              measure.trials > 1 && mine.length < measure.trials ? `${mine.length + 1}/${measure.trials}` : ""
            }
            className="fig min-h-12 w-20 rounded-sq border border-ink bg-ground px-2 text-center text-2xl"
          />
          s
        </label>
        <Button kind={text ? "main" : "plain"} onClick={keep} size="tight" className="self-center">
          Keep
        </Button>
      </div>
      <p className="mt-1 text-sm text-quiet">
        Space or a tap starts after 3 … 2 … 1, and stops. Ends itself at {most} s.
      </p>
      {measure.parts.map((p, i) => (
        <label key={p.name} className="mt-1 flex items-center gap-2">
          {p.name}
          <input
            aria-label={`${measure.name}, ${p.name}`}
            value={parts[i]}
            inputMode="decimal"
            onChange={(e) => setParts(parts.map((x, j) => (j === i ? e.target.value : x)))}
            className="fig min-h-11 w-20 rounded-sq border border-line bg-ground px-2"
          />
          {p.unit}
        </label>
      ))}
      <Wrong text={wrong} />
      <Faults measure={measure} on={faults} onChange={setFaults} />
    </>
  );
}
