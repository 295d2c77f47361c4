import { useState } from "react";
import { FootMap } from "../ui/FootMap";
import { Button } from "../ui/Button";
import { Faults, Wrong, type Entry } from "./entry";

/** One of a few answers, or a score with its anchors: a tap keeps it. Faults are marked first. */
export function Choose({ measure, side, save }: Entry) {
  const [faults, setFaults] = useState<string[]>([]);
  return (
    <>
      <div
        role="group"
        aria-label={`${measure.name}, ${side}`}
        className={
          measure.kind === "class"
            ? "flex flex-wrap gap-1.5"
            : "grid min-w-0 flex-1 basis-96 grid-cols-2 gap-1.5 lg:grid-cols-4"
        }
      >
        {measure.options.map((o, i) => (
          <Button
            key={o.name}
            size={measure.kind === "class" ? "usual" : "answer"}
            onClick={() => {
              save({ value: i, faults });
              setFaults([]);
            }}
          >
            {o.name}
          </Button>
        ))}
      </div>
      <Faults measure={measure} on={faults} onChange={setFaults} />
    </>
  );
}

/** Pain in a walk, 0–10; above 0 the place is tapped on the map. */
export function Pain({ measure, side, save }: Entry) {
  const [pain, setPain] = useState<number | null>(null);
  const [wrong, setWrong] = useState("");
  return (
    <>
      <div role="group" aria-label={`${measure.name}, ${side}, pain`} className="mt-2 grid grid-cols-6 gap-1">
        {Array.from({ length: 11 }, (_, n) => (
          <button
            key={n}
            type="button"
            aria-label={`${measure.name}, ${side}: ${n}`}
            aria-pressed={pain === n}
            onClick={() => {
              setWrong("");
              if (n === 0) save({ value: 0 });
              else setPain(n);
            }}
            className={`fig min-h-11 rounded-sq border text-lg ${pain === n ? "border-ink bg-ink text-panel" : "border-line bg-ground"}`}
          >
            {n}
          </button>
        ))}
      </div>
      <Wrong text={wrong} />
      {pain !== null && (
        <>
          <p className="mt-2 font-medium">Where? Tap the place.</p>
          <FootMap
            sides={[side === "right" ? "right" : "left"]}
            marked={[]}
            onPick={(region) => {
              save({ value: pain, where: region });
              setPain(null);
            }}
          />
        </>
      )}
    </>
  );
}
