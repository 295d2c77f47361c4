import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { rooms } from "../api/rooms";
import { useRunner, useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { Heading } from "../ui/Heading";
import { Note } from "../ui/Note";
import { Failure, Loading } from "../ui/Notice";
import { AheadView } from "./AheadView";
import { Compare, Shoes } from "./Aside";
import { Begin } from "./Begin";
import { Gate } from "./Gate";
import { Goes } from "./Goes";
import { Decided, Now } from "./Now";
import { Sheet } from "./Sheet";
import { StageRule } from "./StageRule";
import { type View } from "./stages";

const aims = { bare: "to bare feet", thin: "to a thinner shoe", strength: "bare strength only" };

/** From shoes to bare feet, or to thinner shoes: how far each foot may go, where the runner stands, and when what can be reached. */
export function Barefoot() {
  const id = useRunnerId();
  const q = useQuery(rooms.barefoot(id));
  const name = useRunner().data?.name ?? "";
  const [change, setChange] = useState(false);
  if (q.isPending) return <Loading what="the transition" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const v = q.data;
  return (
    <>
      {v.plan && v.state && <Sheet name={name} view={v} state={v.state} />}
      <div className="print:hidden">
        <Heading
          aside={
            v.plan && (
              <span className="flex flex-wrap items-center gap-2">
                <span>
                  {aims[v.plan.aim]}
                  {v.plan.shoe && `: ${v.plan.shoe}`}
                  {v.plan.aim !== "strength" && `, up to ${v.plan.cap} %`}
                </span>
                <Button aria-expanded={change} onClick={() => setChange(!change)}>
                  Change
                </Button>
                <Button onClick={() => window.print()}>Print for the runner</Button>
              </span>
            )
          }
        >
          Barefoot
        </Heading>
        <div data-scrolls className="mb-4 overflow-x-auto">
          <StageRule
            ladder={v.ladder}
            caps={v.gate.caps}
            at={v.state?.at}
            now={v.state?.now}
            to={v.state?.to}
            most={most(v)}
          />
        </div>
        {change && v.plan && <Begin key={v.planId} runner={id} view={v} done={() => setChange(false)} />}
        {v.plan && v.state ? (
          <Now runner={id} view={v} state={v.state} />
        ) : v.gate.cap < 0 ? (
          <Refused view={v} />
        ) : (
          <Begin key={v.planId} runner={id} view={v} />
        )}
        {v.plan && v.ahead && <AheadView runner={id} view={v} ahead={v.ahead} />}
        <Gate runner={id} view={v} />
        <Stages view={v} />
        <Shoes view={v} />
        <Compare runner={id} view={v} />
        {v.plan && v.state && <Goes runner={id} view={v} state={v.state} />}
        <Decided moves={v.moves} ladder={v.ladder} />
        <Cautions />
      </div>
    </>
  );
}

/** The stages in words: what each asks, its doses, what leads on, and what going wrong looks like. */
function Stages({ view }: { view: View }) {
  return (
    <section aria-label="Stages">
      <Heading level={2}>The stages</Heading>
      <ol>
        {view.stages.map((s, i) => (
          <li
            key={s.name}
            className={`border-b border-line py-2 pl-1 ${view.state?.now.stage === i ? "bg-panel" : ""}`}
          >
            <p>
              <strong>
                {i} {s.name}:
              </strong>{" "}
              {s.dose}.
            </p>
            <p className="text-sm">
              <span className="text-quiet">Asks </span>
              {s.entry}. <span className="text-quiet">On after </span>
              {s.quiet}. <span className="text-quiet">Going wrong: </span>
              {s.wrong}.
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Minutes a week at the end of the plan. */
const most = (v: View) => Math.round((v.weekly * (v.plan?.cap ?? v.cap)) / 100);

/** Nothing on bare feet begins now; what is possible instead. */
function Refused({ view }: { view: View }) {
  const feeling = view.gate.decides.some((d) => d.item === "feeling");
  return (
    <Note kind="stop" className="mb-4">
      <p className="text-lg">
        <strong className="text-brick">Nothing on bare feet begins now.</strong> {view.gate.decides[0]?.why.says}.
      </p>
      <p className="mt-1">
        Possible instead, in shoes and with a rail in reach: seated toe and arch work in socks only where it bears no
        weight, ankle range, calf work to body mass, and strength of hip and trunk; see Build.{" "}
        {feeling
          ? "A clinician may record limits for loss of feeling at intake; a light fingertip on toes 1, 3 and 5 tells where it is only not known."
          : "The table says what opens it."}
      </p>
    </Note>
  );
}

function Cautions() {
  return (
    <p className="mt-8 max-w-3xl text-sm text-quiet">
      Bone swelling is the known early injury of going bare: 10 of 19 runners in ten weeks, 1 of 17 in shoes (Ridge et
      al. 2013, MSSE 45:1363, from memory). Pain on a bone on top of the foot stops everything. Coaching, not medical
      care: licensed practice and local rules come first.
    </p>
  );
}
