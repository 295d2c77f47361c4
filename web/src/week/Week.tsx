import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState, type KeyboardEvent, type PointerEvent } from "react";
import { api, ask, type Schemas } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { useRunnerId } from "../runner/Runner";
import { arrows } from "../ui/arrows";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Versions } from "../ui/Versions";
import { Heading } from "../ui/Heading";
import { Empty, Failure, Loading } from "../ui/Notice";
import { Why } from "../ui/reason";
import { Pattern, slots, weekdays, type Entry, type Hand, type Slot } from "./Pattern";
import { Note } from "../ui/Note";

type Lifted = NonNullable<Hand["lifted"]>;

/** The pattern in force, movable, today's doses, the days ahead and what to hand out. */
export function Week() {
  const id = useRunnerId();
  const q = useQuery(rooms.week(id));
  const go = useNavigate();
  if (q.isPending) return <Loading what="the week" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const v = q.data;
  if (!v.inForce || !v.week)
    return (
      <>
        <Heading>Week</Heading>
        <Empty>
          No programme is in force yet.
          <Button
            kind="main"
            className="mt-4 block"
            onClick={() => go({ to: "/runners/$runner/build", params: { runner: id } })}
          >
            Build one
          </Button>
        </Empty>
      </>
    );
  const dates = [...new Set(v.days.map((d) => d.on))].slice(0, 10);
  const over = v.week.days.filter((d) => d.seconds > d.minutes * 60);
  return (
    <>
      <Heading aside={<span className="text-quiet">in force since {day(v.inForce.on)}</span>}>
        <Why reason={v.week.why} title="The week">
          Week
        </Why>
      </Heading>
      {v.race && (
        <Note kind="today" className="mb-3 text-lg">
          <Why reason={v.race.why} title="Race">
            {v.race.says}
          </Why>
        </Note>
      )}
      {v.wayBack && (
        <section aria-label="Back to running" className="mb-3 border-l-4 border-tide bg-panel px-4 py-2">
          <p className="text-lg">
            <span className="font-semibold text-tide">Back to running: </span>
            <Why reason={v.wayBack.reason} title="Back to running">
              {v.wayBack.reason.says}
            </Why>
          </p>
          {v.wayBack.days.length > 0 && (
            <>
              <p className="mt-1 text-xl font-semibold tabular-nums">{v.wayBack.days[0]?.what}</p>
              <p className="tabular-nums">{v.wayBack.days.map((d) => day(d.on)).join(" · ")}</p>
              <p className="mt-1 text-quiet">The fixed runs below wait until the way back is done.</p>
            </>
          )}
        </section>
      )}
      {(v.bare.length > 0 || v.noRoom) && (
        <section aria-label="Bare feet this week" className="mb-3 border-l-4 border-tide bg-panel px-4 py-2">
          <strong>Bare feet: </strong>
          {v.noRoom ||
            (v.bare.every((b) => b.words === v.bare[0]?.words) && v.bare.length > 3
              ? `daily, ${v.bare[0]?.words}`
              : v.bare.map((b) => `${day(b.on)}, ${b.words}`).join("; "))}
          .
        </section>
      )}
      {v.lead && (
        <p className="mb-3 text-lg">
          This week{" "}
          <Why reason={v.lead.why} title="Who leads this week">
            <strong>{v.lead.dial} leads</strong>
          </Why>
          {v.lead.easy && ", an easy week"}.
        </p>
      )}
      {v.most && (
        <Note kind="good" className="mb-3 text-lg">
          <span className="font-semibold text-tide">Running: </span>
          <Why reason={v.most} title="Running">
            {v.most.says}
          </Why>
        </Note>
      )}
      {over.length > 0 && (
        <Note kind="caution" className="mb-3">
          Doses have grown: {over.map((d) => weekdays[d.weekday]).join(", ")}{" "}
          {over.length > 1 ? "take more minutes than they have" : "takes more minutes than it has"}. Move a session, or
          build again to lay the week out anew.
        </Note>
      )}
      <Movable key={v.inForce.id} view={v} week={v.week} runner={id} />
      <HandOuts runner={id} workouts={v.workouts} />
      <Heading level={2}>Today's doses</Heading>
      <ul>
        {v.lines.map((l) => (
          <li key={l.rail + l.side} className="grid grid-cols-[9rem_4rem_minmax(0,1fr)] border-b border-line py-1.5">
            <span className="font-semibold">{v.shorts[l.rail] ?? l.rail}</span>
            <span className="text-quiet">{l.side}</span>
            <Why reason={l.reason} title={`${v.shorts[l.rail]}, ${l.side}: ${l.text}`}>
              <span className="tabular-nums">{l.text}</span>
            </Why>
          </li>
        ))}
      </ul>
      <Heading level={2}>Days ahead</Heading>
      <ul className="grid grid-cols-2 gap-x-8 md:grid-cols-3">
        {dates.map((on) => (
          <li key={on} className="border-b border-line py-1.5">
            <span className="fig">{on === v.today ? "Today" : day(on)}</span>{" "}
            {v.days
              .filter((d) => d.on === on)
              .map((d) => v.shorts[d.rail])
              .join(", ")}
          </li>
        ))}
      </ul>
    </>
  );
}

