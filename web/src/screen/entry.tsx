import { useState, type ReactNode } from "react";
import { useMe } from "../Desk";
import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Chip } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { Verdict } from "../ui/Verdict";
import { fig } from "../ui/drawings";
import { Why } from "../ui/reason";
import type { Waiting } from "./waiting";
import { write } from "../ui/number";
import { shortIn, typedIn } from "../ui/units";
import { Note } from "../ui/Note";

export type View = Schemas["Screening"];
export type Measure = Schemas["ScreenMeasure"];
export type Trial = Schemas["ScreenTrial"];
export type Side = Trial["side"];
export type Sent = Omit<Schemas["TrialInBody"], "measure" | "side">;

/** What every instrument is given: one measure on one side, its kept trials, those on their way, and how to keep one
 * more. */
export interface Entry {
  measure: Measure;
  side: Side;
  mine: Trial[];
  waiting: Waiting[];
  save: (t: Sent) => void;
  drop: (waiting: string) => void;
  remove: (t: Trial) => void;
  view: View;
}

/** How many trials there are, with those on their way. */
export const tried = (e: Entry) => e.mine.length + e.waiting.filter((w) => !w.why).length;
export const full = (e: Entry) => tried(e) >= e.measure.maxTrials;

/** A value as people read it: the answer of a class, else the figure with its unit. */
export function shown(m: Measure, v: number): string {
  if (m.options.length) return m.options[v]?.name ?? String(v);
  return shortIn(m.unit, v, 1);
}

/** What was entered of a trial that the server has not judged. */
export const told = (m: Measure, b: Waiting["body"]) =>
  b.skipped ? "left out" : b.parts?.length && !b.value ? b.parts.map((n) => write(n)).join(", ") : shown(m, b.value);

/** Kept trials, counted or not, each with its remove button. */
export function Kept({ measure, side, mine, remove, waiting, drop }: Entry) {
  const me = useMe().data?.name;
  if (mine.length + waiting.length === 0) return null;
  const fault = (id: string) => measure.faults.find((x) => x.id === id);
  return (
    <ul className="mt-1 flex flex-wrap gap-1.5">
      {mine.map((t) => {
        const out = t.faults.some((f) => fault(f)?.invalidates);
        const stop = measure.stops.find((s) => s.id === t.stop)?.name;
        return (
          <li
            key={t.id}
            className={`flex items-center border ${t.skipped || out ? "border-dashed border-brick" : "border-ink"}`}
          >
            <span className="px-2 py-1">
              {t.skipped ? (
                <span>left out: {t.skipped}</span>
              ) : (
                <>
                  <span className={measure.options.length ? "font-semibold" : "fig text-2xl"}>
                    {measure.kind === "figure" ? typedIn(measure.unit, String(t.value)) : shown(measure, t.value)}
                  </span>
                  {stop && <span className="text-quiet"> · {stop}</span>}
                  {t.by && t.by !== me && <span className="block text-sm text-quiet">{t.by}</span>}
                  {t.faults.length > 0 && (
                    <span className="block text-sm text-brick">
                      {t.faults.map((f) => fault(f)?.name).join(", ")}
                      {out ? " – not counted" : ""}
                    </span>
                  )}
                </>
              )}
            </span>
            <button
              type="button"
              aria-label={`Remove ${t.skipped ? "left out" : shown(measure, t.value)}, ${measure.name}, ${side}`}
              onClick={() => remove(t)}
              className="min-h-11 min-w-9 text-quiet"
            >
              ✕
            </button>
          </li>
        );
      })}
      {waiting.map((w) => {
        const figures = told(measure, w.body);
        return (
          <li key={w.id} className={`flex items-center border border-dashed ${w.why ? "border-brick" : "border-line"}`}>
            <span className="px-2 py-1">
              <span
                className={
                  measure.options.length || w.body.parts?.length || w.body.skipped ? "font-semibold" : "fig text-2xl"
                }
              >
                {figures}
              </span>
              <span role="status" className={`block text-sm ${w.why ? "text-brick" : "text-quiet"}`}>
                {w.why ? `not kept: ${w.why}` : "on its way"}
              </span>
            </span>
            {w.why && (
              <button
                type="button"
                aria-label={`Take away ${figures}, ${measure.name}, ${side}`}
                onClick={() => drop(w.id)}
                className="min-h-11 min-w-9 text-quiet"
              >
                ✕
              </button>
            )}
          </li>
        );
      })}
    </ul>
  );
}

