import type { Draft } from "./draft";

/** The intake as one editor has it. */
export interface Sheet {
  name: string;
  zone: string;
  draft: Draft;
}

export type Whose = "mine" | "theirs" | "both";

/** An entry that both editors changed, until one is chosen. */
export interface Row {
  key: string;
  mine: unknown;
  theirs: unknown;
  chosen?: Whose;
}

/** Two versions of one intake, laid together. */
export interface Clash {
  sheet: Sheet;
  /** What only the other changed: it stands. */
  taken: { key: string; theirs: unknown }[];
  rows: Row[];
  choose: (key: string, whose: Whose, now: Sheet) => Clash;
}

/** Parts of the form that are compared entry by entry; the others, lists among them, are compared as a whole. */
const apart = ["figures", "words", "lists", "owns", "approaches"] as const;

function flat(s: Sheet): Map<string, unknown> {
  const out = new Map<string, unknown>([
    ["name", s.name],
    ["zone", s.zone],
  ]);
  for (const [part, value] of Object.entries(s.draft)) {
    if ((apart as readonly string[]).includes(part))
      for (const [k, v] of Object.entries(value as Record<string, unknown>)) out.set(`${part}.${k}`, v);
    else out.set(part, value);
  }
  return out;
}

function put(s: Sheet, key: string, value: unknown): Sheet {
  if (key === "name" || key === "zone") return { ...s, [key]: value as string };
  const [part = "", k] = key.split(".");
  if (k === undefined) return { ...s, draft: { ...s.draft, [part]: value } };
  const entries = { ...(s.draft[part as keyof Draft] as Record<string, unknown>) };
  if (value === undefined) delete entries[k];
  else entries[k] = value;
  return { ...s, draft: { ...s.draft, [part]: entries } };
}

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? "") === JSON.stringify(b ?? "");

/** Lays what the other saved beside what was typed since base: nothing typed is lost, and nothing saved is undone. */
export function merge(base: Sheet, mine: Sheet, theirs: Sheet): Clash {
  const [b, m, t] = [flat(base), flat(mine), flat(theirs)];
  let sheet = mine;
  const taken: Clash["taken"] = [];
  const rows: Row[] = [];
  for (const key of new Set([...m.keys(), ...t.keys()])) {
    if (same(t.get(key), b.get(key)) || same(t.get(key), m.get(key))) continue;
    if (same(m.get(key), b.get(key))) {
      sheet = put(sheet, key, t.get(key));
      taken.push({ key, theirs: t.get(key) });
    } else rows.push({ key, mine: m.get(key), theirs: t.get(key) });
  }
  return clashOf(sheet, taken, rows);
}

/** Lists of both, each entry once: no place that hurts is dropped for another. */
const both = (r: Row) => {
  const seen = new Set<string>();
  return [...(r.mine as unknown[]), ...(r.theirs as unknown[])].filter((x) => {
    const key = JSON.stringify(x);
    return !seen.has(key) && seen.add(key);
  });
};

function clashOf(sheet: Sheet, taken: Clash["taken"], rows: Row[]): Clash {
  return {
    sheet,
    taken,
    rows,
    choose: (key, whose, now) => {
      const row = rows.find((r) => r.key === key);
      if (!row) return clashOf(now, taken, rows);
      return clashOf(
        put(now, key, whose === "both" ? both(row) : row[whose]),
        taken,
        rows.map((r) => (r === row ? { ...r, chosen: whose } : r)),
      );
    },
  };
}
