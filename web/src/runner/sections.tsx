import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Chip, Toggle } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Pick, sides } from "../ui/Pick";
import { FootMap } from "../ui/FootMap";
import { emptyShoe, emptySymptom, shoeFigures, type CautionNote, type Draft } from "./draft";
import { Note } from "../ui/Note";

/** What every section of the intake is given, on the desk and on the runner's phone. */
export interface Part {
  d: Draft;
  set: (part: Partial<Draft>) => void;
  fields: Record<string, string>;
}

export const goals = [
  { id: "pain_free", name: "Run without pain" },
  { id: "distance", name: "Run further" },
  { id: "hills", name: "Hills and trails" },
  { id: "speed", name: "Run faster" },
  { id: "barefoot", name: "Towards barefoot" },
];

export function fig({ d, set, fields }: Part, k: string) {
  return {
    value: d.figures[k] ?? "",
    onText: (text: string) => set({ figures: { ...d.figures, [k]: text } }),
    error: fields["profile." + k] ?? fields["profile.equipment." + k],
    inputMode: "decimal" as const,
  };
}

export function BodyFigures(p: Part) {
  return (
    <>
      <Field label="Born" {...fig(p, "birthDate")} type="date" inputMode={undefined} />
      <Choice
        label="Sex (if wished)"
        value={p.d.sex}
        options={[
          { id: "", name: "not said" },
          { id: "female", name: "female" },
          { id: "male", name: "male" },
        ]}
        onChange={(sex) => p.set({ sex })}
      />
      <Field label="Height" unit="cm" {...fig(p, "heightCm")} />
      <Field label="Body mass" unit="kg" {...fig(p, "massKg")} />
      <Field label="Foot length" unit="mm" {...fig(p, "footMm")} />
      <Field label="Hours sitting a day" unit="h" {...fig(p, "sittingHours")} />
      <Field label="Hours standing a day" unit="h" {...fig(p, "standingHours")} />
    </>
  );
}

/** What needs a tape and a second pair of hands. */
export function TapeFigures(p: Part) {
  return (
    <>
      <Field label="Leg, hip bone to inner ankle" unit="mm" {...fig(p, "legMm")} />
      <Field label="Big toe, joint to tip" unit="mm" {...fig(p, "bigToeMm")} />
      <Field label="Foot width, standing" unit="mm" {...fig(p, "footWidthMm")} />
    </>
  );
}

export function Kit(p: Part) {
  const { d, set, fields } = p;
  const list = (k: keyof Draft["lists"], label: string, unit: string, hint: string) => (
    <Field
      label={label}
      unit={unit}
      hint={hint}
      value={d.lists[k]}
      onText={(text) => set({ lists: { ...d.lists, [k]: text } })}
      error={fields["profile.equipment." + k]}
    />
  );
  const owns: [keyof Draft["owns"], string][] = [
    ["softBall", "Soft ball"],
    ["firmBall", "Firm ball"],
  ];
  return (
    <>
      <div className="grid grid-cols-2 gap-4 md:grid-cols-4">
        {list("dumbbellsKg", "Dumbbells", "kg", "each weight, with spaces")}
        {list("platesMm", "Plates or books to stack", "mm", "each thickness, with spaces")}
        {list("rollersCm", "Rollers", "cm", "each diameter, with spaces")}
        <Field label="Step or stair" unit="cm" {...fig(p, "stepCm")} />
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-x-6">
        {owns.map(([k, name]) => (
          <Check key={k} checked={d.owns[k]} onChange={(on) => set({ owns: { ...d.owns, [k]: on } })}>
            {name}
          </Check>
        ))}
        <span className="flex flex-wrap items-center gap-1.5">
          Bands:
          {["light", "medium", "strong"].map((b) => (
            <Toggle
              key={b}
              on={d.bands.includes(b)}
              onChange={(on) => set({ bands: on ? [...d.bands, b] : d.bands.filter((x) => x !== b) })}
            >
              {b}
            </Toggle>
          ))}
        </span>
      </div>
    </>
  );
}