/** The frame of one side: its name, what is kept, and the instrument, or why it may not be taken. */
export function SideBox({ entry, children }: { entry: Entry; children: ReactNode }) {
  const { measure, side, view, mine } = entry;
  const shut = view.shut.find((s) => s.measure === measure.id && s.side === side);
  const reading = view.readings.find((r) => mine.some((t) => r.trials.includes(t.id)));
  return (
    <div className="min-w-0 border border-line bg-panel px-4 py-3">
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        {side !== "both" && <h3 className="text-xl capitalize">{side}</h3>}
        {reading && measure.options.length === 0 && measure.kind !== "pain" && (
          <Why reason={reading.reason} title={`${measure.name}, ${side}`}>
            <span className="fig">
              mean {shown(measure, reading.value)}
              {reading.n > 1 && measure.kind === "hold" ? `, best ${shown(measure, reading.best)}` : ""}
            </span>
          </Why>
        )}
      </div>
      <Kept {...entry} />
      {shut && mine.length === 0 ? (
        <>
          <Note kind="caution within" className="mt-2">
            <span aria-hidden>⬣ </span>
            Not now:{" "}
            <Why reason={shut.reason} title={`${measure.name}: not now`}>
              {shut.reason.says}
            </Why>
          </Note>
          <Skip entry={entry} first="not safe today" />
        </>
      ) : (
        !full(entry) && (
          <>
            {children}
            {tried(entry) === 0 && (
              <div>
                <Skip entry={entry} />
              </div>
            )}
          </>
        )
      )}
    </div>
  );
}

export function Faults({ measure, on, onChange }: { measure: Measure; on: string[]; onChange: (f: string[]) => void }) {
  if (measure.faults.length === 0) return null;
  return (
    <div className="mt-2 flex flex-wrap gap-1.5">
      {measure.faults.map((f) => (
        <Chip
          key={f.id}
          strong={f.invalidates || f.fails || f.refers}
          on={on.includes(f.id)}
          onChange={(yes) => onChange(yes ? [...on, f.id] : on.filter((x) => x !== f.id))}
        >
          {f.name}
        </Chip>
      ))}
    </div>
  );
}

export function Wrong({ text }: { text: string }) {
  return text ? (
    <p role="alert" className="mt-1 text-brick">
      {text}
    </p>
  ) : null;
}

const reasons = ["pain", "no time", "no kit", "not safe today", "does not apply"];

/** One side of a class or score in a line: the answers, or what was kept with its verdict. */
export function SideLine({ entry, children }: { entry: Entry; children: ReactNode }) {
  const { measure, side, view, mine } = entry;
  const shut = view.shut.find((s) => s.measure === measure.id && s.side === side);
  const found = view.findings.filter((f) => f.measure === measure.id && f.side === side && mine.length > 0);
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-panel px-4 py-1.5 last:border-b-0">
      {side !== "both" && <h3 className="w-14 text-lg capitalize">{side}</h3>}
      <Kept {...entry} />
      {found.slice(-1).map((f) => (
        <span key={f.id + f.context} className="flex flex-wrap items-baseline gap-3">
          <Why reason={f.reason} title={`${f.name}, ${f.side}`}>
            <Verdict v={f.verdict} />
          </Why>
          {f.refer && <strong className="text-brick">⬣ refer</strong>}
          <Since f={f} view={view} />
        </span>
      ))}
      {shut && mine.length === 0 ? (
        <>
          <span className="border-l-4 border-ochre pl-3">
            <span aria-hidden>⬣ </span>
            Not now:{" "}
            <Why reason={shut.reason} title={`${measure.name}: not now`}>
              {shut.reason.says}
            </Why>
          </span>
          <Skip entry={entry} first="not safe today" />
        </>
      ) : (
        tried(entry) < measure.trials && (
          <>
            {children}
            <Skip entry={entry} />
          </>
        )
      )}
    </div>
  );
}

/** Last time's value, shown only once this time's is in. */
export function Since({ f, view }: { f: Schemas["ScreenFinding"]; view: View }) {
  const c = view.since.find(
    (x) => x.finding.id === f.id && x.finding.side === f.side && x.finding.context === f.context,
  );
  if (!c) return null;
  return (
    <span className="ml-3 text-base text-quiet">
      {day(c.since)}: <span className="fig">{fig(c.then)}</span>{" "}
      <Why reason={c.reason} title={`${f.name}: against last time`}>
        <Verdict v={c.change} />
      </Why>
    </span>
  );
}

function Skip({ entry, first = "pain" }: { entry: Entry; first?: string }) {
  const [open, setOpen] = useState(false);
  const [why, setWhy] = useState(first);
  if (!open)
    return (
      <Button
        kind="quiet"
        size="bare"
        className="text-sm"
        aria-label={`${entry.side === "both" ? "Leave it out" : "Leave this side out"}: ${entry.measure.name}, ${entry.side}`}
        onClick={() => setOpen(true)}
      >
        {entry.side === "both" ? "Leave it out" : "Leave this side out"}
      </Button>
    );
  return (
    <div className="flex items-end gap-2">
      <Choice label="Why" value={why} options={reasons.map((x) => ({ id: x, name: x }))} onChange={setWhy} />
      <Button onClick={() => entry.save({ value: 0, skipped: why })}>Leave out</Button>
    </div>
  );
}
