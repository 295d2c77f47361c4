import { useEffect, useRef, useState } from "react";
import { Button } from "../ui/Button";
import { Wrong, type Entry } from "./entry";
import { tone } from "./metronome";
import { fixed, parse } from "../ui/number";

type Mode = { is: "idle" } | { is: "count"; since: number; n: number } | { is: "tap"; times: number[] };

/** Footfalls in 15 s, the first counted as zero, or tapping along. Several counts make an interval. */
export function Cadence({ measure, mine, save }: Entry) {
  const [mode, setMode] = useState<Mode>({ is: "idle" });
  const [left, setLeft] = useState(15);
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState("");
  const keeping = useRef(save);
  useEffect(() => {
    keeping.current = save;
  });
  const since = mode.is === "count" ? mode.since : 0;
  const count = useRef(0);
  useEffect(() => {
    if (!since) return;
    const t = setInterval(() => {
      const rest = 15 - (performance.now() - since) / 1000;
      setLeft(Math.max(0, rest));
      if (rest <= 0) {
        tone(440);
        void keeping.current({ value: 0, parts: [count.current] });
        setMode({ is: "idle" });
      }
    }, 50);
    return () => clearInterval(t);
  }, [since]);
  function keep() {
    const n = parse(text);
    if (n === null) return setWrong(`“${text}” is not a count; enter the footfalls of 15 s.`);
    setWrong("");
    setText("");
    save({ value: 0, parts: [n] });
  }
  function stopTapping() {
    if (mode.is !== "tap") return;
    const times = mode.times;
    setMode({ is: "idle" });
    if (times.length < 8) return setWrong("Tap along for at least eight steps.");
    setWrong("");
    save({ value: 0, parts: times });
  }
  const big = "min-h-24 flex-1 rounded-sq border px-3 text-2xl font-semibold";
  return (
    <>
      {mode.is === "idle" && (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          <button
            type="button"
            data-instrument="waiting"
            className={`${big} border-cinder bg-cinder text-on-cinder`}
            onClick={() => {
              count.current = 0;
              setLeft(15);
              setMode({ is: "count", since: performance.now(), n: 0 });
            }}
          >
            Count 15 s{mine.length > 0 ? " again" : ""}
            <span className="block text-base font-normal">press on a footfall: it is zero</span>
          </button>
          <button
            type="button"
            className={`${big} border-ink bg-panel`}
            onClick={() => setMode({ is: "tap", times: [performance.now() / 1000] })}
          >
            Tap along
            <span className="block text-base font-normal">every footfall, eight or more</span>
          </button>
          <span className="flex items-center gap-2">
            <input
              aria-label="Footfalls counted in 15 s"
              value={text}
              inputMode="numeric"
              placeholder={`${mine.length + 1} of ${measure.trials}`}
              onChange={(e) => setText(e.target.value)}
              onKeyDown={(e) => e.key === "Enter" && (e.preventDefault(), void keep())}
              className="fig min-h-12 w-24 rounded-sq border border-ink bg-ground px-2 text-xl"
            />
            <span className="text-sm text-quiet">in 15 s</span>
            <Button onClick={keep}>Keep</Button>
          </span>
        </div>
      )}
      {mode.is === "count" && (
        <button
          type="button"
          // eslint-disable-next-line jsx-a11y/no-autofocus -- it takes the place of the button just pressed
          autoFocus
          data-instrument="running"
          className={`${big} mt-2 w-full border-tide bg-tide text-panel`}
          onClick={() => {
            count.current = mode.n + 1;
            setMode({ ...mode, n: mode.n + 1 });
          }}
        >
          <span className="fig text-5xl">{mode.n}</span>
          <span className="block text-base">each footfall · {fixed(left, 1)} s left</span>
        </button>
      )}
      {mode.is === "tap" && (
        <div className="mt-2 flex gap-2">
          <button
            type="button"
            // eslint-disable-next-line jsx-a11y/no-autofocus -- it takes the place of the button just pressed
            autoFocus
            data-instrument="running"
            className={`${big} border-tide bg-tide text-panel`}
            onClick={() => setMode({ is: "tap", times: [...mode.times, performance.now() / 1000] })}
          >
            <span className="fig text-5xl">{mode.times.length - 1}</span>
            <span className="block text-base">steps</span>
          </button>
          <Button kind="main" onClick={stopTapping}>
            Done
          </Button>
        </div>
      )}
      <Wrong text={wrong} />
      <p className="mt-1 text-sm text-quiet">
        n further footfalls are 4n + 2 ± 2 steps a minute: count three or four times.
      </p>
    </>
  );
}
