import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { type Schemas } from "../api/client";
import { rooms } from "../api/rooms";
import { useRunnerId } from "../runner/Runner";
import { Heading } from "../ui/Heading";
import { day } from "../ui/day";
import { Failure, Loading } from "../ui/Notice";
import { write } from "../ui/number";
import { Why } from "../ui/reason";
import { Verdict } from "../ui/Verdict";
import { amountIn } from "../ui/units";
import { Import } from "./Import";
import { Runs } from "./Runs";
import { Weeks } from "./Weeks";
import { WhatIf } from "./WhatIf";

const Strip = lazy(async () => ({ default: (await import("./Strip")).Strip })); // fetched once it is seen

const states = { usual: "volume_usual", high: "volume_high", unknown: "volume_unknown" } as const;

/** What a runner runs: whether it is high and by which gauge, every run, and the files they come in by. */
export function Load() {
  const id = useRunnerId();
  const q = useQuery(rooms.load(id));
  if (q.isPending) return <Loading what="the running" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const v = q.data;
  const deciding = v.gauges.filter((g) => g.decides);
  const others = v.gauges.filter((g) => !g.decides);
  return (
    <>
      <Heading
        aside={
          <Why reason={v.reason} title="Running volume">
            <Verdict v={states[v.state]} big />
          </Why>
        }
      >
        Load
      </Heading>
      <p className="mb-3 max-w-3xl text-lg first-letter:uppercase">{v.reason.says}.</p>
      <div className="grid gap-3 sm:grid-cols-2">
        {deciding.map((g) => (
          <Gauge key={g.id} g={g} big />
        ))}
      </div>
      <p className="mt-3 mb-1 text-sm text-quiet">Beside them; the approach of this runner does not go by these:</p>
      <div className="grid grid-cols-2 gap-3 md:grid-cols-3 xl:grid-cols-5">
        {others.map((g) => (
          <Gauge key={g.id} g={g} />
        ))}
      </div>
      <Weeks runner={id} view={v} />
      <section aria-label="History">
        <Heading level={2}>History</Heading>
        <Suspense fallback={<Loading what="the history" />}>
          <Strip runner={id} />
        </Suspense>
      </section>
      <WhatIf runner={id} watched={v.watched} />
      <Import runner={id} view={v} />
      <Runs runner={id} view={v} />
      {v.steps && <Steps s={v.steps} />}
      {(v.cadence.length > 0 || v.beat) && <Cadence v={v} />}
      {v.shoes.length > 0 && (
        <section aria-label="Shoes">
          <Heading level={2}>Shoes, in these 90 days</Heading>
          <ul className="flex flex-wrap gap-x-8">
            {v.shoes.map((s) => (
              <li key={s.name}>
                {s.name} <span className="fig font-semibold">{amountIn("km", s.km, 0)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function Gauge({ g, big }: { g: Schemas["LoadGauge"]; big?: boolean }) {
  return (
    <div className={`border border-line bg-panel ${big ? "p-4" : "px-3 py-2"}`}>
      <p className="text-sm text-quiet">{g.name}</p>
      <Why reason={g.reason} title={g.name}>
        <span className={`font-semibold tabular-nums ${big ? "text-3xl" : "text-xl"}`}>{g.figure || "–"}</span>
      </Why>
      {g.state && g.figure && (
        <p>
          <Verdict v={states[g.state]} />
        </p>
      )}
    </div>
  );
}

const parts = { strike: "by strike", shoe: "by shoe", surface: "by ground", slope: "by slope" } as const;

/** How often the feet came down in seven days, and what that is for the calf. */
function Steps({ s }: { s: Schemas["LoadSteps"] }) {
  return (
    <section aria-label="Steps">
      <Heading level={2}>Steps, last seven days</Heading>
      <p className="text-lg">
        <span className="fig font-semibold">{s.steps.toLocaleString("en-GB")}</span> steps; for the calf as many as{" "}
        <span className="fig font-semibold">{s.calf.toLocaleString("en-GB")}</span> easy flat rearfoot ones
        {s.before > 0 && `, after ${s.before.toLocaleString("en-GB")} in the seven days before`}.
      </p>
      <div className="mt-2 grid gap-x-8 sm:grid-cols-2 lg:grid-cols-4">
        {(["strike", "shoe", "surface", "slope"] as const).map((what) => (
          <dl key={what}>
            <dt className="text-sm text-quiet">{parts[what]}</dt>
            {s.by
              .filter((x) => x.what === what)
              .map((x) => (
                <dd key={x.name} className="flex justify-between gap-3 border-b border-line py-1">
                  <span>{x.name}</span>
                  <span className="fig">{x.calf.toLocaleString("en-GB")}</span>
                </dd>
              ))}
          </dl>
        ))}
      </div>
      <ul className="mt-3 flex flex-wrap gap-x-6 gap-y-1">
        {s.runs.map((r) => (
          <li key={r.title}>
            <Why reason={r.reason} title={r.title}>
              {r.title}
            </Why>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The steps of the cadence by weeks, and what watches counted since: by shoe and pace, for it is compared at one pace alone. */
function Cadence({ v }: { v: Schemas["LoadView"] }) {
  return (
    <section aria-label="Cadence">
      <Heading level={2}>Cadence</Heading>
      {v.beat && (
        <>
          <p className="text-lg">
            From <span className="fig font-semibold">{write(v.beat.own, 0)}</span> to{" "}
            <Why reason={v.beat.why} title="Cadence target">
              <span className="fig font-semibold">{write(v.beat.target, 0)} spm</span>
            </Why>{" "}
            at {v.beat.at}
            {v.beatAt > 0 && `; the beat in force is ${v.beatAt}`}.
          </p>
          <ol className="mt-1 flex flex-wrap gap-x-6">
            {v.beat.steps.map((s) => (
              <li key={s.spm} className={s.spm === v.beatAt ? "font-semibold" : ""}>
                {s.spm === v.beatAt && "▸ "}
                <span className="fig">{s.spm}</span> from {day(s.from)}, counted without the beat {day(s.count)}
              </li>
            ))}
          </ol>
          <p className="text-sm text-quiet">{v.beat.hold}</p>
        </>
      )}
      {v.cadence.length > 0 ? (
        <table className="mt-2 text-left">
          <caption className="text-left text-sm text-quiet">
            By the watch, last 28 days. It counts whole runs, stops and hills in them: it follows a step, it does not
            replace the count at one speed.
          </caption>
          <thead className="text-sm text-quiet">
            <tr>
              <th className="pr-6 font-normal">Pace, min/km</th>
              <th className="pr-6 font-normal">Shoe</th>
              <th className="pr-6 font-normal">Cadence</th>
              <th className="pr-6 font-normal">Runs</th>
            </tr>
          </thead>
          <tbody>
            {v.cadence.map((r) => (
              <tr key={r.pace + r.shoe} className="border-t border-line">
                <th scope="row" className="fig py-1 pr-6 font-normal">
                  {r.pace}
                </th>
                <td className="pr-6">{r.shoe || "not told"}</td>
                <td className="fig pr-6">
                  <span className="font-semibold">{write(r.mean, 0)}</span> ({write(r.lowest, 0)}–{write(r.highest, 0)})
                </td>
                <td className="fig pr-6">{r.runs}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="text-quiet">No watch told a cadence in the last 28 days.</p>
      )}
    </section>
  );
}
