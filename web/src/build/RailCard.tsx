import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas } from "../api/client";
import { rooms } from "../api/rooms";
import { useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Failure, Loading } from "../ui/Notice";
import { Why } from "../ui/reason";
import type { Choices } from "./Build";
import { Note } from "../ui/Note";

type Rail = Schemas["BuildRailPlan"];
type Side = "left" | "right" | "both";

/** One chosen rail: each side's first notch with its reason, and what the coach may set by hand. */
export function RailCard({
  rail: r,
  phase,
  choices,
  set,
  others,
}: {
  rail: Rail;
  phase: Schemas["BuildProgramme"]["phase"];
  choices: Choices;
  set: (part: Partial<Choices>) => void;
  others: Rail[];
}) {
  const [open, setOpen] = useState(false);
  const sides = r.prescriptions.flatMap((p, i) => {
    const placed = r.placed[i];
    return placed ? [{ p, placed, dose: r.doses[i] ?? "" }] : [];
  });
  // One dose of both sides stands once, with the reason that says more: the weaker side's word.
  const shown = r.once ? [sides.reduce((a, b) => (b.placed.saw.length > a.placed.saw.length ? b : a))] : sides;
  const leave = () => set({ without: [...choices.without, r.rail], also: choices.also.filter((x) => x !== r.rail) });
  return (
    <li className="border border-line bg-panel p-4">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 className="text-xl">
          {r.name}
          {r.keep && <span className="ml-2 text-base font-normal text-quiet">kept</span>}
          {r.byHand && <span className="ml-2 text-base font-normal text-cinder">▾ by hand</span>}
        </h2>
        <div className="flex flex-wrap items-center gap-2">
          <p className="fig mr-2 text-quiet">
            {r.perWeek} a week · {Math.ceil(r.seconds / 60)} min
          </p>
          <Button
            aria-expanded={open}
            onClick={() => setOpen(!open)}
            aria-label={`${open ? "Done" : "Change"}: ${r.name}`}
          >
            {open ? "Done" : "Change"}
          </Button>
          <Button kind="quiet" onClick={leave} aria-label={`Leave out ${r.name}`}>
            Leave out
          </Button>
        </div>
      </div>
      <p>
        <Why reason={r.why} title={`${r.name}: chosen?`}>
          {r.why.says}
        </Why>
      </p>
      {r.locked.map((lock, i) => (
        <p key={i} className="text-brick">
          <span aria-hidden>⬣ </span>
          <Why reason={lock} title={`${r.name}: locked`}>
            {lock.side ? `${lock.side}: ` : ""}
            {lock.says}
          </Why>
        </p>
      ))}
      <div className="mt-2 grid gap-3 md:grid-cols-2">
        {shown.map(({ p, placed, dose }) => (
          <Note key={p.side} kind="today within">
            <p className="text-sm text-quiet">
              {r.once ? "both sides at once" : p.side === "both" ? "whole runner" : p.side}
            </p>
            <p className="text-lg font-semibold">{p.name}</p>
            <Why reason={placed} title={`${r.name}, ${p.side}: first notch`}>
              <span className="text-xl font-semibold tabular-nums">{p.parked ? "parked" : dose}</span>
            </Why>
          </Note>
        ))}
      </div>
      {r.refused?.map((says) => (
        <p key={says} role="alert" className="mt-1 text-brick">
          {says}
        </p>
      ))}
      {open && <Hands r={r} phase={phase} choices={choices} set={set} others={others} />}
    </li>
  );
}

/** What may be set by hand on one rail: a notch a side, an exercise left out, another rail instead. */
function Hands({
  r,
  phase,
  choices,
  set,
  others,
}: {
  r: Rail;
  phase: Schemas["BuildProgramme"]["phase"];
  choices: Choices;
  set: (part: Partial<Choices>) => void;
  others: Rail[];
}) {
  const runner = useRunnerId();
  const q = useQuery(rooms.notches(runner, r.rail, phase));
  if (q.isPending) return <Loading what="the notches" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const notches = q.data;
  const mine = choices.notches.filter((n) => n.rail === r.rail);
  const pin = (side: Side, id: string) => {
    const rest = choices.notches.filter((n) => !(n.rail === r.rail && n.side === side));
    const n = notches.find((x) => x.id === id);
    set({ notches: n ? [...rest, { rail: r.rail, side, exercise: n.exercise, dose: n.dose, id }] : rest });
  };
  const pinned = (side: Side) => mine.find((n) => n.side === side)?.id ?? "";
  const exercises = notches.filter((n, i) => i === 0 || notches[i - 1]?.exercise !== n.exercise);
  const free = others.filter((o) => !choices.also.includes(o.rail));
  return (
    <div className="mt-3 space-y-4 border-t border-line pt-3">
      <div className="grid gap-3 md:grid-cols-2">
        {r.prescriptions.map((p) => (
          <label key={p.side} className="block">
            <span className="block text-[0.9rem] font-medium">
              Notch, {p.side === "both" ? "whole runner" : p.side}
            </span>
            <select
              value={pinned(p.side)}
              onChange={(e) => pin(p.side, e.target.value)}
              className="mt-1 min-h-11 w-full rounded-sq border border-line bg-panel px-2"
            >
              <option value="">as the tests place it</option>
              {notches.map((n) => (
                <option key={n.id} value={n.id} disabled={!!n.barred}>
                  {n.name}: {n.text}
                  {n.barred ? ` (${n.barred})` : ""}
                </option>
              ))}
            </select>
          </label>
        ))}
      </div>
      <div className="grid gap-3 md:grid-cols-2">
        <Field
          label="A word why"
          defaultValue={choices.why?.[r.rail] ?? ""}
          onBlur={(e) => set({ why: { ...choices.why, [r.rail]: e.target.value } })}
        />
        <Choice
          label="Another rail instead"
          value=""
          options={[{ id: "", name: "keep this one" }, ...free.map((o) => ({ id: o.rail, name: o.name }))]}
          onChange={(rail) =>
            rail &&
            set({
              without: [...choices.without.filter((x) => x !== rail), r.rail],
              also: [...choices.also.filter((x) => x !== r.rail), rail],
            })
          }
        />
      </div>
      <fieldset>
        <legend className="text-[0.9rem] font-medium">Exercises left out</legend>
        <div className="mt-1 flex flex-wrap gap-2">
          {exercises.map((n) => {
            const out = choices.excluded.includes(n.exercise);
            return (
              <Button
                key={n.exercise}
                aria-pressed={out}
                className={out ? "line-through decoration-ochre" : ""}
                onClick={() =>
                  set({
                    excluded: out
                      ? choices.excluded.filter((x) => x !== n.exercise)
                      : [...choices.excluded, n.exercise],
                  })
                }
              >
                {n.name}
              </Button>
            );
          })}
        </div>
      </fieldset>
    </div>
  );
}