export function ShoeForms({ d, set, fields }: Part) {
  const change = (i: number, part: Partial<Draft["shoes"][0]>) =>
    set({ shoes: d.shoes.map((x, j) => (j === i ? { ...x, ...part } : x)) });
  return (
    <>
      {d.shoes.length === 0 && <p className="text-quiet">None yet.</p>}
      {d.shoes.map((s, i) => (
        <fieldset key={i} className="mb-3 border-l-2 border-line pl-3">
          <legend className="sr-only">Shoe {i + 1}</legend>
          <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
            <Field label="Name" value={s.name} onChange={(e) => change(i, { name: e.target.value })} />
            {shoeFigures.map(([k, label, unit]) => (
              <Field
                key={k}
                label={label}
                unit={unit}
                inputMode="decimal"
                value={s.figures[k] ?? ""}
                onChange={(e) => change(i, { figures: { ...s.figures, [k]: e.target.value } })}
              />
            ))}
            <Field
              label="Bought"
              type="date"
              value={s.bought}
              onChange={(e) => change(i, { bought: e.target.value })}
            />
            <Field label="Worn at" value={s.worn} onChange={(e) => change(i, { worn: e.target.value })} />
            <Button kind="quiet" className="self-end" onClick={() => set({ shoes: d.shoes.filter((_, j) => j !== i) })}>
              Remove the shoe
            </Button>
          </div>
          <p className="text-brick">{fields[`profile.shoes[${i}]`]}</p>
        </fieldset>
      ))}
      <Button onClick={() => set({ shoes: [...d.shoes, emptyShoe()] })}>Add a shoe</Button>
    </>
  );
}

export function Before({ d, set, fields }: Part) {
  const word = (k: "injuries" | "prescribed", label: string, hint: string) => (
    <label className="block">
      <span className="block text-[0.9rem] font-medium">{label}</span>
      <textarea
        value={d.words[k]}
        rows={2}
        onChange={(e) => set({ words: { ...d.words, [k]: e.target.value } })}
        className="mt-1 w-full rounded-sq border border-line bg-panel px-3 py-2"
      />
      <span className="block text-sm text-quiet">{hint}</span>
    </label>
  );
  return (
    <div className="grid gap-4 md:grid-cols-2">
      {word("injuries", "Earlier injuries, surgery, fractures", "Foot and ankle; metal in the ankle too.")}
      {word("prescribed", "Inserts or supports a clinician prescribed", "They stay as prescribed.")}
      <Check checked={d.sprain} onChange={(sprain) => set({ sprain })}>
        An ankle sprained before
      </Check>
      <Structural d={d} set={set} fields={fields} />
    </div>
  );
}

const given = [
  { id: "foot.short", name: "arch that does not lift (flat since birth)" },
  { id: "toe.passive_height", name: "big toe that does not bend (fused)" },
  { id: "ankle.knee_to_wall", name: "ankle that does not bend further (hardware, fused)" },
];

/** Findings that are as they are: their criterion is waived, what depends on them stays out. */
function Structural({ d, set, fields }: Part) {
  const change = (i: number, part: Partial<Draft["structural"][0]>) =>
    set({ structural: d.structural.map((x, j) => (j === i ? { ...x, ...part } : x)) });
  return (
    <div className="md:col-span-2">
      {d.structural.map((x, i) => (
        <div key={i} className="mb-2 grid items-end gap-3 md:grid-cols-[2fr_1fr_2fr_auto]">
          <Choice label="As it is" value={x.measure} options={given} onChange={(measure) => change(i, { measure })} />
          <Choice
            label="Side"
            value={x.side}
            options={["left", "right", "both"].map((y) => ({ id: y, name: y }))}
            onChange={(side) => change(i, { side })}
          />
          <Field
            label="A word why"
            value={x.word}
            error={fields[`profile.structural[${i}]`]}
            onChange={(e) => change(i, { word: e.target.value })}
          />
          <Button kind="quiet" onClick={() => set({ structural: d.structural.filter((_, j) => j !== i) })}>
            Remove
          </Button>
        </div>
      ))}
      <Button
        onClick={() => set({ structural: [...d.structural, { measure: given[0]?.id ?? "", side: "left", word: "" }] })}
      >
        Record something that will not change
      </Button>
    </div>
  );
}

