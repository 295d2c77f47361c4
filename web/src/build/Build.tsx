import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { Chip } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Why } from "../ui/reason";
import { Pattern, weekdays } from "../week/Pattern";
import { RailCard } from "./RailCard";
import { Note } from "../ui/Note";

export type Choices = Schemas["BuildChoices"];

const phases = [
  ["calm", "Calm"],
  ["wake", "Wake"],
  ["build", "Build"],
  ["load", "Load"],
  ["spring", "Spring"],
  ["keep", "Keep"],
] as const;

/** The draft: rails with their first notches and why, what the coach sets by hand, and the week they
 * make. Nothing is in force until it is put into force. */
export function Build() {
  const id = useRunnerId();
  const [mine, setMine] = useState<Choices | null>(null);
  const [kept, setKept] = useState<Choices | null>(null);
  const q = useQuery(rooms.draft(id, mine));
  const deed = useDeed(stale.runner(id));
  const go = useNavigate();
  if (q.isPending) return <Loading what="the draft" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const d = q.data.draft;
  const choices = mine ?? d.choices;
  const set = (part: Partial<Choices>) => setMine({ ...choices, ...part });
  const build = async () => {
    const ok = await deed.run(async (write) => {
      await ask(
        api.PUT("/api/runners/{runner}/programmes/{programme}", {
          params: { path: { runner: id, programme: write(choices) } },
          body: { choices },
        }),
      );
    });
    if (ok) await go({ to: "/runners/$runner/week", params: { runner: id } });
  };
  const chosen = d.rails.filter((r) => r.chosen);
  const left = d.rails.filter((r) => !r.chosen);
  const bring = (rail: string) =>
    set({ also: [...choices.also, rail], without: choices.without.filter((x) => x !== rail) });
  return (
    <>
      <Heading
        aside={
          <Button kind="main" onClick={build} disabled={deed.busy || !!d.refuse || q.isPlaceholderData}>
            {q.data.inForce ? "Build again and put into force" : "Put into force"}
          </Button>
        }
      >
        Build
      </Heading>
      <Failure error={deed.error} />
      {d.refuse && (
        <Note kind="stop" className="mb-4 text-lg">
          {d.refuse}
        </Note>
      )}
      {q.data.inForce && (
        <p className="mb-4 text-quiet">
          In force since {day(q.data.inForce.on)}. Building again keeps every notch where it stands unless a newer test
          says otherwise, and everything set by hand.
        </p>
      )}
      {!d.refuse && (
        <>
          <PhaseRule d={d} />
          {q.data.lead && (
            <p className="mb-4 text-lg">
              This week{" "}
              <Why reason={q.data.lead.why} title="Who leads this week">
                <strong>{q.data.lead.dial} leads</strong>
              </Why>
              : {q.data.lead.dial === "strength" ? "every earned move" : "one heavy rail"} moves up.
            </p>
          )}
          {d.race && (
            <Note kind="today" className="mb-4 text-lg">
              <Why reason={d.race.why} title="Race">
                {d.race.says}
              </Why>
            </Note>
          )}
          <ul className="space-y-3">
            {chosen.map((r) => (
              <RailCard key={r.rail} rail={r} phase={d.phase} choices={choices} set={set} others={left} />
            ))}
          </ul>
          {chosen.length === 0 && (
            <p className="border border-dashed border-line p-4 text-lg">
              No rail is possible now. Look at why below, or at the warning signs.
            </p>
          )}
          <LeftOut rails={left} bring={bring} byHand={choices} set={set} />
          <Heading level={2}>
            <Why reason={d.week.why} title="The week">
              The week
            </Why>
            <span className={`ml-3 text-base font-normal ${d.week.feasible ? "text-tide" : "text-ochre"}`}>
              {d.week.feasible ? "every session has its place" : "not everything fits"}
              {!d.week.proved && ", best found"}
            </span>
          </Heading>
          <div className="mb-3 flex flex-wrap items-center gap-2">
            <span className="text-quiet">Preferred days</span>
            {weekdays.map((n, i) => (
              <Chip
                key={n}
                on={choices.days.includes(i)}
                onChange={(on) => set({ days: on ? [...choices.days, i].sort() : choices.days.filter((x) => x !== i) })}
              >
                {n.slice(0, 3)}
              </Chip>
            ))}
          </div>
          <Pattern week={d.week} />
          <Plan d={d} />
          <Compare runner={id} a={kept} b={choices} keep={() => setKept(choices)} take={setMine} />
          <p className="mt-6 max-w-3xl text-quiet">
            Stop for sharp or rising pain. Wall or rail within reach for balance. This is coaching, not medical care;
            see a professional for the warning signs, and local rules come first.
          </p>
        </>
      )}
    </>
  );
}

function PhaseRule({ d }: { d: Schemas["BuildProgramme"] }) {
  return (
    <div className="mb-6" aria-label="Phase">
      <div className="flex flex-wrap items-center gap-3">
        {phases.map(([p, name], i) => (
          <span key={p} className="flex items-center gap-3">
            {i > 0 && <span aria-hidden className="h-px w-6 bg-ink" />}
            <span className={p === d.phase ? "border-b-4 border-cinder text-xl font-semibold" : "text-quiet"}>
              {p === d.phase ? (
                <Why reason={d.why} title={`Phase: ${name}`}>
                  {name}
                </Why>
              ) : (
                name
              )}
            </span>
          </span>
        ))}
      </div>
      {d.next.says && (
        <p className="mt-1 text-quiet">
          Next:{" "}
          <Why reason={d.next} title="What the next phase waits for">
            {d.next.says}
          </Why>
        </p>
      )}
    </div>
  );
}

