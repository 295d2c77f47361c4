import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";

type Opening = Schemas["ReferOpening"];

const levels = [
  { id: "", name: "not opened" },
  { id: "0", name: "0 · unloaded, release" },
  { id: "1", name: "1 · partly loaded" },
  { id: "2", name: "2 · body mass, two legs" },
  { id: "3", name: "3 · one leg, or external load" },
  { id: "4", name: "4 · one leg with external load" },
];
const impacts = [
  { id: "", name: "not opened" },
  { id: "supported", name: "hands taking weight" },
  { id: "free", name: "free bouncing" },
] as const;
const stages = [
  { id: "", name: "not opened" },
  { id: "0", name: "0 · on the spot, short indoor walks" },
  { id: "1", name: "1 · walking" },
  { id: "2", name: "2 · strength" },
  { id: "3", name: "3 · bouncing" },
  { id: "5", name: "4–5 · running" },
];
const runs = [
  { id: "", name: "not opened" },
  { id: "steps", name: "the steps back to running" },
  { id: "easy", name: "easy minutes" },
  { id: "all", name: "all running" },
] as const;
const marks = [
  ["edge", "Below level (off a step), bent-back toes"],
  ["maximal", "Lowering, maximum, to failure"],
  ["range", "Forced range"],
  ["pressure", "Pressure, release work"],
  ["cold", "Cold"],
] as const;

const everything: Opening = {
  level: 4,
  impact: "free",
  bare: 5,
  edge: true,
  maximal: true,
  range: true,
  pressure: true,
  cold: true,
  run: "all",
};

/** What somebody opens, field by field; what is not named stays closed. */
function Openings({ value, onChange }: { value: Opening; onChange: (o: Opening) => void }) {
  const number = (k: "level" | "bare") => (v: string) => {
    const rest = { ...value };
    delete rest[k];
    onChange(v === "" ? rest : { ...rest, [k]: Number(v) });
  };
  return (
    <fieldset className="w-full border border-line bg-panel p-3">
      <legend className="px-1 font-medium">What is opened, and nothing more</legend>
      <div className="grid gap-3 md:grid-cols-2">
        <Choice
          label="Highest level"
          value={value.level === undefined ? "" : String(value.level)}
          options={levels}
          onChange={number("level")}
        />
        <Choice
          label="Bouncing"
          value={value.impact === "none" ? "" : (value.impact ?? "")}
          options={impacts}
          onChange={(v) => onChange({ ...value, impact: v || undefined })}
        />
        <Choice
          label="Bare feet"
          value={value.bare === undefined ? "" : String(value.bare)}
          options={stages}
          onChange={number("bare")}
        />
        <Choice
          label="Running"
          value={value.run === "none" ? "" : (value.run ?? "")}
          options={runs}
          onChange={(v) => onChange({ ...value, run: v })}
        />
      </div>
      <div className="mt-2 flex flex-wrap gap-x-6">
        {marks.map(([k, name]) => (
          <Check key={k} checked={!!value[k]} onChange={(on) => onChange({ ...value, [k]: on || undefined })}>
            {name}
          </Check>
        ))}
      </div>
      <Button kind="quiet" onClick={() => onChange(everything)}>
        Everything is opened
      </Button>
    </fieldset>
  );
}

/** Somebody's word on what may be done: who said it, when, how, and what it opens. */
export interface Word {
  who: string;
  on: string;
  words: string;
  opens: Opening;
}

/** The fields of a word; opening false asks for no openings. */
export function WordFields({
  value,
  onChange,
  errors,
  opening = true,
}: {
  value: Word;
  onChange: (w: Word) => void;
  errors: Record<string, string>;
  opening?: boolean;
}) {
  const set = (w: Partial<Word>) => onChange({ ...value, ...w });
  return (
    <>
      <Field label="Who" value={value.who} onChange={(e) => set({ who: e.target.value })} error={errors["who"]} />
      <Field
        label="When"
        type="date"
        value={value.on}
        onChange={(e) => set({ on: e.target.value })}
        error={errors["on"]}
      />
      <Field
        label="In their words"
        value={value.words}
        onChange={(e) => set({ words: e.target.value })}
        error={errors["words"] ?? errors["limits"]}
      />
      {opening && (
        <div className="col-span-full">
          <Openings value={value.opens} onChange={(opens) => set({ opens })} />
          {errors["opens"] && <p className="text-brick">{errors["opens"]}</p>}
        </div>
      )}
    </>
  );
}
