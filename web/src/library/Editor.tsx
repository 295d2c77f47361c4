import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Toggle } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { idOf, type CatalogRail } from "./Library";

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
  const deed = useDeed(stale.rules);
  const set = (part: Partial<CatalogRail>) => setR((old) => ({ ...old, ...part }));
  const change = (i: number, part: Partial<Exercise>) =>
    set({ exercises: r.exercises.map((e, j) => (j === i ? { ...e, ...part } : e)) });
  const lines = (s: string) =>
    s
      .split("\n")
      .map((x) => x.trim())
      .filter(Boolean);
  const f = deed.fields;
  const toggle = <T extends string>(list: T[], x: T, on: boolean) => (on ? [...list, x] : list.filter((y) => y !== x));
  const keep = async () => {
    const id = fresh ? r.id || idOf(r.name) : r.id;
    const ok = await deed.run(async () => {
      await ask(
        api.PUT("/api/library/{rail}", {
          params: { path: { rail: id } },
          body: { saw: version, rail: { ...r, id, short: r.short || r.name } },
        }),
      );
    });
    if (ok) close(id);
  };
  const add = () => {
    const n = r.exercises.length + 1;
    set({
      exercises: [
        ...r.exercises,
        {
          id: `${(fresh ? idOf(r.name || "rail") : r.id).slice(0, 30)}_x${Date.now().toString(36).slice(-5)}`,
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
        },
      ],
    });
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
      <Failure error={deed.error} />
      <div className="grid gap-3 md:grid-cols-4">
        <Field label="Name" value={r.name} error={f.name} onChange={(e) => set({ name: e.target.value })} />
        <Field label="Short, for the week" value={r.short} onChange={(e) => set({ short: e.target.value })} />
        <Choice
          label="Part of the session"
          value={r.part}
          options={lib.parts.map((p) => ({ id: p, name: p }))}
          onChange={(part) => set({ part: part })}
        />
        <Choice
          label="Moves like"
          value={r.class}
          options={lib.names.classes.map((c) => ({ id: c, name: c }))}
          onChange={(c) => set({ class: c })}
        />
        <Amount label="Sessions a week" value={r.perWeek} error={f.perWeek} on={(perWeek) => set({ perWeek })} />
        <Amount label="Free days between" value={r.gapDays ?? 0} error={f.gapDays} on={(gapDays) => set({ gapDays })} />
        <Amount label="Rest between sets, s" value={r.restS} on={(restS) => set({ restS })} />
      </div>
      <Marks
        label="Trains"
        all={lib.names.trainings.map((t) => [t, t])}
        on={r.trains}
        error={f.trains}
        set={(x, on) => set({ trains: toggle(r.trains, x, on) })}
      />
      <Marks
        label="May stand"
        all={lib.names.slots.map((t) => [t, slotWords[t] ?? t])}
        on={r.when}
        error={f.when}
        set={(x, on) => set({ when: toggle(r.when, x as never, on) })}
      />
      <Marks
        label="Places that concern it"
        all={regions.filter((g) => g.id !== "whole_person").map((g) => [g.id, g.name])}
        on={r.regions}
        error={f.regions}
        set={(x, on) => set({ regions: toggle(r.regions, x, on) })}
      />
      <Lines label="Faults, one a line" value={r.faults} on={(faults) => set({ faults })} lines={lines} />
      <Lines label="Stop signs, one a line" value={r.stopWhen} on={(stopWhen) => set({ stopWhen })} lines={lines} />
      <Heading level={2}>Exercises, easiest first</Heading>
      {f.exercises && <p className="text-brick">{f.exercises}</p>}
      {r.exercises.map((e, i) => {
        const at = (k: string) => f[`exercises[${i}].${k}`];
        const published = !!e.stageDays;
        return (
          <fieldset key={e.id} className="mb-4 border border-line bg-panel p-4">
            <legend className="px-1 text-lg font-semibold">
              {i + 1}. {e.name || "without a name"}
            </legend>
            <div className="grid gap-3 md:grid-cols-2">
              <Field
                label="Name"
                value={e.name}
                error={at("name") ?? at("id")}
                onChange={(x) => change(i, { name: x.target.value })}
              />
              <Lines
                label="Doses, low to high, one a line"
                value={e.doses}
                error={at("doses")}
                hint={
                  published
                    ? "A published programme keeps its own doses; copy the rail to change them."
                    : "such as 2 × 8, 3 × 30 s, 60 s in all"
                }
                disabled={published}
                on={(doses) => change(i, { doses })}
                lines={lines}
              />
              <Lines
                label="Set-up"
                value={[e.setUp]}
                error={at("setUp")}
                on={(x) => change(i, { setUp: x.join(" ") })}
                lines={lines}
              />
              <Lines
                label="Cues, one to four lines"
                value={e.cues}
                error={at("cues")}
                on={(cues) => change(i, { cues })}
                lines={lines}
              />
              <Lines
                label="What good looks like"
                value={[e.good]}
                error={at("good")}
                on={(x) => change(i, { good: x.join(" ") })}
                lines={lines}
              />
              <Lines
                label="Its own stop signs"
                value={e.stopWhen}
                error={at("stopWhen")}
                hint="Empty: those of the rail."
                on={(stopWhen) => change(i, { stopWhen })}
                lines={lines}
              />
            </div>
            <Marks
              label="Needs"
              all={lib.kit.map((k) => [k.id, k.name])}
              on={e.needs}
              error={at("needs")}
              set={(x, on) => change(i, { needs: toggle(e.needs, x, on) })}
            />
            <Safety e={e} change={(part) => change(i, part)} error={at} />
            <div className="mt-2 flex flex-wrap items-center gap-4">
              <Check checked={!!e.retired} onChange={(retired) => change(i, { retired })}>
                Retired
              </Check>
              <Amount
                label="Part of the body lifted, 0–1"
                value={e.share ?? 0}
                error={at("share")}
                on={(share) => change(i, { share })}
              />
              <Button disabled={i === 0} onClick={() => set({ exercises: swapped(r.exercises, i) })}>
                Move up
              </Button>
              {(fresh || !lib.rails.some((x) => x.rail.exercises.some((y) => y.id === e.id))) && (
                <Button kind="quiet" onClick={() => set({ exercises: r.exercises.filter((_, j) => j !== i) })}>
                  Take out
                </Button>
              )}
            </div>
          </fieldset>
        );
      })}
      <Button onClick={add}>Add an exercise</Button>
    </>
  );
}

