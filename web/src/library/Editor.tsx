import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { Clash } from "./Clash";
import { ExerciseForm } from "./ExerciseForm";
import { idOf, type CatalogRail } from "./Library";
import { Amount, Lines, Marks, toggled } from "./parts";

type Exercise = Schemas["CatalogExercise"];

const slotWords: Record<string, string> = {
  before: "before a run",
  run: "inside a run",
  after: "after a run",
  own: "own session",
  evening: "evening",
  habit: "daily chores",
};

/** A rail of the practice: added, copied or changed. The core checks it as it checks its own. */
export function Editor({
  start,
  version,
  fresh,
  lib,
  regions,
  close,
}: {
  start: CatalogRail;
  version: number;
  fresh: boolean;
  lib: Schemas["Library"];
  regions: Schemas["NamedRegion"][];
  close: (rail?: string) => void;
}) {
  const [r, setR] = useState<CatalogRail>(start);
  const [base, setBase] = useState({ rail: start, version }); // what was typed here began from it
  const deed = useDeed(stale.rules);
  const set = (part: Partial<CatalogRail>) => setR((old) => ({ ...old, ...part }));
  const change = (i: number, part: Partial<Exercise>) =>
    set({ exercises: r.exercises.map((e, j) => (j === i ? { ...e, ...part } : e)) });
  const f = deed.fields;
  const now = lib.rails.find((x) => x.rail.id === base.rail.id);
  const theirs = !fresh && now && now.version > base.version ? now : null; // kept by somebody else meanwhile
  const keep = async () => {
    const id = fresh ? r.id || idOf(r.name) : r.id;
    const ok = await deed.run(async () => {
      await ask(
        api.PUT("/api/library/{rail}", {
          params: { path: { rail: id } },
          body: { saw: base.version, rail: { ...r, id, short: r.short || r.name } },
        }),
      );
    });
    if (ok) close(id);
  };
  const add = () => {
    const within = fresh ? idOf(r.name || "rail") : r.id;
    set({ exercises: [...r.exercises, begun(within, r.exercises.length + 1)] });
  };
  return (
    <>
      <Heading
        aside={
          <span className="flex gap-2">
            <Button kind="main" disabled={deed.busy} onClick={keep}>
              Keep for our practice
            </Button>
            <Button onClick={() => close()}>Leave</Button>
          </span>
        }
      >
        {fresh ? "A rail of our own" : r.name}
      </Heading>
      {theirs ? (
        <Clash
          start={base.rail}
          mine={r}
          theirs={theirs.rail}
          by={theirs.coach ?? ""}
          onward={(rail) => {
            setR(rail);
            setBase({ rail: theirs.rail, version: theirs.version });
          }}
        />
      ) : (
        <Failure error={deed.error} />
      )}
      <div key={base.version /* what was taken in stands in the fields */}>
        <div className="grid gap-3 md:grid-cols-4">
          <Field label="Name" value={r.name} error={f.name} onChange={(e) => set({ name: e.target.value })} />
          <Field label="Short, for the week" value={r.short} onChange={(e) => set({ short: e.target.value })} />
          <Choice
            label="Part of the session"
            value={r.part}
            options={lib.parts.map((p) => ({ id: p, name: p }))}
            onChange={(part) => set({ part })}
          />
          <Choice
            label="Moves like"
            value={r.class}
            options={lib.names.classes.map((c) => ({ id: c, name: c }))}
            onChange={(c) => set({ class: c })}
          />
          <Amount label="Sessions a week" value={r.perWeek} error={f.perWeek} on={(perWeek) => set({ perWeek })} />
          <Amount
            label="Free days between"
            value={r.gapDays ?? 0}
            error={f.gapDays}
            on={(gapDays) => set({ gapDays })}
          />
          <Amount label="Rest between sets, s" value={r.restS} on={(restS) => set({ restS })} />
        </div>
        <Marks
          label="Trains"
          all={lib.names.trainings.map((t) => [t, t])}
          on={r.trains}
          error={f.trains}
          set={(x, on) => set({ trains: toggled(r.trains, x, on) })}
        />
        <Marks
          label="May stand"
          all={lib.names.slots.map((t) => [t, slotWords[t] ?? t])}
          on={r.when}
          error={f.when}
          set={(x, on) => set({ when: toggled(r.when, x, on) })}
        />
        <Marks
          label="Places that concern it"
          all={regions.filter((g) => g.id !== "whole_person").map((g) => [g.id, g.name])}
          on={r.regions}
          error={f.regions}
          set={(x, on) => set({ regions: toggled(r.regions, x, on) })}
        />
        <Lines label="Faults, one a line" value={r.faults} on={(faults) => set({ faults })} />
        <Lines label="Stop signs, one a line" value={r.stopWhen} on={(stopWhen) => set({ stopWhen })} />
        <Heading level={2}>Exercises, easiest first</Heading>
        {f.exercises && <p className="text-brick">{f.exercises}</p>}
        {r.exercises.map((e, i) => (
          <ExerciseForm
            key={e.id}
            e={e}
            n={i + 1}
            lib={lib}
            error={(k) => f[`exercises[${i}].${k}`]}
            change={(part) => change(i, part)}
            up={i > 0 ? () => set({ exercises: swapped(r.exercises, i) }) : undefined}
            out={
              fresh || !lib.rails.some((x) => x.rail.exercises.some((y) => y.id === e.id))
                ? () => set({ exercises: r.exercises.filter((_, j) => j !== i) })
                : undefined
            }
          />
        ))}
      </div>
      <Button onClick={add}>Add an exercise</Button>
    </>
  );
}

/** An exercise that nothing is said of yet. */
const begun = (rail: string, n: number): Exercise => ({
  id: `${rail.slice(0, 30)}_x${Date.now().toString(36).slice(-5)}`,
  name: `Exercise ${n}`,
  level: 0,
  unstated: true,
  doses: ["2 × 8", "3 × 8", "3 × 10"],
  ladder: [],
  needs: [],
  setUp: "",
  cues: [],
  good: "",
  faults: [],
  stopWhen: [],
  first: [],
  not: [],
  when: [],
});

const swapped = (list: Exercise[], i: number) => {
  const [before, at] = [list[i - 1], list[i]];
  return before && at ? [...list.slice(0, i - 1), at, before, ...list.slice(i + 1)] : list;
};
