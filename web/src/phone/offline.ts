import type { Schemas } from "../api/client";
import type { Bundle, Entry } from "./kept";
import type { Item, Side } from "./session";

export type Offline = Schemas["Offline"];
type Today = Bundle["sessions"][number];
type Unless = Schemas["Unless"];
type OfflineSide = Schemas["OfflineSide"];

/** One thing told on this phone that the session shown does not know of: first steps at a place, or pain of a session. */
export interface Said {
  pain: number;
  region?: string;
  side?: string;
  prescription?: string;
}

/** What the reports told, as far as a session goes by it. */
export function said(reports: readonly Pick<Entry, "kind" | "body">[]): Said[] {
  return reports.flatMap((r): Said[] => {
    const b = r.body as {
      pain?: number | string;
      region?: string;
      side?: string;
      quiet?: boolean;
      prescription?: string;
    };
    if (r.kind === "mornings" && !b.quiet) return [{ pain: Number(b.pain ?? 0), region: b.region, side: b.side }];
    if (r.kind === "bare") return [{ pain: Number(b.pain ?? 0), region: b.region, side: b.side }];
    if (r.kind === "logs") return [{ pain: Number(b.pain ?? 0), prescription: b.prescription }];
    return [];
  });
}

const takes = (all: readonly Said[]) => (u: Unless) =>
  all.some((s) =>
    s.pain < u.atLeast
      ? false
      : u.prescription
        ? s.prescription === u.prescription
        : s.region === u.region && (s.side === u.side || s.side === "both"),
  );

/** How a side stands after what was told: as it is (-1), by one of what is done instead, or not at all, and why. */
export function stands(table: OfflineSide, all: readonly Said[]): { at: number | null; why: string } {
  const by = takes(all);
  const why = table.unless.find(by)?.why;
  const times = Math.max(...table.rows.map((row) => all.filter((s) => s.prescription === row).length));
  const against = table.against.find(by)?.why ?? (table.once ? "more of it waits for contact" : undefined);
  if (times > 0 && against !== undefined) return { at: null, why: against };
  if (times > 1 && why !== undefined) return { at: null, why };
  if (why === undefined) return { at: -1, why: "" };
  const at = table.instead.findIndex((v) => !v.unless.some(by));
  return { at: at < 0 ? null : at, why };
}

/** What a phone knows of its own: what was told, how long it has been without contact, what was asked today. */
export interface Here {
  all: readonly Said[];
  table: Offline | undefined;
  hours: number; // without contact
  asked: boolean; // this morning's marks and the signs
  done: (exercise: string) => boolean;
}

/** A session after what was told since it was made, and after so long without contact. `ask` says that marks and signs
 * come first. */
export function withoutSignal(bundle: Bundle, session: Today, here: Here): Today & { ask: boolean } {
  const out = { ...session, items: [] as Item[], kept: [...session.kept], ask: false };
  const day = here.table?.state === bundle.state ? here.table.days[session.on] : undefined;
  const speaks = here.all.some((s) => s.pain > 0);
  const keep = (i: Item, side: Side["side"], why: string, opens = "") =>
    out.kept.push({ rail: i.name, name: i.exercise.name, side, why: [why], opens });
  for (const item of session.items) {
    if (!item.alone && here.hours >= bundle.aloneAfterH) {
      keep(item, "both", "there was no contact for too long", "connect once");
      continue;
    }
    if (!item.alone && here.hours >= bundle.askAfterH && !here.asked) {
      out.ask = true;
      keep(item, "both", `no contact for ${bundle.askAfterH} hours`, "this morning's marks and the warning signs");
      continue;
    }
    const stays: Side[] = [];
    for (const side of item.sides) {
      const row = side.prescriptions[0] ?? "";
      const table = day?.[row];
      const versions = table ? [[item.exercise.id], ...table.instead.map((v) => v.does.map((d) => d.kind))] : [];
      const did = versions.findIndex((v) => v.some(here.done)) - 1;
      if (did === -1 || here.done(item.exercise.id)) stays.push(side);
      else if (!table && speaks && !item.alone)
        keep(item, side.side, "what you told has to reach your coach first", "connect once");
      else if (!table) stays.push(side);
      else {
        const { at, why } = did >= 0 ? { at: did, why: "" } : stands(table, here.all);
        if (at === -1) stays.push(side);
        else if (at === null) keep(item, side.side, why);
        else add(out.items, here.table, item, table.instead[at], why);
      }
    }
    const beside = out.items.find((i) => i.exercise.id === item.exercise.id && i.rail === item.rail);
    if (beside) beside.sides = [...beside.sides, ...stays];
    else if (stays.length) out.items.push({ ...item, sides: stays });
  }
  return out;
}

/** Adds what is done instead; the sides of one exercise stand together. */
function add(
  items: Item[],
  table: Offline | undefined,
  was: Item,
  v: OfflineSide["instead"][number] | undefined,
  why: string,
) {
  for (const { kind, mind, then, seconds, ...side } of v?.does ?? []) {
    const shown = table?.kinds[kind];
    if (!shown) continue;
    const beside = items.find((i) => i.exercise.id === kind && i.rail === shown.rail);
    if (beside) beside.sides = [...beside.sides, side];
    else
      items.push({
        ...shown,
        slot: was.slot,
        done: was.done,
        seconds,
        then,
        mind,
        less: why,
        sides: [side],
      });
  }
}
