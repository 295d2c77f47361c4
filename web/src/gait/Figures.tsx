import { memo, useState } from "react";
import { Button } from "../ui/Button";
import { Why } from "../ui/reason";
import type { Figure, Reading, Simulated } from "./film";
import { withUnit } from "../ui/number";
import { figureIn, unitOf } from "../ui/units";

const decimals = (unit: string) => (unit === "ms" || unit === "mm" ? 0 : 1);

/** A value with as many decimals as its unit deserves. */
export function bare(v: number, unit: string): string {
  return figureIn(unit, v, unit === "BW" ? 2 : decimals(unit));
}

export function amount(v: number, unit: string): string {
  return withUnit(bare(v, unit), unitOf(unit));
}

function Value({ f, big }: { f: Figure; big?: boolean }) {
  if (f.half === 0)
    return (
      <Why reason={f.reason} title={f.name}>
        <span className="text-ochre">{f.word}</span>
      </Why>
    );
  return (
    <>
      <Why reason={f.reason} title={`${f.name}${f.side === "both" ? "" : ", " + f.side}`}>
        <span
          className={`fig whitespace-nowrap ${big ? "text-4xl font-semibold" : "text-xl"} ${f.answers ? "" : "text-quiet"}`}
        >
          {amount(f.value, f.unit)}
        </span>
      </Why>
      <span className="fig block text-sm text-quiet">± {amount(f.half, f.unit)}</span>
      {f.word && (
        <span className={`block text-sm leading-tight font-semibold ${f.answers ? "text-tide" : "text-ochre"}`}>
          {f.word}
        </span>
      )}
    </>
  );
}

/** What is true of a made-up runner, beside what was read. */
function Truth({ f, facts }: { f: Figure; facts?: Simulated["known"] }) {
  const k = facts?.find((x) => x.id === f.id && x.side === f.side);
  if (!k) return null;
  const inside = Math.abs(k.value - f.value) <= f.half;
  return (
    <span className={`fig block text-sm ${inside ? "text-tide" : "text-brick"}`}>
      truth {amount(k.value, f.unit)} {inside ? "✓" : "outside"}
    </span>
  );
}

const groups: [Figure["group"], string][] = [
  ["times", "Times"],
  ["forces", "Forces, computed"],
  ["angles", "From the stills"],
  ["behind", "From behind"],
];

/** Looked at less often. */
const less = ["step", "step.side", "stride", "flight.side"];

/** One figure, left and right side by side. */
function Row({ id, of, facts }: { id: string; of: Figure[]; facts?: Simulated["known"] }) {
  const mine = of.filter((f) => f.id === id);
  const both = mine.find((f) => f.side === "both");
  return (
    <div className="border-t border-line py-1.5">
      <p className="text-sm leading-tight">{mine[0]?.name}</p>
      {both ? (
        <div data-figure={`${id} both`}>
          <Value f={both} />
          <Truth f={both} facts={facts} />
        </div>
      ) : (
        <div className="mt-0.5 grid grid-cols-2 gap-3">
          {(["left", "right"] as const).map((side) => {
            const f = mine.find((m) => m.side === side);
            return (
              <div key={side} data-figure={`${id} ${side}`}>
                <span className="text-sm text-quiet">{side} </span>
                {f ? (
                  <>
                    <Value f={f} />
                    <Truth f={f} facts={facts} />
                  </>
                ) : (
                  <span className="text-quiet">–</span>
                )}
              </div>
            );
          })}
        </div>
      )}
    </div>
  );
}

/** The numbers of a clip with their errors, left and right side by side. */
export const Figures = memo(function Figures({ reading, simulated }: { reading?: Reading; simulated?: Simulated }) {
  const [truth, setTruth] = useState(false);
  if (!reading) return <p className="text-quiet">Mark a touchdown and a toe-off: the numbers stand here.</p>;
  const fs = reading.figures;
  const cadence = fs.find((f) => f.id === "cadence");
  const facts = truth ? simulated?.known : undefined;
  const rows = (group: string) => {
    const names: string[] = [];
    for (const f of fs) if (f.group === group && f.id !== "cadence" && !names.includes(f.id)) names.push(f.id);
    return names;
  };
  return (
    <section aria-label="Numbers" className="text-ink">
      {cadence && (
        <div className="border-b-2 border-ink pb-2">
          <p className="text-sm text-quiet">Cadence</p>
          <div data-figure="cadence both">
            <Value f={cadence} big />
            <Truth f={cadence} facts={facts} />
          </div>
        </div>
      )}
      {groups.map(([group, title]) => {
        const ids = rows(group);
        if (!ids.length) return null;
        const plain = ids.filter((id) => !less.includes(id));
        const rest = ids.filter((id) => less.includes(id));
        return (
          <div key={group} className="mt-3">
            <h3 className="text-base">{title}</h3>
            {plain.map((id) => (
              <Row key={id} id={id} of={fs} facts={facts} />
            ))}
            {rest.length > 0 && (
              <details className="border-t border-line">
                <summary className="min-h-9 cursor-pointer py-1.5 text-sm">Steps, strides, more sides</summary>
                {rest.map((id) => (
                  <Row key={id} id={id} of={fs} facts={facts} />
                ))}
              </details>
            )}
          </div>
        );
      })}
      {!fs.length && <p className="text-quiet">Mark a touchdown and a toe-off: the numbers stand here.</p>}
      {simulated && fs.length > 0 && (
        <Button kind="quiet" size="bare" className="mt-2" onClick={() => setTruth(!truth)}>
          {truth ? "Hide the truth" : "Show the truth of this made-up runner"}
        </Button>
      )}
    </section>
  );
});