const swapped = (list: Exercise[], i: number) => {
  const [before, at] = [list[i - 1], list[i]];
  return before && at ? [...list.slice(0, i - 1), at, before, ...list.slice(i + 1)] : list;
};

function Amount({
  label,
  value,
  error,
  on,
}: {
  label: string;
  value: number;
  error?: string;
  on: (n: number) => void;
}) {
  const [text, setText] = useState(String(value));
  return (
    <Field
      label={label}
      inputMode="decimal"
      value={text}
      error={error}
      onChange={(e) => {
        setText(e.target.value);
        const n = Number(e.target.value.replace(",", "."));
        if (Number.isFinite(n)) on(n);
      }}
    />
  );
}

/** A list typed a line each; it keeps what is typed until it is left. */
function Lines({
  label,
  value,
  error,
  hint,
  disabled,
  on,
  lines,
}: {
  label: string;
  value: string[];
  error?: string;
  hint?: string;
  disabled?: boolean;
  on: (v: string[]) => void;
  lines: (s: string) => string[];
}) {
  const [text, setText] = useState(value.join("\n"));
  return (
    <label className="block">
      <span className="block text-[0.9rem] font-medium">{label}</span>
      <textarea
        rows={Math.max(2, Math.min(6, value.length))}
        value={text}
        disabled={disabled}
        aria-invalid={!!error}
        onChange={(e) => {
          setText(e.target.value);
          on(lines(e.target.value));
        }}
        className={`mt-1 w-full rounded-sq border bg-ground px-3 py-2 ${error ? "border-2 border-brick" : "border-line"}`}
      />
      {error ? (
        <span className="block text-brick">{error}</span>
      ) : (
        hint && <span className="block text-sm text-quiet">{hint}</span>
      )}
    </label>
  );
}

function Marks({
  label,
  all,
  on,
  error,
  set,
}: {
  label: string;
  all: [string, string][];
  on: string[];
  error?: string;
  set: (x: string, on: boolean) => void;
}) {
  return (
    <fieldset className="mt-3">
      <legend className="text-[0.9rem] font-medium">{label}</legend>
      <div className="mt-1 flex flex-wrap gap-1.5">
        {all.map(([id, name]) => (
          <Toggle key={id} on={on.includes(id)} onChange={(x) => set(id, x)}>
            {name}
          </Toggle>
        ))}
      </div>
      {error && <p className="text-brick">{error}</p>}
    </fieldset>
  );
}

