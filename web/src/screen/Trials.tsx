import { useRef, useState, type KeyboardEvent } from "react";
import type { Schemas } from "../api/client";
import { Button, Chip, Choice } from "../ui/basics";
import { Why } from "../ui/reason";
import type { Save } from "./Screen";

/** Trial boxes of one side: type a figure, Enter keeps it. Every trial is kept, counted or not. */
export function Trials({
  measure,
  side,
  trials,
  plates,
  readings,
  save,
  remove,
}: {
  measure: Schemas["ScreenMeasure"];
  side: "left" | "right";
  trials: Schemas["ScreenTrial"][];
  plates: number[];
  readings: Schemas["ScreenReading"][];
  save: Save;
  remove: (id: string) => void;
}) {
  const mine = trials.filter((t) => t.measure === measure.id && t.side === side);
  const reading = readings.find((r) => r.measure === measure.id && r.side === side);
  const [text, setText] = useState("");
  const [faults, setFaults] = useState<string[]>([]);
  const [wrong, setWrong] = useState("");
  const box = useRef<HTMLInputElement>(null);
  const full = mine.length >= measure.maxTrials;
  async function keep() {
    const value = Number(text.trim().replace(",", "."));
    if (text.trim() === "" || !Number.isFinite(value)) {
      setWrong(`“${text}” is not a number; enter ${measure.min} to ${measure.max} ${measure.unit}.`);
      return;
    }
    setWrong("");
    if (await save({ measure: measure.id, side, value, faults })) {
      setText("");
      setFaults([]);
      box.current?.focus();
    }
  }
  const keys = (e: KeyboardEvent) => {
    if (e.key === "Enter") {
      e.preventDefault();
      void keep();
    }
  };
  const label = `${measure.name}, ${side}, trial ${mine.length + 1}`;
  return (
    <div className="border border-line bg-panel px-4 py-3">
      <div className="flex items-baseline justify-between">
        <h3 className="text-xl capitalize">{side}</h3>
        {reading && (
          <Why reason={reading.reason} title={`${measure.name}, ${side}`}>
            <span className="fig">
              mean {reading.value.toFixed(1)} {measure.unit}
            </span>
          </Why>
        )}
      </div>
      <ul className="mt-1 flex flex-wrap gap-1.5">
        {mine.map((t) => (
          <li
            key={t.id}
            className={`flex items-center border ${t.skipped || t.faults.some((f) => measure.faults.find((x) => x.id === f)?.invalidates) ? "border-dashed border-brick" : "border-ink"}`}
          >
            <span className="px-2">
              {t.skipped ? (
                <span>left out: {t.skipped}</span>
              ) : (
                <>
                  <span className="fig text-2xl">{t.value}</span>
                  {t.faults.length > 0 && (
                    <span className="block text-sm text-brick">
                      {t.faults.map((f) => measure.faults.find((x) => x.id === f)?.name).join(", ")}
                      {t.faults.some((f) => measure.faults.find((x) => x.id === f)?.invalidates)
                        ? " – not counted"
                        : ""}
                    </span>
                  )}
                </>
              )}
            </span>
            <button
              type="button"
              aria-label={`Remove ${t.value} ${measure.unit}, ${side}`}
              onClick={() => remove(t.id)}
              className="min-h-11 min-w-9 text-quiet"
            >
              ✕
            </button>
          </li>
        ))}
      </ul>
      {!full && (
        <>
          <div className="mt-2 flex items-center gap-2">
            <input
              ref={box}
              aria-label={label}
              value={text}
              onChange={(e) => setText(e.target.value)}
              onKeyDown={keys}
              inputMode="decimal"
              placeholder={
                mine.length >= measure.trials
                  ? "extra"
                  : measure.trials > 1
                    ? `${mine.length + 1} of ${measure.trials}`
                    : ""
              }
              className={`fig min-h-12 w-28 rounded-sq border bg-ground px-3 text-2xl ${wrong ? "border-brick" : "border-ink"}`}
            />
            <span className="text-quiet">{measure.unit}</span>
            <Button kind={mine.length < measure.trials ? "main" : "plain"} onClick={keep} className="min-h-12">
              Keep
            </Button>
          </div>
          {wrong && (
            <p role="alert" className="mt-1 text-brick">
              {wrong}
            </p>
          )}
          {measure.unit === "mm" && plates.length > 0 && (
            <Stack plates={plates} onChange={(mm) => setText(String(mm))} />
          )}
          <div className="mt-2 flex flex-wrap gap-1.5">
            {measure.faults.map((f) => (
              <Chip
                key={f.id}
                strong={f.invalidates}
                on={faults.includes(f.id)}
                onChange={(on) => setFaults(on ? [...faults, f.id] : faults.filter((x) => x !== f.id))}
              >
                {f.name}
              </Chip>
            ))}
          </div>
          {mine.length === 0 && <Skip onSkip={(skipped) => save({ measure: measure.id, side, value: 0, skipped })} />}
        </>
      )}
    </div>
  );
}

/** Adds up the plates the runner's stack is made of. */
function Stack({ plates, onChange }: { plates: number[]; onChange: (mm: number) => void }) {
  const [on, setOn] = useState<number[]>([]);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-1.5">
      <span className="text-sm text-quiet">Stack:</span>
      {plates.map((mm, i) => (
        <button
          key={i}
          type="button"
          aria-pressed={on.includes(i)}
          onClick={() => {
            const next = on.includes(i) ? on.filter((x) => x !== i) : [...on, i];
            setOn(next);
            onChange(next.reduce((s, x) => s + plates[x], 0));
          }}
          className={`fig min-h-11 min-w-11 rounded-sq border px-2 ${on.includes(i) ? "border-ink bg-ink text-panel" : "border-line bg-ground"}`}
        >
          {mm}
        </button>
      ))}
    </div>
  );
}

export function Skip({ onSkip }: { onSkip: (why: string) => void }) {
  const [open, setOpen] = useState(false);
  const [why, setWhy] = useState("pain");
  if (!open)
    return (
      <Button kind="quiet" className="mt-2" onClick={() => setOpen(true)}>
        Leave this side out
      </Button>
    );
  return (
    <div className="mt-2 flex items-end gap-2">
      <Choice
        label="Why"
        value={why}
        options={["pain", "no time", "no kit", "not safe today"].map((x) => ({ id: x, name: x }))}
        onChange={setWhy}
      />
      <Button onClick={() => onSkip(why)}>Leave out</Button>
    </div>
  );
}
