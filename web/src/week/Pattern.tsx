import { Fragment, type KeyboardEvent, type PointerEvent } from "react";
import type { Schemas } from "../api/client";
import { Why } from "../ui/reason";
import { Note } from "../ui/Note";

export type Entry = Schemas["BuildEntry"];
export type Slot = Entry["slot"];
export const weekdays = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

/** The rows of a day, in its order. */
export const slots: [Slot, string][] = [
  ["before", "before the run"],
  ["run", "the run"],
  ["after", "after the run"],
  ["own", "own session"],
  ["evening", "evening"],
  ["habit", "daily chores"],
];

/** What lets sessions be moved: which one is lifted, where it would go, and why not. */
export interface Hand {
  lifted: { rail: string; from: number; slot: Slot } | null;
  target: { day: number; slot: Slot } | null;
  refused: (day: number, slot: Slot) => string;
  lift: (rail: string, from: number, slot: Slot) => void;
  drop: (day: number, slot: Slot) => void;
  keys: (e: KeyboardEvent, entry: Entry, day: number) => void;
  press: (e: PointerEvent, entry: Entry, day: number) => void;
}

/** Seven columns; before, run, after, own session, evening and chores as rows. */
export function Pattern({ week, hand }: { week: Schemas["BuildWeek"]; hand?: Hand }) {
  const used = (s: Slot) => week.days.some((d) => d.entries.some((e) => e.slot === s));
  const rows = slots.filter(([s]) => s === "run" || used(s) || (hand && s !== "habit")); // nothing shifts when one is lifted;
  return (
    <>
      {week.gaveWay.map((g) => (
        <Note key={g.says} kind="caution" className="mb-2">
          <span className="font-semibold text-ochre">Gave way: </span>
          <Why reason={g} title="What gave way">
            {g.says}
          </Why>
        </Note>
      ))}
      <table className="w-full table-fixed border-collapse text-[0.88rem]">
        <thead>
          <tr>
            <th className="w-20" />
            {weekdays.map((n, i) => {
              const d = week.days[i];
              const over = d && d.seconds > d.minutes * 60;
              return (
                <th key={n} scope="col" className="border-b-2 border-ink py-1 text-left align-bottom font-semibold">
                  {n.slice(0, 3)}
                  <span className={`block text-sm font-normal tabular-nums ${over ? "text-ochre" : "text-quiet"}`}>
                    {d && (d.seconds > 0 || d.minutes > 0)
                      ? `${Math.ceil(d.seconds / 60)}/${d.minutes} min${over ? " ▲" : ""}`
                      : "no time"}
                  </span>
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {rows.map(([slot, label]) => (
            <tr key={slot} className="border-b border-line align-top">
              <th scope="row" className="py-2 pr-2 text-left text-sm font-normal text-quiet">
                {label}
              </th>
              {week.days.map((d) => (
                <Cell key={d.weekday} d={d} slot={slot} hand={hand} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Cell({ d, slot, hand }: { d: Schemas["BuildDay"]; slot: Slot; hand?: Hand }) {
  const lifted = hand?.lifted;
  const why = lifted ? hand.refused(d.weekday, slot) : "";
  const here = hand?.target?.day === d.weekday && hand.target.slot === slot;
  const look = !lifted
    ? ""
    : why
      ? `hatched ${here ? "outline-2 outline-brick" : ""}`
      : `bg-panel outline-dashed outline-2 ${here ? "outline-cinder" : "outline-tide"}`;
  return (
    <td
      data-cell={`${d.weekday} ${slot}`}
      onClick={() => lifted && hand.drop(d.weekday, slot)}
      className={`h-10 space-y-1 py-1.5 pr-1 -outline-offset-2 ${look}`}
    >
      {slot === "run" && d.run && (
        <p
          className={`border-l-4 px-1.5 py-1 ${d.run.quality === "quality" ? "border-ink bg-sunk font-semibold" : "border-line bg-sunk"}`}
        >
          {d.run.quality} <span className="whitespace-nowrap tabular-nums">{d.run.minutes} min</span>
        </p>
      )}
      {d.entries
        .filter((e) => e.slot === slot)
        .map((e) => (
          <Fragment key={e.rail}>
            <Session e={e} day={d.weekday} hand={hand} />
          </Fragment>
        ))}
    </td>
  );
}

function Session({ e, day, hand }: { e: Entry; day: number; hand?: Hand }) {
  const up = hand?.lifted?.rail === e.rail && hand.lifted.from === day;
  const words = (
    <>
      {e.pinned && (
        <span className="text-cinder" title="kept here by hand">
          ▾<span className="sr-only">kept here by hand: </span>
        </span>
      )}
      {e.short}{" "}
      {e.slot !== "habit" && (
        <span className="whitespace-nowrap text-quiet tabular-nums">{Math.ceil(e.seconds / 60)} min</span>
      )}
    </>
  );
  const look = `block w-full border-l-4 px-1.5 py-1 text-left leading-tight ${up ? "border-ink bg-ink text-panel [&_*]:text-panel" : "border-cinder bg-panel"}`;
  if (!hand || e.slot === "habit") return <p className={look}>{words}</p>;
  return (
    <button
      type="button"
      aria-pressed={up}
      aria-description={`${weekdays[day]}, ${slots.find(([s]) => s === e.slot)?.[1]}. Enter picks it up, arrows move it, Enter puts it down.`}
      onKeyDown={(k) => hand.keys(k, e, day)}
      onPointerDown={(p) => hand.press(p, e, day)}
      onClick={(c) => c.stopPropagation()}
      className={`${look} min-h-11 cursor-grab touch-none select-none`}
    >
      {words}
    </button>
  );
}
