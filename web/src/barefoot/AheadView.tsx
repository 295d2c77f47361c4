import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { figure } from "../runner/draft";
import { Button } from "../ui/Button";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Note } from "../ui/Note";
import { Failure } from "../ui/Notice";
import { write } from "../ui/number";
import { Why } from "../ui/reason";
import { far, stages, type View } from "./stages";

type Ahead = Schemas["BarefootAhead"];

/** The first day of each stage in a plan ahead. */
export const firsts = (a: Ahead) =>
  stages.map((name, stage) => ({ stage, name, at: a.steps.find((s) => s.at.stage === stage) })).filter((x) => x.at);

/** The earliest day of each stage if every week is quiet, the day wished for, and what would change it. */
export function AheadView({ runner, view, ahead }: { runner: string; view: View; ahead: Ahead }) {
  const [grow, setGrow] = useState("");
  const [lost, setLost] = useState("");
  const [what, setWhat] = useState<Ahead | null>(null);
  const deed = useDeed();
  const look = () =>
    deed.run(async () => {
      const body = {
        ...(grow.trim() ? { grow: figure("grow", grow) } : {}),
        lost: lost.trim() ? figure("lost", lost, true) : 0,
      };
      setWhat(await ask(api.POST("/api/runners/{runner}/barefoot/what-if", { params: { path: { runner } }, body })));
    });
  return (
    <section aria-label="Ahead">
      <Heading level={2}>Ahead, if every week is quiet</Heading>
      {ahead.wish && <Wish w={ahead.wish} />}
      <div data-scrolls className="overflow-x-auto">
        <Dates a={ahead} what={what} cap={view.plan?.cap ?? 20} />
      </div>
      {ahead.stops && (
        <p className="mt-2">
          No further:{" "}
          <Why reason={ahead.stops} title="No further">
            {ahead.stops.says}
          </Why>
          .
        </p>
      )}
      <form
        className="no-print mt-3 flex flex-wrap items-end gap-3"
        aria-label="What if, bare"
        onSubmit={(e) => {
          e.preventDefault();
          void look();
        }}
      >
        <Field
          label="If running grows a week by"
          unit="%"
          inputMode="decimal"
          value={grow}
          onText={setGrow}
          className="w-52"
          error={deed.fields.grow}
        />
        <Field
          label="… and weeks lost"
          inputMode="numeric"
          value={lost}
          onText={setLost}
          className="w-40"
          error={deed.fields.lost}
        />
        <Button type="submit" disabled={deed.busy}>
          See the dates
        </Button>
        {what && (
          <Button kind="quiet" onClick={() => setWhat(null)}>
            Put away
          </Button>
        )}
      </form>
      <Failure error={deed.error} />
      {what?.wish && ahead.wish && what.wish.reached !== ahead.wish.reached && <Wish w={what.wish} />}
    </section>
  );
}

function Dates({ a, what, cap }: { a: Ahead; what: Ahead | null; cap: number }) {
  const then = what ? firsts(what) : [];
  const last = a.steps.at(-1);
  return (
    <table className="min-w-[30rem] text-left">
      <thead className="text-sm text-quiet">
        <tr>
          <th className="pr-6 font-normal">Stage</th>
          <th className="pr-6 font-normal">Earliest</th>
          {what && <th className="pr-6 font-normal">Then</th>}
          <th className="font-normal">Begins with</th>
        </tr>
      </thead>
      <tbody aria-live="polite">
        {stages.map((name, stage) => {
          const at = a.steps.find((s) => s.at.stage === stage);
          const other = then.find((t) => t.stage === stage)?.at;
          if (!at && !other) return null;
          return (
            <tr key={name} className="border-t border-line">
              <th scope="row" className="py-1.5 pr-6 font-normal whitespace-nowrap">
                <strong>{stage}</strong> {name}
              </th>
              <td className="fig pr-6 text-lg font-semibold whitespace-nowrap">
                {at ? (at === a.steps[0] ? "now" : far(at.on)) : "–"}
              </td>
              {what && (
                <td
                  className={`fig pr-6 text-lg whitespace-nowrap ${other?.on !== at?.on ? "font-semibold text-cinder" : "text-quiet"}`}
                >
                  {other ? (other === what.steps[0] ? "now" : far(other.on)) : "not reached"}
                </td>
              )}
              <td>{(at ?? other)?.words}</td>
            </tr>
          );
        })}
        {(a.done || what?.done) && (
          <tr className="border-t-2 border-ink">
            <th scope="row" className="py-1.5 pr-6 font-normal">
              reached
            </th>
            <td className="fig pr-6 text-lg font-semibold whitespace-nowrap">{a.done ? far(a.done) : "–"}</td>
            {what && (
              <td
                className={`fig pr-6 text-lg whitespace-nowrap ${what.done !== a.done ? "font-semibold text-cinder" : "text-quiet"}`}
              >
                {what.done ? far(what.done) : "not reached"}
              </td>
            )}
            <td>
              {last?.words}
              {last && last.percent > 0 && `: ${write(last.percent, 0)} % of ${last.weekly} min, agreed ${cap} %`}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function Wish({ w }: { w: Schemas["BarefootWish"] }) {
  return (
    <Note kind={w.reached ? "good" : "caution"} className="mb-3">
      <p className="text-lg">
        <strong>Wished for {far(w.on)}: </strong>
        <Why reason={w.why} title={`Wished for ${far(w.on)}`}>
          {w.why.says}
        </Why>
        .
      </p>
      {w.instead.length > 0 && (
        <ul className="list-disc pl-5">
          {w.instead.map((i) => (
            <li key={i}>{i}</li>
          ))}
        </ul>
      )}
    </Note>
  );
}
