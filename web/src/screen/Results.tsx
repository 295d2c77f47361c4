import type { Schemas } from "../api/client";
import { Verdict } from "../ui/Verdict";
import { Bars, Dial, errorOf, fig } from "../ui/drawings";
import { Why } from "../ui/reason";
import { Since, type View } from "./entry";
import { fixed } from "../ui/number";

type Finding = Schemas["ScreenFinding"];

/** What a measure's entries come to, as soon as a side has one: bar, whisker and verdict, then how it
 * compares with last time. */
export function Results({ measures, name, view }: { measures: string[]; name: string; view: View }) {
  const ids: string[] = [];
  for (const f of view.findings)
    if (
      (measures.includes(f.measure) || (f.id === "reach.composite" && measures.includes("reach.cross"))) &&
      !ids.includes(f.id + "|" + f.context)
    )
      ids.push(f.id + "|" + f.context);
  return (
    <div aria-live="polite">
      {ids.map((key) => {
        const fs = view.findings.filter((f) => f.id + "|" + f.context === key);
        return <Result key={key} fs={fs} view={view} name={name} />;
      })}
    </div>
  );
}

function Result({ fs, view, name }: { fs: Finding[]; view: View; name: string }) {
  const [f0] = fs;
  if (!f0) return null;
  const side = f0.id.endsWith(".side");
  const left = fs.find((f) => f.side === "left");
  const right = fs.find((f) => f.side === "right");
  const measured = !side && !f0.word && f0.side !== "both" && f0.reference !== 0;
  return (
    <section aria-label={f0.name} className="mt-4">
      {(f0.name !== name || f0.context) && (
        <h3 className="text-lg">
          {f0.name !== name && f0.name}
          {f0.context && <span className="font-sans text-base font-normal text-quiet"> {f0.context}</span>}
        </h3>
      )}
      <div className="flex flex-wrap gap-x-10 gap-y-1">
        {fs.map((f) => (
          <p key={f.side} className="text-xl">
            {!side && f.side !== "both" && <span className="text-quiet">{f.side} </span>}
            <Why reason={f.reason} title={`${f.name}, ${f.side}`}>
              <span className={`text-2xl font-semibold ${f.word ? "" : "fig"}`}>{fig(f)}</span>
            </Why>{" "}
            <Verdict v={f.verdict} big />
            {f.refer && <strong className="ml-2 text-base text-brick">⬣ refer</strong>}
            <span className="fig ml-2 text-sm text-quiet">{errorOf(f)}</span>
            <Since f={f} view={view} />
          </p>
        ))}
      </div>
      {measured && <Bars left={left} right={right} name={f0.name} />}
      {f0.id === "toe.passive_angle" && (
        <div className="flex gap-10">
          {[left, right].map(
            (f) =>
              f && (
                <Dial
                  key={f.side}
                  degrees={f.own ?? f.value}
                  faint={f.value}
                  label={`${f.side} big toe: passive ${fixed(f.value, 0)}°${f.own ? `, by itself ${fixed(f.own, 0)}°` : ""}`}
                />
              ),
          )}
        </div>
      )}
    </section>
  );
}
