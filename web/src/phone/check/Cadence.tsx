import { useEffect, useRef, useState } from "react";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Note } from "../../ui/Note";
import { parseCount } from "../../ui/number";
import { tone, wake } from "../player/signals";
import { footfalls, type Stretch, type Try } from "./checking";
import { askMotion, feel, stretch } from "./motion";

const stretchMs = 15_000;

interface Asked {
  tries: number;
  keep: (tries: Try[], motion?: Stretch[]) => void;
}

/** Four times 15 s: tapped, counted in the head, or felt by the phone. */
export function Cadence({ tries, keep }: Asked) {
  const [way, setWay] = useState<"" | "count" | "feel">("");
  const [wrong, setWrong] = useState("");
  if (way === "count") return <Counting tries={tries} keep={keep} />;
  if (way === "feel") return <Feeling tries={tries} keep={keep} count={() => setWay("count")} />;
  return (
    <div className="mt-auto space-y-2">
      {wrong && (
        <Note role="alert" kind="caution">
          {wrong}
        </Note>
      )}
      <Button kind="main" size="big" className="w-full px-3!" onClick={() => (wake(), setWay("count"))}>
        Tap or count
      </Button>
      <Button
        size="big"
        className="w-full px-3!"
        onClick={() => {
          wake();
          void askMotion().then((why) => (why ? setWrong(why) : setWay("feel")));
        }}
      >
        Let the phone feel it
      </Button>
    </div>
  );
}

/** A clock that is drawn ten times a second while it runs. */
function useClock(runs: boolean) {
  const [t, setT] = useState(0);
  useEffect(() => {
    if (!runs) return;
    const timer = setInterval(() => setT(Date.now()), 100);
    return () => clearInterval(timer);
  }, [runs]);
  return t;
}

function Counting({ tries, keep }: Asked) {
  const [counts, setCounts] = useState<number[]>([]);
  const [from, setFrom] = useState<number | null>(null); // the footfall that is zero
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState("");
  const taps = useRef<number[]>([]);
  const t = useClock(from !== null);
  const left = from === null ? 0 : Math.max(0, stretchMs - (t - from));
  const over = from !== null && t > 0 && left === 0;
  useEffect(() => {
    if (!over) return;
    tone(880, 0.4);
    navigator.vibrate?.([200, 100, 200]);
  }, [over]);
  const again = () => {
    taps.current = [];
    setFrom(null);
    setText("");
    setWrong("");
  };
  function tap() {
    const now = Date.now();
    if (from === null) setFrom(now);
    if (from !== null && now - from > stretchMs) return;
    taps.current.push(now);
    setText(taps.current.length > 1 ? String(footfalls(taps.current)) : "");
  }
  function next() {
    const n = parseCount(text);
    if (n === null || n < 10 || n > 80) return setWrong("Footfalls in 15 s after the first: 10 to 80.");
    const all = [...counts, n];
    if (all.length >= tries) return keep(all.map((x) => ({ item: "cadence", side: "both", value: 0, parts: [x] })));
    setCounts(all);
    again();
  }
  return (
    <div className="mt-2 flex flex-1 flex-col">
      <p className="text-lg">
        Count <strong className="fig">{counts.length + 1}</strong> of {tries}
        {counts.length > 0 && <span className="fig text-quiet"> · so far {counts.join(", ")}</span>}
      </p>
      {over ? (
        <div className="mt-auto space-y-3">
          <Field
            label="Footfalls after the first"
            inputMode="numeric"
            value={text}
            error={wrong}
            onChange={(e) => setText(e.target.value)}
          />
          <Button kind="main" size="big" className="w-full" onClick={next}>
            Keep the count
          </Button>
          <Button kind="quiet" onClick={again}>
            Count it again
          </Button>
        </div>
      ) : (
        <button
          type="button"
          onPointerDown={tap}
          onKeyDown={(e) => (e.key === " " || e.key === "Enter") && !e.repeat && (e.preventDefault(), tap())}
          className={`mt-2 flex min-h-64 flex-1 touch-manipulation flex-col items-center justify-center rounded-sq border-2 select-none ${from === null ? "border-cinder bg-cinder text-on-cinder" : "border-ink bg-panel"}`}
        >
          <span className="fig text-8xl leading-none font-semibold">
            {from === null ? "0" : Math.ceil(left / 1000)}
          </span>
          <span className="mt-2 px-4 text-center text-xl">
            {from === null
              ? "Tap on a footfall: it is zero"
              : `s left · ${text || 0} tapped. Tap each footfall, or count in your head`}
          </span>
        </button>
      )}
    </div>
  );
}

function Feeling({ tries, keep, count }: Asked & { count: () => void }) {
  const [from, setFrom] = useState<number | null>(null);
  const [wrong, setWrong] = useState("");
  const felt = useRef<[number, number][]>([]);
  const t = useClock(from !== null);
  const leadMs = 3000;
  const all = leadMs + tries * stretchMs;
  const passed = from === null ? 0 : t - from;
  const done = from !== null && passed >= all;
  const told = useRef(keep);
  useEffect(() => {
    told.current = keep;
  });
  useEffect(() => {
    if (from === null) return;
    felt.current = [];
    return feel((ms, a) => void felt.current.push([ms, a]));
  }, [from]);
  useEffect(() => {
    if (!done) return;
    tone(880, 0.4);
    navigator.vibrate?.([300, 100, 300]);
    const parts = Array.from({ length: tries }, (_, i) =>
      stretch(felt.current, leadMs + i * stretchMs, leadMs + (i + 1) * stretchMs),
    );
    if (parts.every((p) => p.ms.length >= 225)) return told.current([], parts); // 15 a second
    const say = setTimeout(() => {
      setFrom(null);
      setWrong("The sensor gave too little. Keep the page open and the screen on, or count.");
    }, 0);
    return () => clearTimeout(say);
  }, [done, tries]);
  return (
    <div className="mt-2 flex flex-1 flex-col">
      <p className="text-lg">
        Hold the phone still in your hand or wear it at the waist. It feels {tries} × 15 s of running in a row.
      </p>
      <p className="mt-1 text-quiet">
        The screen has to stay on. What it felt is sent; the cadence comes back from there.
      </p>
      {wrong && (
        <Note role="alert" kind="caution" className="mt-2">
          {wrong}
        </Note>
      )}
      {from === null ? (
        <div className="mt-auto space-y-2">
          <Button kind="main" size="big" className="w-full" onClick={() => (tone(660), setFrom(Date.now()))}>
            Start, then run
          </Button>
          <Button kind="quiet" onClick={count}>
            Count instead
          </Button>
        </div>
      ) : (
        <div role="timer" aria-label="Seconds" className="my-auto text-center">
          <p className="fig text-8xl leading-none font-semibold">{Math.max(0, Math.ceil((all - passed) / 1000))}</p>
          <p className="mt-2 text-2xl">{passed < leadMs ? "s · begin to run" : "s · keep your usual pace"}</p>
        </div>
      )}
    </div>
  );
}
