import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { newId } from "../api/id";
import { stale } from "../api/rooms";
import { figure } from "../runner/draft";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Note } from "../ui/Note";
import { Failure } from "../ui/Notice";

import { after } from "./lanes";

type View = Schemas["LoadView"];
type Lead = "" | Schemas["LoadWeek"]["lead"];
interface Row {
  from: string;
  minutes: string;
  harder: boolean;
  lead: Lead;
}
type Span = Schemas["LoadSpan"];

const leads: { id: Lead; name: string }[] = [
  { id: "", name: "by the rule" },
  { id: "running", name: "running" },
  { id: "strength", name: "strength" },
  { id: "barefoot", name: "barefoot, shoes, cadence" },
];

/** The twelve weeks ahead: a rule, what is written by hand over it, and spans of days with rules of their own. */
export function Plan({ runner, view, done }: { runner: string; view: View; done: () => void }) {
  const ahead = view.weeks.filter((w) => view.today < after(w.from));
  const written = (from: string) => view.plan.weeks.find((w) => w.from === from && !w.gone);
  const [percent, setPercent] = useState(view.plan.rule.from ? String(view.plan.rule.percent) : "");
  const [every, setEvery] = useState(view.plan.rule.easyEvery ? String(view.plan.rule.easyEvery) : "");
  const [rows, setRows] = useState<Row[]>(() =>
    ahead.map(({ from }) => {
      const w = written(from);
      return {
        from,
        minutes: w && w.minutes >= 0 ? String(w.minutes) : "",
        harder: !!w?.harder,
        lead: w?.lead ?? "",
      };
    }),
  );
  const [spans, setSpans] = useState<Span[]>(view.plan.spans);
  const deed = useDeed(stale.runner(runner));
  const set = (from: string, part: Partial<Row>) =>
    setRows((all) => all.map((r) => (r.from === from ? { ...r, ...part } : r)));
  const keep = () =>
    deed.run(async (id) => {
      const plan: Schemas["LoadPlan"] = {
        rule: {
          ...(view.plan.rule.from ? { from: view.plan.rule.from } : {}),
          percent: percent.trim() ? figure("percent", percent) : 0,
          easyEvery: every.trim() ? figure("easyEvery", every, true) : 0,
        },
        weeks: rows
          .filter((r) => r.minutes.trim() || r.harder || r.lead)
          .map(({ from, minutes, harder, lead }) => ({
            from,
            harder,
            lead,
            minutes: minutes.trim() ? figure("minutes", minutes, true) : -1,
          })),
        spans,
      };
      const body = { saw: view.planId, plan };
      await ask(api.PUT("/api/runners/{runner}/running/{id}", { params: { path: { runner, id: id(body) } }, body }));
      done();
    });
  return (
    <form
      aria-label="Plan the weeks"
      className="mb-4 space-y-4 border border-line bg-panel p-4"
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <div className="grid max-w-2xl grid-cols-2 gap-3">
        <Field
          label="Grow each week by"
          hint="%, at most 10; empty: it stays as it is"
          inputMode="decimal"
          value={percent}
          onText={setPercent}
          error={deed.fields["percent"]}
        />
        <Field
          label="An easier week every"
          hint="weeks; empty: none"
          inputMode="numeric"
          value={every}
          onText={setEvery}
          error={deed.fields["easyEvery"]}
        />
      </div>
      <Rows rows={rows} ahead={ahead} set={set} />
      <Spans spans={spans} setSpans={setSpans} today={view.today} />
      <div className="flex flex-wrap gap-3">
        <Button kind="main" type="submit" disabled={deed.busy}>
          Keep the plan
        </Button>
        <Button kind="quiet" onClick={done}>
          Leave it
        </Button>
      </div>
      {deed.clash ? (
        <Note kind="refused">
          Somebody else planned these weeks meanwhile. What they wrote stands above; leave this and change theirs.
        </Note>
      ) : (
        <Failure error={deed.error} />
      )}
    </form>
  );
}

