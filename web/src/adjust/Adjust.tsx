import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { Problem } from "../api/problem";
import { rooms, stale } from "../api/rooms";
import { useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Empty, Failure, Loading } from "../ui/Notice";
import { Verdict, verdicts } from "../ui/Verdict";
import { Rail } from "../ui/drawings";
import { Why } from "../ui/reason";
import { Entries } from "./Entries";
import { Notes, Unread } from "./Notes";
import { WhatIf } from "../load/WhatIf";
import { Mini } from "../ui/Mini";
import { Note } from "../ui/Note";

export type AdjustView = Schemas["AdjustView"];

/** One rail a row: old dose, new dose, verdict, every reason; accept or decide otherwise. */
export function Adjust() {
  const id = useRunnerId();
  const go = useNavigate();
  const q = useQuery(rooms.adjust(id));
  if (q.isPending) return <Loading what="the rails" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const v = q.data;
  if (v.rails.length === 0)
    return (
      <>
        <Heading>Adjust</Heading>
        <Unread runner={id} notes={v.notes} />
        <Empty>
          No rail is in force yet.
          <Button
            kind="main"
            className="mt-4 block"
            onClick={() => go({ to: "/runners/$runner/build", params: { runner: id } })}
          >
            Build a programme
          </Button>
        </Empty>
        <Notes runner={id} today={v.today} notes={v.notes} />
      </>
    );
  return (
    <>
      <Heading
        aside={
          <span>
            Running volume{" "}
            <Why reason={v.volume.reason} title="Running volume">
              <strong className={v.volume.state === "usual" ? "text-tide" : "text-ochre"}>{v.volume.state}</strong>
            </Why>
          </span>
        }
      >
        Adjust
      </Heading>
      <Unread runner={id} notes={v.notes} />
      <div className="mb-5 flex flex-wrap items-end gap-x-8 gap-y-3">
        <Mini weeks={v.strip} wide />
        <p className="max-w-md">
          <span className="text-sm text-quiet">Twelve weeks: run, worst first steps, moves.</span>
          {v.lead && (
            <span className="block text-lg">
              This week{" "}
              <Why reason={v.lead.why} title="Who leads this week">
                <strong>{v.lead.dial} leads</strong>
              </Why>
              {v.lead.easy && ", an easy week"}.
            </span>
          )}
        </p>
      </div>
      {v.rails.map((r) => (
        <section key={r.rail} aria-label={r.name} className="mb-8 border-b-2 border-line pb-5">
          <h2 className="text-2xl">{r.name}</h2>
          <Rail rail={r} />
          <p className="mb-3 text-sm text-quiet">
            {r.notches
              .filter((n, i) => i === 0 || r.notches[i - 1]?.exercise !== n.exercise)
              .map((n, i) => `${i + 1} ${n.name}${n.barred ? ` (${n.barred})` : ""}`)
              .join(" · ")}
          </p>
          <div className="grid gap-4 md:grid-cols-2">
            {shown(r).map(({ p, view, all }) => (
              <Side key={p.side} runner={id} p={p} proposals={all} view={view} />
            ))}
          </div>
          <History rail={r} />
        </section>
      ))}
      <Notes runner={id} today={v.today} notes={v.notes} />
      <WhatIf runner={id} watched={v.watched} />
      <Entries runner={id} view={v} />
    </>
  );
}

/** What trains both legs at once on one dose stands once. */
function shown(r: Schemas["RailView"]) {
  const sides = r.proposals.flatMap((p, i) => {
    const view = r.sides[i];
    return view ? [{ p, view, all: [p] }] : [];
  });
  const [one, other] = sides;
  const joint = one && other && one.p.from.exercise === other.p.from.exercise && r.both.includes(one.p.from.exercise);
  return joint ? [{ ...one, all: r.proposals }] : sides;
}

/** Why it is proposed: the rule that decided. */
const decided = (p: Schemas["AdjustProposal"]) =>
  p.fired[0]?.reason ?? { rule: "", says: p.verdict, saw: [], house: [], provenance: "" };

type Taken = Schemas["AdjustProposal"]["verdict"];

