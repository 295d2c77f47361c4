import { useState } from "react";
import { Check } from "../ui/Check";
import { Toggle } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import type { CatalogRail } from "./Library";
import { parse } from "../ui/number";
import { Note } from "../ui/Note";

/** A list with one of its kind in it, or without. */
export const toggled = <T extends string>(list: readonly T[], x: T, on: boolean) =>
  on ? [...list, x] : list.filter((y) => y !== x);

const lines = (s: string) =>
  s
    .split("\n")
    .map((x) => x.trim())
    .filter(Boolean);

/** A plain figure of a rail. */
export function Amount({
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
        const n = parse(e.target.value);
        if (n !== null) on(n);
      }}
    />
  );
}

/** A list typed a line each; it keeps what is typed until it is left. */
export function Lines({
  label,
  value,
  error,
  hint,
  disabled,
  on,
}: {
  label: string;
  value: string[];
  error?: string;
  hint?: string;
  disabled?: boolean;
  on: (v: string[]) => void;
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

/** Several of a list, each on or off. */
export function Marks<T extends string>({
  label,
  all,
  on,
  error,
  set,
}: {
  label: string;
  all: readonly (readonly [T, string])[];
  on: readonly T[];
  error?: string;
  set: (x: T, on: boolean) => void;
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
export function Safety({
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
        <Note kind="caution within" className="mb-2">
          Guessed{e.copyOf ? ` from “${e.copyOf}”` : ": nobody said, so it counts as the hardest it could be"}. Set any
          of these to confirm.
        </Note>
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