/** A row a week: what is written, and what is in force of it. */
function Rows({
  rows,
  ahead,
  set,
}: {
  rows: Row[];
  ahead: Schemas["LoadWeek"][];
  set: (from: string, part: Partial<Row>) => void;
}) {
  return (
    <div data-scrolls className="overflow-x-auto">
      <table className="w-full text-left">
        <caption className="mb-1 text-left text-sm text-quiet">
          Minutes left empty follow the rule. No week holds more than its limit: what is written above it is cut to it.
        </caption>
        <thead className="text-sm text-quiet">
          <tr>
            <th className="font-normal">Week of</th>
            <th className="px-2 font-normal">Minutes</th>
            <th className="px-2 font-normal">In force</th>
            <th className="px-2 font-normal">New hills or speed</th>
            <th className="px-2 font-normal">Leads</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => {
            const w = ahead.find((x) => x.from === r.from);
            return (
              <tr key={r.from} className="border-t border-line">
                <th scope="row" className="fig py-1 pr-2 font-normal whitespace-nowrap">
                  {day(r.from)}
                </th>
                <td className="w-28 px-2">
                  <input
                    aria-label={`Minutes in the week of ${day(r.from)}`}
                    inputMode="numeric"
                    value={r.minutes}
                    onChange={(e) => set(r.from, { minutes: e.target.value })}
                    className="fig min-h-11 w-full rounded-sq border border-line bg-panel px-2"
                  />
                </td>
                <td className="px-2 text-sm whitespace-nowrap">
                  {w && (
                    <>
                      <span className="fig text-base font-semibold">{w.planned}</span> of at most {w.limit}
                      {w.wanted > w.planned && <span className="text-ochre"> ▲ {w.wanted} wanted</span>}
                      {!!w.flat && (
                        <Button kind="quiet" onClick={() => set(r.from, { minutes: String(w.flat) })}>
                          Take a flat week, {w.flat}
                        </Button>
                      )}
                    </>
                  )}
                </td>
                <td className="px-2">
                  <Check checked={r.harder} onChange={(harder) => set(r.from, { harder })}>
                    <span className="sr-only">New hills or speed in the week of {day(r.from)}</span>
                  </Check>
                </td>
                <td className="px-2">
                  <select
                    aria-label={`What leads in the week of ${day(r.from)}`}
                    value={r.lead}
                    onChange={(e) => set(r.from, { lead: leads.find((l) => l.id === e.target.value)?.id ?? "" })}
                    className="min-h-11 w-full rounded-sq border border-line bg-panel px-2"
                  >
                    {leads.map((l) => (
                      <option key={l.id} value={l.id}>
                        {l.name}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Spans({ spans, setSpans, today }: { spans: Span[]; setSpans: (s: Span[]) => void; today: string }) {
  const change = (id: string, part: Partial<Span>) => setSpans(spans.map((s) => (s.id === id ? { ...s, ...part } : s)));
  const add = (kind: "easy" | "holiday") => setSpans([...spans, { id: newId(), kind, from: today, until: today }]);
  return (
    <fieldset>
      <legend className="font-medium">Easy weeks and holidays</legend>
      <p className="text-sm text-quiet">
        An easy week is left out of comparisons only if it was planned before it began. On a holiday strength work waits
        and its days count as missed. An illness is recorded as a warning sign, in Intake.
      </p>
      {spans.map((s) => (
        <div key={s.id} className="mt-2 flex flex-wrap items-end gap-3">
          <Choice
            label="What"
            value={s.kind}
            options={[
              { id: "easy", name: "easy week" },
              { id: "holiday", name: "holiday" },
            ]}
            onChange={(kind) => change(s.id, { kind })}
          />
          <Field
            label="First day"
            type="date"
            value={s.from}
            onChange={(e) => change(s.id, { from: e.target.value })}
          />
          <Field
            label="Last day"
            type="date"
            value={s.until}
            onChange={(e) => change(s.id, { until: e.target.value })}
          />
          {s.kind === "holiday" && (
            <Check checked={!!s.runs} onChange={(runs) => change(s.id, { runs })}>
              running goes on
            </Check>
          )}
          <Button kind="quiet" onClick={() => setSpans(spans.filter((x) => x.id !== s.id))}>
            Take it out
          </Button>
        </div>
      ))}
      <div className="mt-2 flex flex-wrap gap-3">
        <Button onClick={() => add("easy")}>Add an easy week</Button>
        <Button onClick={() => add("holiday")}>Add a holiday</Button>
      </div>
    </fieldset>
  );
}
