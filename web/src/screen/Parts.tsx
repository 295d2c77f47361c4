import { useState } from "react";
import { Button } from "../ui/Button";
import { Pick } from "../ui/Pick";
import { Faults, Wrong, type Entry } from "./entry";
import { parse } from "../ui/number";
import { shortIn, stored, unitOf } from "../ui/units";

const short = (p: { min: number; max: number; unit: string }) => !p.unit && p.max - p.min <= 4;

/** A value made of several figures: the core computes it from what is entered here. */
export function Parts({ measure, side, save }: Entry) {
  const [texts, setTexts] = useState<string[]>(() => measure.parts.map(() => ""));
  const [faults, setFaults] = useState<string[]>([]);
  const [wrong, setWrong] = useState("");
  const set = (i: number, v: string) => setTexts(texts.map((x, j) => (j === i ? v : x)));
  function keep() {
    const parts = texts.map((t, i) => parse(stored(measure.parts[i]?.unit ?? "", t)));
    const missing = measure.parts.find((_, i) => parts[i] === null);
    if (missing)
      return setWrong(
        `${missing.name}: enter ${shortIn(missing.unit, missing.min)} to ${shortIn(missing.unit, missing.max)}`,
      );
    setWrong("");
    save({ value: 0, parts: parts.flatMap((n) => n ?? []), faults });
    setTexts(measure.parts.map(() => ""));
  }
  return (
    <>
      <div className="mt-2 space-y-2">
        {measure.parts.map((p, i) =>
          short(p) ? (
            <div key={p.name} className="flex flex-wrap items-center justify-between gap-x-3">
              <span className="text-[0.95rem]">{p.name}</span>
              <Pick
                label={`${measure.name}, ${side}, ${p.name}`}
                value={texts[i] ?? ""}
                options={Array.from({ length: p.max - p.min + 1 }, (_, k) => p.min + k).map((n) => ({
                  id: String(n),
                  name: n > 0 ? `+${n}` : String(n).replace("-", "−"),
                }))}
                onChange={(v) => set(i, v)}
                nowrap
              />
            </div>
          ) : (
            <label key={p.name} className="flex items-center gap-2">
              <span className="w-36">{p.name}</span>
              <input
                aria-label={`${measure.name}, ${side}, ${p.name}`}
                value={texts[i] ?? ""}
                inputMode="decimal"
                onChange={(e) => set(i, e.target.value)}
                onKeyDown={(e) => e.key === "Enter" && (e.preventDefault(), void keep())}
                className="fig min-h-12 w-24 rounded-sq border border-ink bg-ground px-2 text-xl"
              />
              <span className="text-quiet">{unitOf(p.unit)}</span>
            </label>
          ),
        )}
      </div>
      <Wrong text={wrong} />
      <Faults measure={measure} on={faults} onChange={setFaults} />
      <Button kind="main" className="mt-2" onClick={keep}>
        Keep
      </Button>
    </>
  );
}
