import type { Schemas } from "../api/client";

export type StripDay = Schemas["StripDay"];
export type StripView = Schemas["StripView"];

/** One column of the strip: a day, or a week of them from Monday. */
export interface Bucket {
  from: string;
  days: StripDay[];
  run: Record<string, number>;
  minutes: number;
  calf: number;
  planned: number;
  done: number;
  bare: number;
  worst: Map<number, number>; // by place
  moves: Record<string, number>;
  marks: string[]; // screens, warning signs, races
}

export const plus = (d: string, n: number) => {
  const at = new Date(d + "T12:00:00Z");
  at.setUTCDate(at.getUTCDate() + n);
  return at.toISOString().slice(0, 10);
};

export const between = (a: string, b: string) =>
  Math.round((Date.parse(b + "T12:00:00Z") - Date.parse(a + "T12:00:00Z")) / 86_400_000);

/** The Monday after a Monday. */
export const after = (monday: string) => plus(monday, 7);

const monday = (d: string) => plus(d, -((new Date(d + "T12:00:00Z").getUTCDay() + 6) % 7));

/** How wide a column is in days: single days as long as they can be told apart. */
export const widthOf = (span: number) => (span <= 100 ? 1 : 7);

/** Lays the days from one to another out in columns, empty ones too. */
export function bucketsOf(days: StripDay[], from: string, until: string): Bucket[] {
  const width = widthOf(between(from, until) + 1);
  const first = width === 7 ? monday(from) : from;
  const out: Bucket[] = [];
  for (let at = first; at <= until; at = plus(at, width))
    out.push({
      from: at,
      days: [],
      run: {},
      minutes: 0,
      calf: 0,
      planned: 0,
      done: 0,
      bare: 0,
      worst: new Map(),
      moves: {},
      marks: [],
    });
  for (const d of days) {
    const b = out[Math.floor(between(first, d.on) / width)];
    if (!b || d.on < first || d.on > until) continue;
    b.days.push(d);
    for (const [kind, n] of Object.entries(d.run ?? {})) {
      b.run[kind] = (b.run[kind] ?? 0) + n;
      b.minutes += n;
    }
    b.calf += d.calf ?? 0;
    b.planned += Math.max(d.planned ?? 0, d.done ?? 0);
    b.done += d.done ?? 0;
    b.bare += d.bare ?? 0;
    for (const m of d.mornings ?? []) b.worst.set(m.place, Math.max(b.worst.get(m.place) ?? 0, m.pain));
    for (const m of d.moves ?? []) b.moves[m] = (b.moves[m] ?? 0) + 1;
    b.marks.push(...(d.screens ?? []).map((s) => `${s} screen`), ...(d.stops ?? []), ...(d.races ?? []));
  }
  return out;
}

const words: Record<string, string> = { up: "up", hold: "hold", return: "return", back: "back", park: "park" };

/** A column in a sentence. */
export function sentence(b: Bucket, places: StripView["places"], wide: boolean, name: (d: string) => string): string {
  const one = b.days[0];
  if (!wide) return one?.says ?? `${name(b.from)}: nothing was told`;
  const parts = [];
  if (b.minutes) parts.push(`${Math.round(b.minutes)} min run`);
  if (b.calf) parts.push(`${b.calf} calf-load steps`);
  if (b.planned) parts.push(`${b.done} of ${b.planned} rails done`);
  if (b.bare) parts.push(`${Math.round(b.bare)} min bare`);
  for (const [place, pain] of [...b.worst].sort((x, y) => y[1] - x[1]).slice(0, 3))
    if (pain > 0) parts.push(`first steps ${places[place]?.name ?? ""} up to ${pain}`);
  for (const [move, n] of Object.entries(b.moves)) parts.push(`${n} × ${words[move] ?? move}`);
  parts.push(...b.marks);
  return `Week of ${name(b.from)}: ${parts.join("; ") || "nothing was told"}`;
}
