import { useState } from "react";
import { type Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Heading } from "../ui/Heading";
import { Note } from "../ui/Note";
import { Why } from "../ui/reason";
import { after } from "./lanes";
import { Plan } from "./Plan";

type View = Schemas["LoadView"];
type Week = Schemas["LoadWeek"];

const dials = { running: "running", strength: "strength", barefoot: "barefoot" } as const;
const kinds = { easy: "easy week", holiday: "holiday", ill: "ill", "": "" } as const;

/** The weeks of running gone by and to come: what was run against its limit, what is planned, and which one dial leads. */
export function Weeks({ runner, view }: { runner: string; view: View }) {
  const [planning, setPlanning] = useState(false);
  const most = Math.max(30, ...view.weeks.flatMap((w) => [w.limit, w.planned, w.ran]));
  const flat = view.weeks.find((w) => !!w.flat && after(w.from) > view.today);
  const now = view.weeks.find((w) => view.today >= w.from && view.today < after(w.from));
  return (
    <section aria-label="Weeks of running">
      <Heading
        level={2}
        aside={
          !planning && (
            <Button onClick={() => setPlanning(true)}>{view.planId ? "Change the plan" : "Plan the weeks"}</Button>
          )
        }
      >
        Weeks
      </Heading>
      {now && (
        <p className="mb-2 text-lg">
          This week{" "}
          <Why reason={now.why} title="Who leads this week">
            <strong>{dials[now.lead]} leads</strong>
          </Why>
          : <span className="fig font-semibold">{now.ran}</span> of at most{" "}
          <span className="fig font-semibold">{now.limit} min</span> run so far
          {now.by !== "none" && `, ${now.planned} planned`}.{now.waits.length > 0 && ` Waiting: ${waiting(now)}.`}
        </p>
      )}
      {view.wayBack && (
        <Note kind="good" className="mb-2">
          <strong className="text-tide">Back to running: </strong>
          <Why reason={view.wayBack.reason} title="Back to running">
            {view.wayBack.reason.says}
          </Why>
          {view.wayBack.days.length > 0 && ` ${view.wayBack.days.map((d) => `${day(d.on)}: ${d.what}`).join("; ")}.`}
        </Note>
      )}
      <ol data-scrolls className="relative flex items-end gap-0.5 overflow-x-auto pb-1" aria-label="Twenty weeks">
        {view.weeks.map((w) => (
          <Column key={w.from} w={w} most={most} today={view.today} />
        ))}
      </ol>
      <p className="mt-1 mb-3 text-sm text-quiet">
        Filled: run. Outlined: planned. The notch on the right edge: the most that week may hold. Below: what leads, and
        ✕ where more was run than that.
      </p>
      {flat && !planning && (
        <Note kind="caution" className="mb-3">
          In the week of {day(flat.from)} a flat week of {flat.flat} min is proposed, so that{" "}
          {flat.waits.map((x) => dials[x.dial]).join(" and ")} may lead.{" "}
          <Button kind="quiet" onClick={() => setPlanning(true)}>
            Look at the plan
          </Button>
        </Note>
      )}
      {planning && <Plan key={view.planId} runner={runner} view={view} done={() => setPlanning(false)} />}
    </section>
  );
}

const waiting = (w: Week) =>
  w.waits.map((x) => `${dials[x.dial]} since ${day(x.since)}${x.weeks > 1 ? `, ${x.weeks} weeks` : ""}`).join("; ");

const height = 112; // px

function Column({ w, most, today }: { w: Week; most: number; today: string }) {
  const px = (n: number) => Math.round((n / most) * height);
  const past = after(w.from) <= today;
  const here = w.from <= today && !past;
  const says = [
    `Week of ${day(w.from)}`,
    w.kind && kinds[w.kind],
    w.race === "race" ? "race" : "",
    w.from <= today ? (w.known ? `${w.ran} min run` : "running not told") : "",
    past ? "" : `${w.planned} min planned`,
    `at most ${w.limit}`,
    `${dials[w.lead]} leads`,
    w.waits.length > 0 ? `waiting: ${waiting(w)}` : "",
    w.flat ? `a flat week of ${w.flat} min is proposed` : "",
  ].filter(Boolean);
  return (
    <li className={`min-w-8 flex-1 text-center ${here ? "bg-sunk" : ""}`}>
      <Why reason={w.why} title={says.join(", ")} className="block border-b-transparent">
        <span className="sr-only">{says.join(", ")}</span>
        <span aria-hidden className="block">
          <span className="fig block text-sm font-semibold">{past || here ? (w.known ? w.ran : "?") : w.planned}</span>
          <span className="relative mx-auto block w-6" style={{ height }}>
            {!past && (
              <span
                className="absolute inset-x-0 bottom-0 border-2 border-dashed border-tide"
                style={{ height: Math.max(2, px(w.planned)) }}
              />
            )}
            {w.ran > 0 && (
              <span
                className={`absolute inset-x-1 bottom-0 ${w.over ? "bg-ochre" : "bg-ink"}`}
                style={{ height: px(w.ran) }}
              />
            )}
            <span className="absolute -right-1 h-0.5 w-3 bg-cinder" style={{ bottom: px(w.limit) }} />
          </span>
          <span className="block border-t-2 border-ink text-xs leading-tight">
            {short(w.from)}
            <br />
            <span className="font-semibold">
              {w.over && "✕ "}
              {{ running: "run", strength: "str.", barefoot: "bare" }[w.lead]}
            </span>
            <br />
            <span className="text-quiet">
              {w.race === "race" ? "race" : w.kind ? kinds[w.kind].split(" ")[0] : "\u00a0"}
            </span>
          </span>
        </span>
      </Why>
    </li>
  );
}

const short = (d: string) =>
  new Date(d + "T12:00:00").toLocaleDateString("en-GB", { day: "numeric", month: "numeric" });
