import { Link } from "@tanstack/react-router";
import { Heading } from "../ui/Heading";
import { write } from "../ui/number";
import { Why } from "../ui/reason";
import { bareMeasures, type View } from "./stages";

/** The shoes: what each did so far, and how far a step to each thinner one is. They never bar. */
export function Shoes({ view }: { view: View }) {
  if (!view.shoes.length) return null;
  return (
    <section aria-label="Shoes" className="no-print">
      <Heading level={2}>Shoes</Heading>
      <p className="mb-2 text-quiet">
        What the shoes did so far. They bar nothing; a step to a thinner one has its own stages.
      </p>
      <div data-scrolls className="overflow-x-auto">
        <table className="w-full min-w-[36rem] text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="font-normal">Shoe</th>
              <th className="px-2 font-normal">Minimalist Index</th>
              <th className="px-2 font-normal">Drop</th>
              <th className="px-2 font-normal">Heel over forefoot</th>
              <th className="px-2 font-normal">A step to it</th>
            </tr>
          </thead>
          <tbody>
            {view.shoes.map((s) => {
              const step = view.steps[s.name];
              return (
                <tr key={s.name} className="border-t border-line align-top">
                  <th scope="row" className="py-1.5 pr-2 font-semibold">
                    {s.name}
                  </th>
                  <td className="fig px-2 py-1.5">
                    <Why reason={s.reason} title={`${s.name}: Minimalist Index`}>
                      {s.index < 0 ? "not known" : `${write(s.index, 0)} %`}
                    </Why>
                  </td>
                  <td className="fig px-2 py-1.5">{write(s.dropMm, 0)} mm</td>
                  <td className="fig px-2 py-1.5">{s.ratio ? `× ${write(s.ratio, 1)}` : "–"}</td>
                  <td className="px-2 py-1.5">
                    {step && step.points > 0 ? (
                      <Why reason={step.why} title={`Step to ${s.name}`}>
                        <span className={step.fits ? "text-tide" : "text-brick"}>
                          <span aria-hidden>{step.fits ? "● " : "◣ "}</span>
                          {write(step.points, 0)} points{step.fits ? "" : ", too much at once"}
                        </span>
                      </Why>
                    ) : step ? (
                      "not thinner"
                    ) : (
                      "worn now"
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** The gait in shoes and on bare feet, side by side: looked at again before running and before the share grows. */
export function Compare({ runner, view }: { runner: string; view: View }) {
  return (
    <section aria-label="Gait, shod and bare" className="no-print">
      <Heading level={2}>Gait, in shoes and on bare feet</Heading>
      {view.state?.rescreen && (
        <p className="mb-2 text-lg">
          <strong className="text-ochre">◇ Due now: </strong>
          <Link to="/runners/$runner/screen" params={{ runner }} className="underline underline-offset-4">
            take {bareMeasures} on bare feet
          </Link>
          , or mark a clip in Gait.
        </p>
      )}
      {view.compare.length === 0 ? (
        <p className="text-quiet">
          Nothing of it was taken yet. It is asked for before run–walk, and before the share grows.
        </p>
      ) : (
        <table className="text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="pr-8 font-normal">What</th>
              <th className="pr-8 font-normal">In shoes</th>
              <th className="font-normal">On bare feet</th>
            </tr>
          </thead>
          <tbody>
            {view.compare.map((c) => (
              <tr key={c.measure + c.side} className="border-t border-line">
                <th scope="row" className="py-1.5 pr-8 font-normal">
                  {c.name}
                  {c.side && `, ${c.side}`}
                </th>
                <td className="fig pr-8 text-lg">{c.shod || "–"}</td>
                <td className="fig text-lg font-semibold">{c.bare || "not taken"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