function Side({
  runner,
  p,
  proposals,
  view,
}: {
  runner: string;
  p: Schemas["AdjustProposal"];
  proposals: Schemas["AdjustProposal"][];
  view: Schemas["SideView"];
}) {
  const [other, setOther] = useState(false);
  const [verdict, setVerdict] = useState<Taken>("hold");
  const [word, setWord] = useState("");
  const deed = useDeed(stale.runner(runner));
  const decide = (v: Taken, w: string) =>
    deed.run(async (id) => {
      const decisions = proposals.map((x) => {
        const body = { rail: x.rail, side: x.side, prescription: x.from.id, verdict: v, word: w, seen: x.seen };
        return { ...body, id: id(body) };
      });
      const { left } = await ask(
        api.POST("/api/runners/{runner}/decisions", { params: { path: { runner } }, body: { decisions } }),
      );
      if (left) throw new Problem(409, `Not all of it was taken: ${left}.`);
      setOther(false);
      setWord("");
    });
  const moves = view.toText !== view.text;
  const barred = p.may.kind === "not_now" || p.may.kind === "never";
  return (
    <div className={`border bg-panel p-4 ${barred ? "border-dashed border-line" : "border-line"}`}>
      <div className="flex items-baseline justify-between gap-3">
        <h3 className="text-lg capitalize">
          {p.side === "both" ? "whole runner" : proposals.length > 1 ? "both legs at once" : p.side}
        </h3>
        <Why reason={decided(p)} title={`${p.side}: ${verdicts[p.verdict]?.word ?? p.verdict}`}>
          <Verdict v={p.verdict} big />
        </Why>
      </div>
      <p className={moves ? "text-quiet" : "text-lg font-semibold"}>{view.text}</p>
      {moves && (
        <p className="text-lg font-semibold">
          <span aria-hidden>→ </span>
          <span className="sr-only">to </span>
          {view.toText}
        </p>
      )}
      {barred && (
        <Note kind="stop within" className="mt-2">
          <p className="font-semibold">May not be done now</p>
          <ul>
            {p.may.reasons.map((x, i) => (
              <li key={i} className="leading-snug">
                {x.says}
                <span className="block text-quiet">Opens with: {x.opens}</span>
              </li>
            ))}
          </ul>
        </Note>
      )}
      <ul className="mt-2 space-y-1">
        {p.fired.map((f, i) => (
          <li key={i} className="leading-snug">
            <Why reason={f.reason} title={f.reason.says}>
              {f.reason.says}
            </Why>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex flex-wrap gap-2">
        {view.asks && (
          <Button kind={moves ? "main" : "plain"} disabled={deed.busy} onClick={() => decide(p.verdict, "")}>
            Accept
          </Button>
        )}
        {p.verdict === "hold" && !view.asks && <p className="py-2.5 text-quiet">Held by itself: nothing to accept.</p>}
        <Button kind="quiet" onClick={() => setOther(!other)}>
          Decide otherwise
        </Button>
      </div>
      {other && (
        <div className="mt-3 space-y-3 border-t border-line pt-3">
          <Choice
            label="Instead"
            value={verdict}
            options={view.instead.map((x) => ({ id: x, name: verdicts[x]?.word ?? x }))}
            onChange={setVerdict}
          />
          <Field
            label="A word why"
            value={word}
            onChange={(e) => setWord(e.target.value)}
            error={deed.fields["word"]}
          />
          <Button disabled={deed.busy} onClick={() => decide(verdict, word)}>
            Decide
          </Button>
        </div>
      )}
      <Failure error={deed.error} />
    </div>
  );
}

function History({ rail }: { rail: Schemas["RailView"] }) {
  const moves = rail.history.slice(-6).reverse();
  if (moves.length === 0 && rail.logged === 0) return <p className="mt-3 text-quiet">Nothing logged yet.</p>;
  return (
    <details className="mt-3">
      <summary className="min-h-11 cursor-pointer py-2 font-medium">
        Sessions and decisions ({rail.logged} and {rail.decided})
      </summary>
      <div className="grid gap-6 md:grid-cols-2">
        <ul>
          {rail.logs.slice(0, 12).map((l) => (
            <li key={l.id} className="border-b border-line py-1 text-[0.93rem]">
              <span className="fig">{day(l.on)}</span> {l.prescription.side}:{" "}
              <span className="fig">{l.done.join(" · ")}</span>, effort{" "}
              <span className="fig">{l.rpe < 0 ? "not entered" : l.rpe}</span>, pain{" "}
              <span className="fig">{l.pain}</span>
              {l.crampAt > 0 && `, cramp at ${l.crampAt}`}
              {l.faults.length > 0 && `, ${l.faults.join(", ")}`}
            </li>
          ))}
        </ul>
        <ul>
          {moves.map((d) => (
            <li key={d.id} className="border-b border-line py-1 text-[0.93rem]">
              <span className="fig">{day(d.on)}</span> {d.side}: <Verdict v={d.verdict} />{" "}
              {d.coach ? `by ${d.coach}` : "by itself"}
              {d.word && <> – “{d.word}”</>}
              <span className="block text-quiet">{d.why || "Its reason was not kept."}</span>
            </li>
          ))}
        </ul>
      </div>
    </details>
  );
}
