import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Note } from "../ui/Note";
import { Failure } from "../ui/Notice";
import { write } from "../ui/number";
import { Why } from "../ui/reason";
import { Verdict } from "../ui/Verdict";
import { figure } from "../runner/draft";
import { stageName, stages, type At, type State, type View } from "./stages";

const words = { up: "up", hold: "hold", back: "back", rest: "park", return: "return", reached: "clear" } as const;

/** Where the runner stands: the dose that holds, what the records ask for and why, and the goes of this week. */
export function Now({ runner, view, state }: { runner: string; view: View; state: State }) {
  const deed = useDeed(stale.runner(runner));
  const [other, setOther] = useState(false);
  const asks = state.verdict !== "hold" && state.verdict !== "reached";
  const decide = (to: At, word: string) =>
    deed.run(async (id) => {
      const body = { to, saw: state.saw, ...(word.trim() ? { word: word.trim() } : {}) };
      await ask(
        api.PUT("/api/runners/{runner}/barefoot/moves/{id}", { params: { path: { runner, id: id(body) } }, body }),
      );
      setOther(false);
    });
  return (
    <section aria-label="Now" className="mb-4 grid gap-4 border border-line bg-panel p-4 lg:grid-cols-2">
      <div>
        <p className="text-sm text-quiet">
          {state.now.stage < 0 ? "Resting" : `Stage ${stageName(state.now.stage)}`}
          {state.now.stage === state.at.stage && state.now.step === state.at.step
            ? `, since ${day(state.since)}`
            : ` for now; decided on ${day(state.since)} was stage ${stageName(state.at.stage)}`}
        </p>
        <p className="text-3xl leading-tight font-semibold first-letter:uppercase">{state.dose.words}</p>
        {state.now.stage === 2 && state.loads < 100 && (
          <p className="mt-1">
            With about <strong className="fig">{state.loads} %</strong> of the usual weights, rebuilt week by week.
          </p>
        )}
        {state.now.stage >= 4 && state.weekly > 0 && (
          <p className="mt-1">
            <span className="fig font-semibold">{write(state.share, 1)} %</span> of {state.weekly} min of running a
            week; agreed are {view.plan?.cap} %.
          </p>
        )}
        <Shares s={view.shares} />
        <h3 className="mt-3 text-sm text-quiet">This week</h3>
        {view.week.length === 0 ? (
          <p>{view.noRoom || "Nothing."}</p>
        ) : (
          <ul>
            {runsOf(view.week).map((g) => (
              <li key={g.from} className="flex gap-3">
                <span className="fig w-24 shrink-0">{g.n > 2 ? "daily" : day(g.from)}</span>
                <span>{g.words}</span>
              </li>
            ))}
          </ul>
        )}
      </div>
      <div>
        <Why {...(state.earned ? { reason: state.earned } : {})} title="Up, after quiet weeks">
          <Verdict v={words[state.verdict]} big />
        </Why>
        {state.fired.map((f) => (
          <p key={f.reason.rule + f.reason.says} className="mt-1 text-lg">
            <Why reason={f.reason} title={f.reason.says}>
              {f.reason.says}
            </Why>
          </p>
        ))}
        {asks && (
          <p className="mt-1 text-lg">
            Asks for: <strong>{state.toDose.words}</strong>
          </p>
        )}
        {state.waits.length > 0 && state.verdict === "hold" && (
          <>
            <p className="mt-2 text-sm text-quiet">
              Moves up after {state.needs} quiet {state.needs === 1 ? "week" : "weeks"}. It waits for:
            </p>
            <ul className="list-disc pl-5">
              {state.waits.map((w, i) => (
                <li key={i}>
                  <Why reason={w} title={w.says}>
                    {w.says}
                  </Why>
                </li>
              ))}
            </ul>
          </>
        )}
        {state.verdict === "reached" && <p className="mt-1 text-lg">The end of the plan: kept as it is.</p>}
        <div className="mt-3 flex flex-wrap gap-2">
          {asks && (
            <Button kind="main" disabled={deed.busy} onClick={() => void decide(state.to, "")}>
              Accept
            </Button>
          )}
          <Button aria-expanded={other} onClick={() => setOther(!other)}>
            Decide otherwise
          </Button>
          {!view.leads && <Lead runner={runner} view={view} />}
        </div>
        {other && (
          <Otherwise ladder={view.ladder} state={state} busy={deed.busy} fields={deed.fields} decide={decide} />
        )}
        <Failure error={deed.error} />
        {deed.clash && <Note kind="caution">Something came in meanwhile: look again, then decide.</Note>}
      </div>
    </section>
  );
}

