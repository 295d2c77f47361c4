import { useEffect, useRef, useState } from "react";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { FootMap } from "../../ui/FootMap";
import { Note } from "../../ui/Note";
import { parse, write } from "../../ui/number";
import { shortIn } from "../../ui/units";
import { Scale } from "../Scale";
import { tone, wake } from "../player/signals";
import { Cadence } from "./Cadence";
import type { Step, Stretch, Try } from "./checking";

/** One thing asked, large: what to do, then the answer by a tap where a tap is enough. */
export function Ask({ step, keep }: { step: Step; keep: (tries: Try[], motion?: Stretch[]) => void }) {
  const { offer, side } = step;
  const [skipping, setSkipping] = useState(false);
  const one = (part: Partial<Try>): Try => ({ item: offer.id, side: side.side, value: 0, ...part });
  return (
    <div className="flex flex-1 flex-col">
      <h2 className="mt-2 text-3xl leading-tight">{offer.name}</h2>
      {side.side !== "both" && <p className="text-2xl font-semibold capitalize">{side.side}</p>}
      <ul className="mt-2 text-lg">
        {offer.how.map((h) => (
          <li key={h}>{h}</li>
        ))}
      </ul>
      {offer.mind.length > 0 && (
        <Note kind="caution" className="mt-2">
          {offer.mind.join("; ")}
        </Note>
      )}
      {skipping ? (
        <div className="mt-auto grid gap-2">
          {["no room or no tape", "not sure how", "rather not today"].map((why) => (
            <Button key={why} size="big" className="w-full px-3!" onClick={() => keep([one({ skipped: why })])}>
              {why[0]?.toUpperCase() + why.slice(1)}
            </Button>
          ))}
          <Button kind="quiet" onClick={() => setSkipping(false)}>
            Do it after all
          </Button>
        </div>
      ) : (
        <>
          <Answer step={step} one={one} keep={keep} />
          <Button kind="quiet" className="mt-2" onClick={() => setSkipping(true)}>
            Leave it out
          </Button>
        </>
      )}
    </div>
  );
}

interface Asked {
  step: Step;
  one: (part: Partial<Try>) => Try;
  keep: (tries: Try[], motion?: Stretch[]) => void;
}

function Answer({ step, one, keep }: Asked) {
  const { offer } = step;
  switch (offer.kind) {
    case "cadence":
      return <Cadence tries={offer.tries} keep={keep} />;
    case "pain":
      return <Pain step={step} one={one} keep={keep} />;
    case "hold":
      return <Hold most={offer.most} keep={(value, hand) => keep([one({ value, hand })])} />;
    case "figure":
      return <Figures step={step} one={one} keep={keep} />;
  }
  return (
    <div className="mt-auto grid gap-2 pt-3">
      {offer.options.map((o, value) => (
        <Button key={o.name} size="big" className="w-full justify-start! px-4!" onClick={() => keep([one({ value })])}>
          {o.name}
        </Button>
      ))}
    </div>
  );
}

function Pain({ step, one, keep }: Asked) {
  const [pain, setPain] = useState<number | null>(null);
  const side = step.side.side === "right" ? "right" : "left";
  return (
    <>
      <Scale
        label={`Pain, ${side}`}
        value={pain}
        onChange={(n) => (n === 0 ? keep([one({ value: 0 })]) : setPain(n))}
        low="none"
        high="worst"
      />
      {pain !== null && (
        <div className="mt-3">
          <p className="font-medium">Where? Tap the place.</p>
          <FootMap sides={[side]} marked={[]} onPick={(where) => keep([one({ value: pain, where })])} />
        </div>
      )}
    </>
  );
}

/** A stopwatch that ends by itself at the cap. */
function Hold({ most, keep }: { most: number; keep: (seconds: number, hand: boolean) => void }) {
  const [from, setFrom] = useState<number | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const [t, setT] = useState(0);
  const live = useRef(0);
  const runs = from !== null && held === null;
  useEffect(() => {
    if (!runs || from === null) return;
    const timer = setInterval(() => {
      live.current = (Date.now() - from) / 1000;
      setT(live.current);
      if (live.current < most) return;
      tone(880, 0.4);
      navigator.vibrate?.([200, 100, 200]);
      setHeld(most);
    }, 100);
    return () => clearInterval(timer);
  }, [runs, from, most]);
  if (held !== null)
    return (
      <div className="mt-auto space-y-2 text-center">
        <p className="fig text-7xl font-semibold">{write(held)} s</p>
        <Button kind="main" size="big" className="w-full px-3!" onClick={() => keep(held, false)}>
          Keep it: free of hands
        </Button>
        <Button size="big" className="w-full px-3!" onClick={() => keep(held, true)}>
          Keep it: I held on
        </Button>
        <Button kind="quiet" onClick={() => (setHeld(null), setFrom(null), setT(0))}>
          Take it again
        </Button>
      </div>
    );
  return (
    <button
      type="button"
      onClick={() => {
        wake();
        if (from === null) return setFrom(Date.now());
        setHeld(Math.min(most, Math.round((Date.now() - from) / 100) / 10));
      }}
      className={`mt-3 flex min-h-56 flex-1 flex-col items-center justify-center rounded-sq border-2 ${runs ? "border-ink bg-panel" : "border-cinder bg-cinder text-on-cinder"}`}
    >
      <span className="fig text-8xl leading-none font-semibold">{runs ? Math.floor(t) : 0}</span>
      <span className="mt-2 text-xl">{runs ? "s · tap to stop" : "Tap to start"}</span>
    </button>
  );
}

function Figures({ step, one, keep }: Asked) {
  const { offer } = step;
  const [typed, setTyped] = useState<string[]>(() => Array.from({ length: offer.tries }, () => ""));
  const [wrong, setWrong] = useState("");
  function done() {
    const values = typed.filter((x) => x.trim()).map(parse);
    if (values.length === 0) return setWrong("Enter at least one figure, or leave it out.");
    if (values.some((v) => v === null || v < 0 || v > offer.most))
      return setWrong(`Enter 0 to ${shortIn(offer.unit, offer.most)}.`);
    keep(values.map((value) => one({ value: value ?? 0 })));
  }
  return (
    <div className="mt-auto pt-3">
      <div className="grid grid-cols-3 gap-2">
        {typed.map((x, i) => (
          <Field
            key={i}
            label={`Try ${i + 1}`}
            unit={offer.unit}
            inputMode="decimal"
            value={x}
            onText={(text) => setTyped(typed.map((old, k) => (k === i ? text : old)))}
          />
        ))}
      </div>
      {wrong && (
        <p role="alert" className="mt-2 text-brick">
          {wrong}
        </p>
      )}
      <Button kind="main" size="big" className="mt-3 w-full" onClick={done}>
        Keep it
      </Button>
    </div>
  );
}
