import { useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { useReference } from "../Desk";
import { api, ask, Problem, type Schemas } from "../api/client";
import { Button, Check, Choice, day, Failure, Field, Heading, Loading, useDeed } from "../ui/basics";
import { PrivateLink } from "./PrivateLink";
import { useRunner, useRunnerId } from "./Runner";
import { Signs } from "./Signs";

type Profile = Schemas["Profile"];
type View = Schemas["RunnerView"];

const weekdays = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const goals = [
  { id: "pain_free", name: "Run without pain" },
  { id: "distance", name: "Run further" },
  { id: "hills", name: "Hills and trails" },
  { id: "speed", name: "Run faster" },
  { id: "barefoot", name: "Towards barefoot" },
];

/** What stands in the form while it is typed: figures as text, so that nothing typed is lost. */
interface Draft {
  name: string;
  timezone: string;
  figures: Record<string, string>;
  goal: string;
  runs: { minutes: string; quality: string }[];
  minutes: string[];
  dumbbells: string;
  plates: string;
  strap: boolean;
  roll: boolean;
  symptoms: { region: string; side: string; worst: string; baseline: string; when: string }[];
  cautions: string[];
  guardian: boolean;
  heavy: string;
  approaches: Record<string, string>;
}

const numbers = [
  "heightCm",
  "massKg",
  "legMm",
  "footMm",
  "bigToeMm",
  "weeklyMinutes",
  "weeklyKm",
  "longestRunKm",
] as const;
const show = (n?: number) => (n ? String(n) : "");

function draftOf(v?: View): Draft {
  const p = v?.profile;
  const figures: Record<string, string> = { birthDate: p?.birthDate ?? "", stepCm: show(p?.equipment.stepCm) };
  for (const k of numbers) figures[k] = show(p?.[k]);
  return {
    name: v?.name ?? "",
    timezone: v?.timezone ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
    figures,
    goal: p?.goal ?? "distance",
    runs: weekdays.map((_, d) => {
      const r = p?.runs.find((x) => x.weekday === d);
      return { minutes: show(r?.minutes), quality: r?.quality ?? "easy" };
    }),
    minutes: weekdays.map((_, d) => (p ? String(p.minutesByDay[d]) : "15")),
    dumbbells: p?.equipment.dumbbellsKg.join(" ") ?? "",
    plates: p?.equipment.platesMm.join(" ") ?? "",
    strap: p?.equipment.strap ?? false,
    roll: p?.equipment.roll ?? false,
    symptoms: (p?.symptoms ?? []).map((s) => ({ ...s, worst: String(s.worst), baseline: String(s.baseline) })),
    cautions: p?.cautions ?? [],
    guardian: p?.guardianConsent ?? false,
    heavy: p?.heavyAllowed ?? "",
    approaches: p?.approaches ?? {},
  };
}

/** Reads a figure as typed; letters are refused by name, not turned into nothing. */
function figure(field: string, text: string, whole = false): number {
  const t = text.trim().replace(",", ".");
  const n = t === "" ? 0 : Number(t);
  if (!Number.isFinite(n))
    throw new Problem(422, `${field}: “${text}” is not a number`, { [field]: "is not a number" });
  if (whole && !Number.isInteger(n))
    throw new Problem(422, `${field}: “${text}” is not a whole number`, { [field]: "is not a whole number" });
  return n;
}

function profileOf(d: Draft): Profile {
  const n = (k: string, whole = false) => figure("profile." + k, d.figures[k] ?? "", whole);
  const list = (field: string, text: string) =>
    text
      .split(/[\s;]+/)
      .filter(Boolean)
      .map((x) => figure(field, x));
  return {
    birthDate: d.figures.birthDate,
    heightCm: n("heightCm"),
    massKg: n("massKg"),
    legMm: n("legMm"),
    footMm: n("footMm"),
    bigToeMm: n("bigToeMm"),
    weeklyMinutes: n("weeklyMinutes", true),
    weeklyKm: n("weeklyKm"),
    longestRunKm: n("longestRunKm"),
    goal: d.goal as Profile["goal"],
    runs: d.runs.flatMap((r, weekday) =>
      r.minutes.trim()
        ? [
            {
              weekday,
              minutes: figure("profile.runs", r.minutes, true),
              quality: r.quality as "easy" | "quality" | "long",
            },
          ]
        : [],
    ),
    minutesByDay: d.minutes.map((m) => figure("profile.minutesByDay", m, true)),
    equipment: {
      dumbbellsKg: list("profile.equipment.dumbbellsKg", d.dumbbells),
      platesMm: list("profile.equipment.platesMm", d.plates),
      stepCm: figure("profile.equipment.stepCm", d.figures.stepCm),
      strap: d.strap,
      roll: d.roll,
    },
    symptoms: d.symptoms.map((s) => ({
      region: s.region,
      side: s.side as "left",
      when: s.when,
      worst: figure("profile.symptoms", s.worst, true),
      baseline: figure("profile.symptoms", s.baseline, true),
    })),
    cautions: d.cautions,
    guardianConsent: d.guardian,
    heavyAllowed: d.heavy,
    approaches: d.approaches,
  };
}

export function IntakePage() {
  const id = useRunnerId();
  const runner = useRunner();
  const ref = useReference();
  const fresh = runner.error instanceof Problem && runner.error.status === 404;
  if (ref.isPending || (runner.isPending && !fresh)) return <Loading what="the intake" />;
  if (ref.error) return <Failure error={ref.error} />;
  return <Form key={id} view={runner.data} reference={ref.data} />;
}

function Form({ view, reference }: { view?: View; reference: Schemas["Reference"] }) {
  const id = useRunnerId();
  const queries = useQueryClient();
  const [d, setD] = useState(() => draftOf(view));
  const [version, setVersion] = useState(view?.version ?? 0);
  const [saved, setSaved] = useState("");
  const deed = useDeed();
  const set = (part: Partial<Draft>) => {
    setD((old) => ({ ...old, ...part }));
    setSaved("");
  };
  const fig = (k: string) => ({
    value: d.figures[k],
    onChange: (e: { target: { value: string } }) => set({ figures: { ...d.figures, [k]: e.target.value } }),
    error: deed.fields["profile." + k] ?? deed.fields["profile.equipment." + k],
    inputMode: "decimal" as const,
  });
  async function save(e: FormEvent) {
    e.preventDefault();
    await deed.run(async () => {
      const v = await ask(
        api.PUT("/api/runners/{runner}", {
          params: { path: { runner: id } },
          body: { name: d.name, timezone: d.timezone, version, profile: profileOf(d) },
        }),
      );
      setVersion(v.version);
      setSaved("Saved. Next: the screen.");
      queries.setQueryData(["runner", id], v);
      await queries.invalidateQueries({ queryKey: ["today"] });
    });
  }
  const regions = reference.regions.filter((r) => r.id !== "whole_person");
  const locked = view?.stops.some((s) => s.open);
  return (
    <>
      <Heading>Intake</Heading>
      <p className="mb-4 max-w-3xl text-quiet">
        Coaching, not medical care. A warning sign stops the path until it is cleared; licensed practice and local rules
        come first.
      </p>
      {view ? (
        <Signs view={view} reference={reference} />
      ) : (
        <p className="mb-4 border-l-4 border-ochre bg-panel px-4 py-3">
          Save the runner first; the warning signs are asked right after.
        </p>
      )}
      {view && view.cautions.length > 0 && (
        <section aria-label="Cautions in force" className="mb-4 border-l-4 border-ochre bg-panel px-4 py-3">
          <h2 className="text-lg text-ochre">Cautions in force</h2>
          <ul className="list-disc pl-5">
            {view.cautions.map((c) => (
              <li key={c.id}>
                <strong>{c.question.replace("?", "")}:</strong> {c.limits}
              </li>
            ))}
          </ul>
        </section>
      )}
      <form onSubmit={save} noValidate>
        <Heading level={2}>Who</Heading>
        <div className="grid grid-cols-2 gap-4 md:grid-cols-3">
          <Field
            label="Name"
            value={d.name}
            onChange={(e) => set({ name: e.target.value })}
            error={deed.fields["name"]}
            required
          />
          <Field
            label="Born"
            {...fig("birthDate")}
            type="date"
            inputMode={undefined}
            hint={view ? `${view.age} years old` : undefined}
          />
          <Field
            label="Time zone"
            value={d.timezone}
            onChange={(e) => set({ timezone: e.target.value })}
            error={deed.fields["timezone"]}
          />
          <Field label="Height (if wished)" unit="cm" {...fig("heightCm")} />
          <Field label="Body mass" unit="kg" {...fig("massKg")} />
          <Field label="Leg, hip bone to inner ankle" unit="mm" {...fig("legMm")} />
          <Field label="Foot length" unit="mm" {...fig("footMm")} />
          <Field label="Big toe, joint to tip" unit="mm" {...fig("bigToeMm")} />
        </div>
        <Heading level={2}>Running and time</Heading>
        <div className="grid grid-cols-2 gap-4 md:grid-cols-4">
          <Field label="Minutes a week" unit="min" {...fig("weeklyMinutes")} />
          <Field label="Distance a week" unit="km" {...fig("weeklyKm")} />
          <Field label="Longest run, 30 days" unit="km" {...fig("longestRunKm")} />
          <Choice label="Goal" value={d.goal} options={goals} onChange={(goal) => set({ goal })} />
        </div>
        <table className="mt-4 w-full">
          <thead>
            <tr className="text-left text-sm text-quiet">
              <td />
              {weekdays.map((w) => (
                <th key={w} scope="col" className="font-medium">
                  {w}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              <th scope="row" className="pr-2 text-left text-sm font-medium">
                Fixed run, min
              </th>
              {d.runs.map((r, i) => (
                <td key={i} className="p-0.5">
                  <input
                    aria-label={`Fixed run on ${weekdays[i]}, minutes`}
                    inputMode="numeric"
                    value={r.minutes}
                    onChange={(e) =>
                      set({ runs: d.runs.map((x, j) => (j === i ? { ...x, minutes: e.target.value } : x)) })
                    }
                    className="fig min-h-11 w-full rounded-sq border border-line bg-panel px-2"
                  />
                </td>
              ))}
            </tr>
            <tr>
              <th scope="row" className="pr-2 text-left text-sm font-medium">
                Kind
              </th>
              {d.runs.map((r, i) => (
                <td key={i} className="p-0.5">
                  <select
                    aria-label={`Kind of run on ${weekdays[i]}`}
                    value={r.quality}
                    disabled={!r.minutes}
                    onChange={(e) =>
                      set({ runs: d.runs.map((x, j) => (j === i ? { ...x, quality: e.target.value } : x)) })
                    }
                    className="min-h-11 w-full rounded-sq border border-line bg-panel text-sm disabled:opacity-40"
                  >
                    {["easy", "quality", "long"].map((x) => (
                      <option key={x}>{x}</option>
                    ))}
                  </select>
                </td>
              ))}
            </tr>
            <tr>
              <th scope="row" className="pr-2 text-left text-sm font-medium">
                Strength, min
              </th>
              {d.minutes.map((m, i) => (
                <td key={i} className="p-0.5">
                  <input
                    aria-label={`Strength minutes on ${weekdays[i]}`}
                    inputMode="numeric"
                    value={m}
                    onChange={(e) => set({ minutes: d.minutes.map((x, j) => (j === i ? e.target.value : x)) })}
                    className="fig min-h-11 w-full rounded-sq border border-line bg-panel px-2"
                  />
                </td>
              ))}
            </tr>
          </tbody>
        </table>
        <p className="text-brick">{deed.fields["profile.runs"] ?? deed.fields["profile.minutesByDay"]}</p>
        <Heading level={2}>Equipment they own</Heading>
        <div className="grid grid-cols-2 gap-4 md:grid-cols-3">
          <Field
            label="Dumbbells"
            unit="kg"
            hint="each weight, with spaces"
            value={d.dumbbells}
            onChange={(e) => set({ dumbbells: e.target.value })}
            error={deed.fields["profile.equipment.dumbbellsKg"]}
          />
          <Field
            label="Plates or books to stack"
            unit="mm"
            hint="each thickness, with spaces"
            value={d.plates}
            onChange={(e) => set({ plates: e.target.value })}
            error={deed.fields["profile.equipment.platesMm"]}
          />
          <Field label="Step or stair" unit="cm" {...fig("stepCm")} />
          <Check checked={d.strap} onChange={(strap) => set({ strap })}>
            Strap
          </Check>
          <Check checked={d.roll} onChange={(roll) => set({ roll })}>
            Firm rolled towel
          </Check>
        </div>
        <Heading
          level={2}
          aside={
            <Button
              onClick={() =>
                set({
                  symptoms: [
                    ...d.symptoms,
                    { region: "heel", side: "left", worst: "", baseline: "", when: "first_steps" },
                  ],
                })
              }
            >
              Add a symptom
            </Button>
          }
        >
          Symptoms
        </Heading>
        {d.symptoms.length === 0 && <p className="text-quiet">None.</p>}
        {d.symptoms.map((s, i) => {
          const change = (part: Partial<typeof s>) =>
            set({ symptoms: d.symptoms.map((x, j) => (j === i ? { ...x, ...part } : x)) });
          return (
            <div key={i} className="mb-3 grid grid-cols-2 items-end gap-3 border-l-2 border-line pl-3 md:grid-cols-6">
              <Choice label="Where" value={s.region} options={regions} onChange={(region) => change({ region })} />
              <Choice
                label="Side"
                value={s.side}
                options={["left", "right", "both"].map((x) => ({ id: x, name: x }))}
                onChange={(side) => change({ side })}
              />
              <Field
                label="Usual, 0–10"
                inputMode="numeric"
                value={s.baseline}
                onChange={(e) => change({ baseline: e.target.value })}
              />
              <Field
                label="Worst, 0–10"
                inputMode="numeric"
                value={s.worst}
                onChange={(e) => change({ worst: e.target.value })}
              />
              <Choice
                label="When"
                value={s.when}
                options={[
                  { id: "first_steps", name: "first steps" },
                  { id: "push_off", name: "at push-off" },
                  { id: "during_run", name: "during the run" },
                  { id: "after", name: "after" },
                ]}
                onChange={(when) => change({ when })}
              />
              <Button kind="quiet" onClick={() => set({ symptoms: d.symptoms.filter((_, j) => j !== i) })}>
                Remove
              </Button>
            </div>
          );
        })}
        <p className="text-brick">{deed.fields["profile.symptoms"]}</p>
        <Heading level={2}>Cautions</Heading>
        <div className="grid gap-x-6 md:grid-cols-2">
          {reference.cautions.map((c) => (
            <Check
              key={c.id}
              checked={d.cautions.includes(c.id)}
              onChange={(on) => set({ cautions: on ? [...d.cautions, c.id] : d.cautions.filter((x) => x !== c.id) })}
            >
              {c.question}
            </Check>
          ))}
          <Check checked={d.guardian} onChange={(guardian) => set({ guardian })}>
            Under 18: a guardian has agreed
          </Check>
        </div>
        <div className="mt-2 max-w-2xl">
          <Field
            label="Limits for heavy loading under a caution"
            value={d.heavy}
            onChange={(e) => set({ heavy: e.target.value })}
            hint="Who set them, when, and what they are. Empty: no heavy loading."
          />
        </div>
        <Heading level={2}>Approaches</Heading>
        <div className="grid gap-4 md:grid-cols-2">
          {reference.approaches.map((a) => (
            <Choice
              key={a.id}
              label={a.question}
              value={d.approaches[a.id] ?? a.options[0].id}
              options={a.options}
              onChange={(v) => set({ approaches: { ...d.approaches, [a.id]: v } })}
            />
          ))}
        </div>
        <div className="sticky bottom-0 mt-8 flex flex-wrap items-center gap-4 border-t-2 border-ink bg-ground py-3">
          <Button kind="main" type="submit" disabled={deed.busy}>
            {version ? "Save the intake" : "Add the runner"}
          </Button>
          <span role="status" className="text-tide">
            {saved}
          </span>
          <div className="min-w-0 flex-1">
            <Failure error={deed.error} />
          </div>
        </div>
      </form>
      {view && !locked && <PrivateLink view={view} />}
      {view && view.stops.some((s) => !s.open) && (
        <>
          <Heading level={2}>Earlier warning signs</Heading>
          <ul>
            {view.stops
              .filter((s) => !s.open)
              .map((s) => (
                <li key={s.id}>
                  {day(s.on)}: {s.what.question} – cleared by {s.clearances.at(-1)?.who},{" "}
                  {day(s.clearances.at(-1)?.on ?? "")}; limits: {s.clearances.at(-1)?.limits || "none"}
                </li>
              ))}
          </ul>
        </>
      )}
    </>
  );
}
