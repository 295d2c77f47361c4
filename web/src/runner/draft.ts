import type { Schemas } from "../api/client";
import { Problem } from "../api/problem";
import { parse } from "../ui/number";

export type Profile = Schemas["Profile"];
export const weekdays = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

export interface ShoeDraft {
  name: string;
  figures: Record<string, string>;
  bought: string;
  worn: string;
}
export interface RaceDraft {
  on: string;
  km: string;
  name: string;
  minor: boolean;
}
export interface StructuralDraft {
  measure: string;
  side: string;
  word: string;
}
export interface SymptomDraft {
  region: string;
  side: string;
  worst: string;
  baseline: string;
  when: string[];
  since: string;
}

export type CautionNote = Schemas["CautionNote"];

/** What stands in the form while it is typed: figures as text, so that nothing typed is lost. */
export interface Draft {
  figures: Record<string, string>;
  goal: string;
  sex: string;
  words: Record<"goalWords" | "injuries" | "prescribed", string>;
  sprain: boolean;
  notRunning: boolean;
  surfaces: string[];
  runs: { minutes: string; quality: string; time: string }[];
  /** Second runs of a day, which have no column of their own. */
  moreRuns: Profile["runs"];
  minutes: string[];
  lists: Record<"dumbbellsKg" | "platesMm" | "rollersCm", string>;
  bands: string[];
  owns: Record<"strap" | "roll" | "softBall" | "firmBall", boolean>;
  shoes: ShoeDraft[];
  races: RaceDraft[];
  structural: StructuralDraft[];
  symptoms: SymptomDraft[];
  cautions: string[];
  guardian: boolean;
  cautionNotes: Record<string, CautionNote>;
  touch: { left: boolean; right: boolean; on?: string };
  heavy: string;
  approaches: Record<string, string>;
}

const numbers = [
  "heightCm",
  "massKg",
  "legMm",
  "footMm",
  "footWidthMm",
  "bigToeMm",
  "weeklySessions",
  "weeklyMinutes",
  "weeklyKm",
  "longestRunKm",
  "sittingHours",
  "standingHours",
  "sessionMinutes",
] as const;
const whole = new Set<string>(["weeklySessions", "weeklyMinutes", "sessionMinutes"]);
export const shoeFigures = [
  ["massG", "One shoe", "g"],
  ["heelMm", "Heel stack", "mm"],
  ["forefootMm", "Forefoot stack", "mm"],
  ["technologies", "Support devices", ""],
  ["lengthwise", "Bends lengthwise, 0–2.5", ""],
  ["twisting", "Twists, 0–2.5", ""],
  ["widthMm", "Toe box inside", "mm"],
  ["km", "Run so far", "km"],
] as const;
/** 0 is stiff where both were tried, and left empty elsewhere. */
const flexibility = new Set<string>(["lengthwise", "twisting"]);
const show = (n?: number) => (n ? String(n) : "");

export const emptyShoe = (): ShoeDraft => ({ name: "", figures: {}, bought: "", worn: "" });
export const emptySymptom = (region: string, side: string): SymptomDraft => ({
  region,
  side,
  worst: "",
  baseline: "",
  when: [],
  since: "",
});

export function draftOf(p?: Profile): Draft {
  const e = p?.equipment;
  const figures: Record<string, string> = {
    birthDate: p?.birthDate ?? "",
    goalDate: p?.goalDate ?? "",
    stepCm: show(e?.stepCm),
  };
  for (const k of numbers) figures[k] = show(p?.[k]);
  return {
    figures,
    goal: p?.goal ?? "distance",
    sex: p?.sex ?? "",
    words: {
      goalWords: p?.goalWords ?? "",
      injuries: p?.history.injuries ?? "",
      prescribed: p?.history.prescribed ?? "",
    },
    sprain: p?.history.sprain ?? false,
    notRunning: p?.notRunning ?? false,
    surfaces: p?.surfaces ?? [],
    runs: weekdays.map((_, d) => {
      const r = p?.runs.find((x) => x.weekday === d);
      return { minutes: show(r?.minutes), quality: r?.quality ?? "easy", time: r?.time ?? "" };
    }),
    moreRuns: (p?.runs ?? []).filter((r, i, all) => all.findIndex((x) => x.weekday === r.weekday) !== i),
    minutes: weekdays.map((_, d) => (p ? String(p.minutesByDay[d]) : "15")),
    lists: {
      dumbbellsKg: e?.dumbbellsKg.join(" ") ?? "",
      platesMm: e?.platesMm.join(" ") ?? "",
      rollersCm: e?.rollersCm.join(" ") ?? "",
    },
    bands: e?.bands ?? [],
    owns: {
      strap: e?.strap ?? false,
      roll: e?.roll ?? false,
      softBall: e?.softBall ?? false,
      firmBall: e?.firmBall ?? false,
    },
    shoes: (p?.shoes ?? []).map((s) => ({
      name: s.name,
      bought: s.bought ?? "",
      worn: s.worn ?? "",
      figures: Object.fromEntries(
        shoeFigures.map(([k]) => [k, flexibility.has(k) && s.flexed ? String(s[k]) : show(s[k])]),
      ),
    })),
    races: (p?.races ?? []).map((r) => ({ on: r.on, km: show(r.km), name: r.name ?? "", minor: r.minor ?? false })),
    structural: (p?.structural ?? []).map((x) => ({ measure: x.measure, side: x.side, word: x.word })),
    symptoms: (p?.symptoms ?? []).map((s) => ({
      region: s.region,
      side: s.side,
      worst: String(s.worst),
      baseline: String(s.baseline),
      when: s.when,
      since: s.since ?? "",
    })),
    cautions: p?.cautions ?? [],
    guardian: p?.guardianConsent ?? false,
    cautionNotes: p?.cautionNotes ?? {},
    touch: p?.touch ?? { left: false, right: false },
    heavy: p?.heavyAllowed ?? "",
    approaches: p?.approaches ?? {},
  };
}

