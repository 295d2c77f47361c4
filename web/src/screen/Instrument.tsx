import type { ReactNode } from "react";
import { Cadence } from "./Cadence";
import { Choose, Pain } from "./Choose";
import { Counter } from "./Counter";
import { Figure } from "./Figure";
import { Parts } from "./Parts";
import { Results } from "./Results";
import { Stopwatch } from "./Stopwatch";
import { SideBox, SideLine, type Entry, type Measure, type Side, type View } from "./entry";
import { sidesOf } from "./Taking";

const instruments: Record<Measure["kind"], (e: Entry) => ReactNode> = {
  figure: Figure,
  count: Counter,
  hold: Stopwatch,
  ability: Choose,
  blemish: Choose,
  class: Choose,
  pain: Pain,
  parts: Parts,
  cadence: Cadence,
};

/** One measure: how it is taken, its instrument on each side, and what its entries come to. */
export function Instrument({
  measure: m,
  alone,
  view,
  entry,
}: {
  measure: Measure;
  alone: boolean; // at its station
  view: View;
  entry: (side: Side) => Pick<Entry, "mine" | "waiting" | "save" | "remove" | "drop">;
}) {
  const Of = instruments[m.kind];
  const lines = ["ability", "blemish", "class"].includes(m.kind);
  const Box = lines ? SideLine : SideBox;
  return (
    <section aria-label={m.name} className="mt-4">
      {!alone && <h2 className="text-xl">{m.name}</h2>}
      <p className="max-w-4xl text-quiet">{m.how.join(" ")}</p>
      <div className={lines ? "mt-1 border border-line" : `mt-2 grid gap-4 ${m.sided ? "md:grid-cols-2" : ""}`}>
        {sidesOf(m).map((side) => {
          const e: Entry = { measure: m, side, view, ...entry(side) };
          return (
            <Box key={side} entry={e}>
              <Of {...e} />
            </Box>
          );
        })}
      </div>
      {!lines && <Results measures={[m.id]} name={m.name} view={view} />}
    </section>
  );
}