const levels = [
  "0 · unloaded, release",
  "1 · partly loaded",
  "2 · body mass, whole foot or two legs",
  "3 · one leg heel off, or external load",
  "4 · one leg heel off with external load, 12 RM and less",
];
const tags: [string, string][] = [
  ["grip", "toes grip"],
  ["toe_range", "toe range"],
  ["ankle_range", "ankle range"],
  ["forced", "forced range"],
  ["deep_squat", "deep squat"],
  ["one_leg", "one leg"],
  ["eyes_closed", "eyes closed"],
  ["block", "on a block"],
  ["shin_pressure", "pressure on the shin"],
  ["lowering", "lowering"],
  ["rm", "loaded to a maximum (RM)"],
  ["to_failure", "to failure"],
  ["outdoors", "bare outdoors"],
  ["walking", "bare walk"],
  ["calf", "calf work"],
  ["joint", "pressure on a joint"],
];

/** What the exercise asks of the legs: permissions are judged by it alone. */
function Safety({
  e,
  change,
  error,
}: {
  e: CatalogRail["exercises"][number];
  change: (part: Partial<CatalogRail["exercises"][number]>) => void;
  error: (field: string) => string | undefined;
}) {
  const state = (part: Partial<CatalogRail["exercises"][number]>) => change({ ...part, unstated: false });
  const mark = (k: "bare" | "edge" | "toesBack" | "pressure" | "cold", name: string) => (
    <Check checked={!!e[k]} onChange={(on) => state({ [k]: on, ...(k === "bare" && !on ? { stage: 0 } : {}) })}>
      {name}
    </Check>
  );
  const on = e.tags ?? [];
  return (
    <fieldset className="mt-3 border border-line p-3">
      <legend className="px-1 font-medium">What it asks of the legs</legend>
      {e.unstated && (
        <p className="mb-2 border-l-4 border-ochre pl-3">
          Guessed{e.copyOf ? ` from “${e.copyOf}”` : ": nobody said, so it counts as the hardest it could be"}. Set any
          of these to confirm.
        </p>
      )}
      <div className="grid gap-3 md:grid-cols-4">
        <Choice
          label="Level"
          value={String(e.level)}
          options={levels.map((name, id) => ({ id: String(id), name }))}
          onChange={(v) => state({ level: Number(v) })}
        />
        <Choice
          label="Bouncing"
          value={e.impact || "none"}
          options={[
            { id: "none", name: "none" },
            { id: "supported", name: "hands taking weight" },
            { id: "free", name: "free" },
          ]}
          onChange={(v) => state({ impact: v })}
        />
        <Choice
          label="Trains"
          value={e.trainsLegs || "side"}
          options={[
            { id: "side", name: "one leg at a time" },
            { id: "both", name: "both at once" },
            { id: "none", name: "no leg" },
          ]}
          onChange={(v) => state({ trainsLegs: v })}
        />
        <Choice
          label="Stands on"
          value={e.bears || "none"}
          options={[
            { id: "none", name: "no leg" },
            { id: "trained", name: "the trained leg" },
            { id: "other", name: "the other leg" },
            { id: "both", name: "both" },
          ]}
          onChange={(v) => state({ bears: v })}
        />
        <Choice
          label="Position"
          value={e.position || "standing"}
          options={[
            "standing",
            "seated",
            "kneeling",
            "half-kneeling",
            "all-fours",
            "prone",
            "supine",
            "side-lying",
          ].map((x) => ({
            id: x,
            name: x,
          }))}
          onChange={(position) => state({ position })}
        />
        {e.bare && (
          <Choice
            label="Stage of bare work"
            value={String(e.stage ?? 0)}
            options={["on the spot", "walking", "strength", "bouncing"].map((name, id) => ({
              id: String(id),
              name: `${id} · ${name}`,
            }))}
            onChange={(v) => state({ stage: Number(v) })}
          />
        )}
      </div>
      <div className="mt-2 flex flex-wrap gap-x-6">
        {mark("bare", "Bare feet")}
        {mark("edge", "Below level")}
        {mark("toesBack", "Weight on bent-back toes")}
        {mark("pressure", "Pressure")}
        {mark("cold", "Cold")}
      </div>
      <Marks
        label="Marks"
        all={tags}
        on={on}
        error={error("tags")}
        set={(x, is) => state({ tags: is ? [...on, x] : on.filter((y) => y !== x) })}
      />
      {(error("level") ?? error("impact")) && <p className="text-brick">{error("level") ?? error("impact")}</p>}
    </fieldset>
  );
}