/** Reads a figure as typed; letters are refused by name, not turned into nothing. */
export function figure(field: string, text: string, isWhole = false): number {
  const n = text.trim() === "" ? 0 : parse(text);
  if (n === null) throw new Problem(422, `${field}: “${text}” is not a number`, { [field]: "is not a number" });
  if (isWhole && !Number.isInteger(n))
    throw new Problem(422, `${field}: “${text}” is not a whole number`, { [field]: "is not a whole number" });
  return n;
}

/** The profile as it is sent; throws a Problem that names the field which is not a figure. */
export function profileOf(d: Draft): Profile {
  const n = (k: (typeof numbers)[number]) => figure("profile." + k, d.figures[k] ?? "", whole.has(k));
  const list = (k: keyof Draft["lists"]) =>
    d.lists[k]
      .split(/[\s;]+/)
      .filter(Boolean)
      .map((x) => figure("profile.equipment." + k, x));
  return {
    birthDate: d.figures.birthDate ?? "",
    sex: d.sex as Profile["sex"],
    ...(Object.fromEntries(numbers.map((k) => [k, n(k)])) as Record<(typeof numbers)[number], number>),
    goal: d.goal as Profile["goal"],
    ...(d.figures.goalDate ? { goalDate: d.figures.goalDate } : {}),
    goalWords: d.words.goalWords,
    notRunning: d.notRunning || d.figures.weeklyMinutes?.trim() === "0",
    surfaces: d.surfaces,
    history: { injuries: d.words.injuries, prescribed: d.words.prescribed, sprain: d.sprain },
    runs: d.runs.flatMap((r, weekday): Profile["runs"] =>
      r.minutes.trim()
        ? [
            {
              weekday,
              minutes: figure("profile.runs", r.minutes, true),
              quality: r.quality as "easy" | "quality" | "long",
              ...(r.time ? { time: r.time as "morning" } : {}),
            },
            ...d.moreRuns.filter((m) => m.weekday === weekday),
          ]
        : d.moreRuns.filter((m) => m.weekday === weekday),
    ),
    minutesByDay: d.minutes.map((m) => figure("profile.minutesByDay", m, true)),
    equipment: {
      dumbbellsKg: list("dumbbellsKg"),
      platesMm: list("platesMm"),
      rollersCm: list("rollersCm"),
      bands: d.bands,
      stepCm: figure("profile.equipment.stepCm", d.figures.stepCm ?? ""),
      ...d.owns,
    },
    shoes: d.shoes.map((s, i) => {
      const f = (k: string, isWhole = false) => figure(`profile.shoes[${i}]`, s.figures[k] ?? "", isWhole);
      return {
        name: s.name,
        massG: f("massG"),
        heelMm: f("heelMm"),
        forefootMm: f("forefootMm"),
        technologies: f("technologies", true),
        lengthwise: f("lengthwise"),
        twisting: f("twisting"),
        flexed: [...flexibility].every((k) => (s.figures[k] ?? "").trim() !== ""),
        widthMm: f("widthMm"),
        km: f("km"),
        worn: s.worn,
        ...(s.bought ? { bought: s.bought } : {}),
      };
    }),
    races: d.races.map((r, i) => ({ on: r.on, km: figure(`profile.races[${i}]`, r.km), name: r.name, minor: r.minor })),
    structural: d.structural.map((x) => ({ measure: x.measure, side: x.side as "left", word: x.word })),
    symptoms: d.symptoms.map((s) => ({
      region: s.region,
      side: s.side as "left",
      when: s.when,
      worst: figure("profile.symptoms", s.worst, true),
      baseline: figure("profile.symptoms", s.baseline, true),
      ...(s.since ? { since: s.since } : {}),
    })),
    cautions: d.cautions,
    guardianConsent: d.guardian,
    cautionNotes: d.cautionNotes,
    touch: d.touch,
    heavyAllowed: d.heavy,
    approaches: d.approaches,
  };
}