type Place = Pick<Lifted, "from" | "slot">;
const is = (a: Place) => (b: Place) => a.from === b.from && a.slot === b.slot;
type Moved = { held: Lifted; d: number; s: Slot; before: Place[] };

/** Sessions are lifted by pointer or Enter, carried by pointer or arrows, and put down where every hard
 * rule allows; elsewhere the reason stands at once. */
function Movable({ view, week, runner }: { view: Schemas["WeekView"]; week: Schemas["BuildWeek"]; runner: string }) {
  const [lifted, setLifted] = useState<Lifted | null>(null);
  const [target, setTarget] = useState<Hand["target"]>(null);
  const [said, setSaid] = useState("");
  const [back, setBack] = useState<string[]>([]);
  const [moved, setMoved] = useState<Moved | null>(null); // the last move made here
  const deed = useDeed(stale.runner(runner));
  const queries = useQueryClient();
  const weigh = (held: Lifted) => rooms.moves(runner, view.id, held.rail, held.from);
  const moves = useQuery({ ...weigh(lifted ?? { rail: "", from: 0, slot: "own" }), enabled: !!lifted });
  const refused = (d: number, s: Slot) =>
    moves.data ? (moves.data.find((c) => c.weekday === d && c.slot === s)?.refused ?? "") : "weighing the week …";
  const place = (d: number, s: Slot) => `${weekdays[d]}, ${slots.find(([x]) => x === s)?.[1]}`;
  const name = (rail: string) => view.shorts[rail] ?? rail;

  const change = (body: Schemas["WeekChange"]) =>
    deed.run(async (id) => {
      await ask(api.PUT("/api/runners/{runner}/weeks/{id}", { params: { path: { runner, id: id(body) } }, body }));
    });
  const put = async (d: number, s: Slot, held = lifted) => {
    if (!held) return;
    setLifted(null);
    setTarget(null);
    if (held.from === d && held.slot === s) return setSaid("");
    const cells = await queries.fetchQuery({ ...weigh(held), staleTime: 60_000 });
    const why = cells.find((c) => c.weekday === d && c.slot === s)?.refused;
    if (why) return setSaid(`${name(held.rail)} stays where it was. ${place(d, s)}: ${why}.`);
    const saw = view.id;
    setMoved({ held, d, s, before: stands(held) });
    if (await change({ saw, rail: held.rail, from: held.from, to: d, slot: s })) {
      setBack((b) => [...b, saw]);
      setSaid(`${name(held.rail)} moved to ${place(d, s)}, and is kept there.`);
    }
  };
  // The places of a rail's sessions. A colleague's week has the one that was moved here where it was, or where none was before.
  const stands = (held: Lifted) =>
    week.days.flatMap((x, d) => x.entries.filter((e) => e.rail === held.rail).map((e) => ({ from: d, slot: e.slot })));
  const again = ({ held, d, s, before }: Moved) => {
    const now = stands(held);
    const at = now.find(is(held)) ?? now.find((x) => !before.some(is(x))) ?? now[0];
    if (at) void put(d, s, { rail: held.rail, from: at.from, slot: at.slot });
  };
  const hand: Hand = {
    lifted,
    target,
    refused,
    lift: (rail, from, slot) => setLifted({ rail, from, slot }),
    drop: (d, s) => void put(d, s),
    keys: (e, entry, from) => keys(e, entry, from),
    press: (e, entry, from) => press(e, entry, from),
  };
  function keys(e: KeyboardEvent, entry: Entry, from: number) {
    const mine = lifted?.rail === entry.rail && lifted.from === from;
    if (e.key === "Escape" && lifted) {
      e.preventDefault();
      setLifted(null);
      setTarget(null);
      return setSaid(`${name(entry.rail)} stays where it was.`);
    }
    if (e.key === "Enter" || e.key === " ") {
      e.preventDefault();
      if (mine && target) return void put(target.day, target.slot);
      setLifted({ rail: entry.rail, from, slot: entry.slot });
      setTarget({ day: from, slot: entry.slot });
      return setSaid(`${name(entry.rail)} is picked up. Arrows choose a place, Enter puts it down, Escape leaves it.`);
    }
    const step = arrows[e.key];
    if (!step || !mine || !target) return;
    e.preventDefault();
    const rows: Slot[] = slots.map(([s]) => s).filter((s) => s !== "habit");
    const next = {
      day: Math.min(6, Math.max(0, target.day + step.x)),
      slot: rows[Math.min(rows.length - 1, Math.max(0, rows.indexOf(target.slot) + step.y))] ?? target.slot,
    };
    setTarget(next);
    const why = refused(next.day, next.slot);
    setSaid(why ? `${place(next.day, next.slot)}: ${why}.` : `${place(next.day, next.slot)}: may stand here.`);
  }
  function press(e: PointerEvent, entry: Entry, from: number) {
    if (e.button !== 0) return;
    const held: Lifted = { rail: entry.rail, from, slot: entry.slot };
    const at = { x: e.clientX, y: e.clientY };
    let carried = false;
    const cellAt = (x: number, y: number) => {
      const cell = document.elementFromPoint(x, y)?.closest<HTMLElement>("[data-cell]")?.dataset.cell?.split(" ");
      return cell ? { day: Number(cell[0]), slot: cell[1] as Slot } : null;
    };
    setLifted(held);
    setTarget({ day: from, slot: entry.slot });
    setSaid(`${name(entry.rail)} is picked up: drag it, or tap a place.`);
    const move = (m: globalThis.PointerEvent) => {
      if (Math.hypot(m.clientX - at.x, m.clientY - at.y) > 8) carried = true;
      if (carried) setTarget(cellAt(m.clientX, m.clientY));
    };
    const up = (u: globalThis.PointerEvent) => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      if (!carried) return; // a tap: it stays lifted until a place is tapped
      const cell = cellAt(u.clientX, u.clientY);
      if (cell) void put(cell.day, cell.slot, held);
      else setLifted(null);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
  }
  const now = target && lifted ? refused(target.day, target.slot) : "";
  return (
    <>
      <div className="sticky top-0 z-10 mb-2 flex min-h-14 flex-wrap items-center gap-3 border-b border-line bg-ground py-1">
        {back.length > 0 && (
          <Button
            disabled={deed.busy}
            onClick={async () => {
              if (await change({ saw: view.id, restore: true, week: back[back.length - 1] })) {
                setBack((b) => b.slice(0, -1));
                setSaid("Taken back.");
              }
            }}
          >
            Undo the last move
          </Button>
        )}
        <p
          role="status"
          aria-live="assertive"
          className={`min-w-0 grow text-lg leading-tight ${now ? "text-brick" : said ? "" : "text-quiet"}`}
        >
          {target && lifted && now
            ? `${place(target.day, target.slot)}: ${now}.`
            : said || "Drag a session, or pick it up with Enter and move it with the arrows."}
        </p>
      </div>
      {deed.clash && moved ? (
        <Versions
          what="this week"
          theirs={`${name(moved.held.rail)} on ${stands(moved.held)
            .map((x) => place(x.from, x.slot))
            .join("; ")}`}
          mine={`${name(moved.held.rail)} to ${place(moved.d, moved.s)}`}
          busy={deed.busy}
          onTheirs={deed.forget}
          onMine={() => again(moved)}
        />
      ) : (
        <Failure error={deed.error} />
      )}
      <Pattern week={week} hand={hand} />
    </>
  );
}

function HandOuts({ runner, workouts }: { runner: string; workouts: string[] }) {
  const base = `/api/runners/${runner}`;
  const link =
    "inline-flex min-h-11 items-center rounded-sq border border-line bg-panel px-4 underline-offset-4 hover:underline";
  return (
    <section aria-label="Hand-outs" className="mt-6 flex flex-wrap items-center gap-2">
      <h2 className="mr-2 text-xl">Hand out</h2>
      <Link to="/runners/$runner/hand-out" params={{ runner }} className={link}>
        Print the week
      </Link>
      <a className={link} href={`${base}/hand-out.pdf?paper=A4`} download>
        PDF, A4
      </a>
      <a className={link} href={`${base}/hand-out.pdf?paper=Letter`} download>
        PDF, Letter
      </a>
      <a className={link} href={`${base}/calendar.ics`} download>
        Calendar file
      </a>
      <a className={link} href={`${base}/doses.csv`} download>
        Doses as CSV
      </a>
      {workouts.map((on) => (
        <a key={on} className={link} href={`${base}/workouts/${on}`} download>
          Watch, {day(on)}
        </a>
      ))}
    </section>
  );
}