/** Days one after another with the same go are said once. */
function runsOf(week: View["week"]) {
  const out: { from: string; n: number; words: string }[] = [];
  if (week.length > 2 && week.every((p) => p.words === week[0]?.words && p.in === "own" && p.stage < 2))
    return [{ from: week[0]?.on ?? "", n: week.length, words: week[0]?.words ?? "" }];
  for (const p of week) out.push({ from: p.on, n: 1, words: p.words });
  return out;
}

/** How much of the running of four weeks was bare. */
function Shares({ s }: { s: Schemas["BareShares"] }) {
  if (s.minutes === 0) return null;
  return (
    <p className="mt-1 text-sm text-quiet">
      Last four weeks: {write(s.minutes, 0)} of {write(s.running, 0)} min of running ({write(s.percent, 1)} %)
      {s.steps > 0 &&
        `, ${s.steps.toLocaleString("en-GB")} steps of each foot, for the calf as many as ${s.calfSteps.toLocaleString("en-GB")} easy ones`}
      .
    </p>
  );
}

/** Gives this week, or the next, to the barefoot dial. */
function Lead({ runner, view }: { runner: string; view: View }) {
  const deed = useDeed(stale.runner(runner));
  const give = () =>
    deed.run(async (id) => {
      const body = { week: view.today };
      await ask(
        api.PUT("/api/runners/{runner}/barefoot/leads/{id}", { params: { path: { runner, id: id(body) } }, body }),
      );
    });
  return (
    <>
      <Button disabled={deed.busy} onClick={() => void give()}>
        Let it lead this week
      </Button>
      <Failure error={deed.error} />
    </>
  );
}

/** Another place, no further than the rules allow, with a word why. */
function Otherwise({
  state,
  busy,
  fields,
  decide,
  ladder,
}: {
  ladder: View["ladder"];
  state: State;
  busy: boolean;
  fields: Record<string, string>;
  decide: (to: At, word: string) => Promise<unknown>;
}) {
  const most = state.verdict === "up" || state.verdict === "return" ? state.to : state.at;
  const places = [{ id: "-1", name: "rest" }];
  for (let s = 0; s <= Math.min(3, most.stage); s++)
    (ladder[s] ?? []).forEach((name, i) => {
      if (s < most.stage || i <= most.step) places.push({ id: `${s}.${i}`, name: `${s} ${stages[s]}: ${name}` });
    });
  for (let s = 4; s <= most.stage; s++) places.push({ id: String(s), name: `${s} ${stages[s]}` });
  const [place, setPlace] = useState(places.at(-1)?.id ?? "-1");
  const [minutes, setMinutes] = useState(String(most.minutes ?? ""));
  const [word, setWord] = useState("");
  const stage = parseInt(place);
  return (
    <form
      className="mt-3 grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        const to: At = { stage, step: Number(place.split(".")[1] ?? 0) };
        if (stage >= 4) to.minutes = figure("to", minutes, true);
        void decide(to, word);
      }}
    >
      <Choice label="Where they stand" value={place} options={places} onChange={setPlace} />
      {stage >= 4 && (
        <Field label="Minutes a week" inputMode="numeric" value={minutes} onText={setMinutes} error={fields.to} />
      )}
      <Field
        label="A word why"
        value={word}
        onText={setWord}
        error={fields.word ?? (stage < 4 ? fields.to : undefined)}
      />
      <Button kind="main" type="submit" disabled={busy} className="justify-self-start">
        Decide
      </Button>
    </form>
  );
}

/** What was decided so far. */
export function Decided({ moves, ladder }: { moves: Schemas["BarefootMove"][]; ladder: View["ladder"] }) {
  if (!moves.length) return null;
  return (
    <section aria-label="Decided" className="no-print">
      <Heading level={2}>Decided so far</Heading>
      <ul>
        {moves.slice(0, 12).map((m) => (
          <li key={m.id} className="flex flex-wrap gap-x-3 border-b border-line py-1.5">
            <span className="fig w-24 shrink-0">{day(m.on)}</span>
            <Verdict v={words[m.verdict]} />
            <Why {...(m.reasons[0] ? { reason: m.reasons[0] } : {})} title={`Decided on ${day(m.on)}`}>
              stage {stageName(m.from.stage)} → {stageName(m.to.stage)}
              {m.to.minutes
                ? `, ${m.to.minutes} min a week`
                : m.to.stage >= 0 && m.to.stage < 4
                  ? `, ${ladder[m.to.stage]?.[m.to.step] ?? ""}`
                  : ""}
            </Why>
            <span className="text-quiet">
              {m.word && `“${m.word}” `}
              {m.by}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