/** The foot-and-leg map and, for each place tapped, how it hurts. */
export function Symptoms({
  d,
  set,
  fields,
  regions,
  times,
  narrow,
}: Part & { regions: Schemas["NamedRegion"][]; times: Schemas["Moment"][]; narrow?: boolean }) {
  const change = (i: number, part: Partial<Draft["symptoms"][0]>) =>
    set({ symptoms: d.symptoms.map((x, j) => (j === i ? { ...x, ...part } : x)) });
  const name = (r: string) => regions.find((x) => x.id === r)?.name ?? r;
  const scale = Array.from({ length: 11 }, (_, n) => ({ id: String(n), name: String(n) }));
  return (
    <>
      <p className="mb-2 text-quiet">Tap where it hurts; tap again to take it away.</p>
      <FootMap
        wide={narrow}
        marked={d.symptoms}
        onPick={(region, side) => {
          const there = d.symptoms.some((s) => s.region === region && (s.side === side || s.side === "both"));
          set({
            symptoms: there
              ? d.symptoms.filter((s) => !(s.region === region && (s.side === side || s.side === "both")))
              : [...d.symptoms, emptySymptom(region, side)],
          });
        }}
      />
      {d.symptoms.map((s, i) => (
        <fieldset key={s.region + s.side} className="mt-3 border-l-4 border-cinder bg-panel px-4 py-3">
          <legend className="float-left w-full text-lg font-semibold">
            {s.side === "both" ? "Both sides, " : `${s.side.charAt(0).toUpperCase()}${s.side.slice(1)} `}
            {name(s.region)}
          </legend>
          <div className="clear-both">
            <p className="text-[0.9rem] font-medium">Worst of the last week, 0–10</p>
            <Pick
              label={`Worst pain, ${s.side} ${name(s.region)}`}
              value={s.worst}
              options={scale}
              onChange={(worst) => change(i, { worst })}
            />
            <p className="mt-2 text-[0.9rem] font-medium">Usual first steps or daily pain, 0–10</p>
            <Pick
              label={`Usual pain, ${s.side} ${name(s.region)}`}
              value={s.baseline}
              options={scale}
              onChange={(baseline) => change(i, { baseline })}
            />
            <p className="mt-2 text-[0.9rem] font-medium">When</p>
            <div className="flex flex-wrap gap-1.5">
              {times.map((t) => (
                <Chip
                  key={t.id}
                  on={s.when.includes(t.id)}
                  onChange={(on) => change(i, { when: on ? [...s.when, t.id] : s.when.filter((x) => x !== t.id) })}
                >
                  {t.name}
                </Chip>
              ))}
            </div>
            <div className="mt-2 flex flex-wrap items-end gap-4">
              <Field
                label="Since"
                type="date"
                value={s.since}
                onChange={(e) => change(i, { since: e.target.value })}
                className="w-48"
              />
              <Button kind="quiet" onClick={() => set({ symptoms: d.symptoms.filter((_, j) => j !== i) })}>
                Remove
              </Button>
            </div>
            {s.when.some((w) => w === "night" || w === "rest") && (
              <p className="mt-2 font-semibold text-brick">
                ⬣ Pain at night or at rest: answer the warning signs before anything else.
              </p>
            )}
          </div>
        </fieldset>
      ))}
      <p className="text-brick">{fields["profile.symptoms"]}</p>
    </>
  );
}

/** The cautions as yes/no, each with the days and the leg it asks for, and the feeling of the soles. */
export function Cautions({ d, set, cautions, today }: Part & { cautions: Schemas["ReferCaution"][]; today: string }) {
  const note = (id: string) => d.cautionNotes[id] ?? {};
  const change = (id: string, part: CautionNote) =>
    set({ cautionNotes: { ...d.cautionNotes, [id]: { ...note(id), ...part } } });
  return (
    <>
      <div className="grid gap-x-6 md:grid-cols-2">
        {cautions
          .filter((c) => !c.derived || d.cautions.includes(c.id))
          .map((c) => (
            <div key={c.id}>
              <Check
                checked={d.cautions.includes(c.id)}
                onChange={(on) => set({ cautions: on ? [...d.cautions, c.id] : d.cautions.filter((x) => x !== c.id) })}
              >
                {c.question}
              </Check>
              {d.cautions.includes(c.id) && (
                <Note kind="caution within" className="mb-3">
                  <p className="text-ochre">{c.limits}</p>
                  <div className="mt-1 flex flex-wrap items-end gap-3">
                    {c.date && (
                      <Field
                        label={c.date}
                        type="date"
                        value={note(c.id).on ?? ""}
                        onChange={(e) => change(c.id, { on: e.target.value })}
                        hint="Not known: it counts as today."
                      />
                    )}
                    {c.until && (
                      <Field
                        label={c.until}
                        type="date"
                        value={note(c.id).until ?? ""}
                        onChange={(e) => change(c.id, { until: e.target.value })}
                      />
                    )}
                    {c.leg && (
                      <Pick
                        label="Leg"
                        value={note(c.id).side ?? ""}
                        options={sides}
                        onChange={(v) => change(c.id, { side: v })}
                      />
                    )}
                    {c.healed && (
                      <Check checked={!!note(c.id).healed} onChange={(healed) => change(c.id, { healed })}>
                        {c.healed}
                      </Check>
                    )}
                  </div>
                </Note>
              )}
            </div>
          ))}
      </div>
      <fieldset className="mt-2">
        <legend className="font-medium">Can they feel a light touch on every toe?</legend>
        <div className="flex flex-wrap gap-6">
          <Check checked={d.touch.left} onChange={(left) => set({ touch: { ...d.touch, left, on: today } })}>
            Left foot, yes
          </Check>
          <Check checked={d.touch.right} onChange={(right) => set({ touch: { ...d.touch, right, on: today } })}>
            Right foot, yes
          </Check>
        </div>
      </fieldset>
    </>
  );
}