function LeftOut({
  rails,
  bring,
  byHand,
  set,
}: {
  rails: Schemas["BuildRailPlan"][];
  bring: (rail: string) => void;
  byHand: Choices;
  set: (part: Partial<Choices>) => void;
}) {
  return (
    <details className="mt-4 border border-line px-4 py-2">
      <summary className="min-h-11 cursor-pointer py-2 text-lg font-medium">Left out ({rails.length})</summary>
      <ul>
        {rails.map((r) => {
          const asked = byHand.also.includes(r.rail);
          return (
            <li
              key={r.rail}
              className="grid grid-cols-[11rem_minmax(0,1fr)_auto] items-center gap-3 border-t border-line py-1"
            >
              <span className="font-semibold">{r.name}</span>
              <Why reason={r.why} title={`${r.name}: left out`}>
                {r.why.says}
              </Why>
              {asked ? (
                <Button kind="quiet" onClick={() => set({ also: byHand.also.filter((x) => x !== r.rail) })}>
                  No longer ask for it
                </Button>
              ) : (
                <Button onClick={() => bring(r.rail)} aria-label={`Bring in ${r.name}`}>
                  Bring in
                </Button>
              )}
            </li>
          );
        })}
      </ul>
    </details>
  );
}

/** Cadence steps, days to measure again, and what the approaches ask to mind. */
function Plan({ d }: { d: Schemas["BuildProgramme"] }) {
  const runs = d.rails.some((r) => r.chosen && r.rail === "cadence");
  return (
    <div className="mt-6 grid gap-6 md:grid-cols-2">
      {d.cadence && runs && (
        <section aria-label="Cadence">
          <h2 className="text-xl">
            <Why reason={d.cadence.why} title="Cadence">
              Cadence {Math.round(d.cadence.own)} → {Math.round(d.cadence.target)}
            </Why>
          </h2>
          <ol>
            {d.cadence.steps.map((s) => (
              <li key={s.spm} className="border-b border-line py-1">
                <span className="fig text-lg font-semibold">{s.spm}</span> a minute from {day(s.from)}, counted again{" "}
                {day(s.count)}
              </li>
            ))}
          </ol>
          <p className="text-quiet">{d.cadence.hold}</p>
        </section>
      )}
      <section aria-label="To measure again">
        <h2 className="text-xl">To measure again</h2>
        <ul>
          {d.retests.map((r) => (
            <li key={r.on + r.what} className="border-b border-line py-1">
              <span className="fig">{day(r.on)}</span> {r.what}
            </li>
          ))}
        </ul>
      </section>
      {d.advice.length > 0 && (
        <section aria-label="To mind">
          <h2 className="text-xl">To mind</h2>
          <ul className="list-disc pl-5">
            {d.advice.map((a) => (
              <li key={a}>{a}</li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

/** Two drafts side by side: one kept aside, one on the page. */
function Compare({
  runner,
  a,
  b,
  keep,
  take,
}: {
  runner: string;
  a: Choices | null;
  b: Choices;
  keep: () => void;
  take: (c: Choices) => void;
}) {
  const [all, setAll] = useState("differences");
  const q = useQuery(rooms.drafts(runner, a, b));
  return (
    <section aria-label="Two drafts" className="mt-6 border-t-2 border-line pt-4">
      <div className="flex flex-wrap items-end gap-3">
        <h2 className="mr-2 text-xl">Two drafts</h2>
        <Button onClick={keep}>{a ? "Put this one aside instead" : "Put this draft aside to compare"}</Button>
        {a && <Button onClick={() => take(a)}>Back to the one put aside</Button>}
        {a && (
          <div className="w-44">
            <Choice
              label="Show"
              value={all}
              options={[
                { id: "differences", name: "what differs" },
                { id: "all", name: "everything" },
              ]}
              onChange={setAll}
            />
          </div>
        )}
      </div>
      <Failure error={q.error} />
      {a && q.data && (
        <table className="mt-3 w-full table-fixed border-collapse">
          <thead>
            <tr className="border-b-2 border-ink text-left">
              <th className="w-40 py-1" />
              <th scope="col">put aside</th>
              <th scope="col">on this page</th>
            </tr>
          </thead>
          <tbody>
            {q.data
              .filter((r) => all === "all" || !r.same)
              .map((r) => (
                <tr key={r.name} className="border-b border-line align-top">
                  <th scope="row" className="py-1.5 pr-2 text-left font-semibold">
                    {r.name}
                  </th>
                  <td className="py-1.5 pr-3">{r.a}</td>
                  <td className={`py-1.5 ${r.same ? "" : "font-semibold"}`}>{r.b}</td>
                </tr>
              ))}
            {q.data.every((r) => r.same) && all !== "all" && (
              <tr>
                <td colSpan={3} className="py-2 text-quiet">
                  The two are the same so far. Change something above.
                </td>
              </tr>
            )}
          </tbody>
        </table>
      )}
    </section>
  );
}
