import { useNavigate } from "@tanstack/react-router";
import { useEffect, useRef, useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { Problem } from "../api/problem";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { Pick } from "../ui/Pick";
import { Context, usualHow, type How } from "./Context";
import { Instrument } from "./Instrument";
import type { Measure, Side, Trial, View } from "./entry";
import { useWaiting, type Body } from "./waiting";
import { Note } from "../ui/Note";

export const sidesOf = (m: Measure): Side[] => (m.sided ? ["left", "right"] : ["both"]);

type Current = NonNullable<View["current"]>;
type Moment = "before" | "after";

/** The trials of an open screen: kept, on their way, taken out and put back. */
function useTrials(runner: string, screen: string, keep: (v: View | Schemas["Taking"]) => Promise<void>) {
  const path = { runner, screen };
  const deed = useDeed(stale.runner(runner, "screen"));
  const [removed, setRemoved] = useState<Trial | null>(null);
  const { add, ...sent } = useWaiting(screen, async (w) => {
    const now = await ask(
      api.PUT("/api/runners/{runner}/screens/{screen}/trials/{trial}", {
        params: { path: { ...path, trial: w.id } },
        body: w.body,
      }),
    );
    await keep(now);
    void deed.again();
  });
  const one = (t: Trial) => ({ params: { path: { ...path, trial: t.id } } });
  return {
    ...sent,
    deed,
    removed,
    add: (body: Body) => {
      setRemoved(null);
      add(body);
    },
    remove: (t: Trial) =>
      void deed.run(async () => {
        await keep(await ask(api.DELETE("/api/runners/{runner}/screens/{screen}/trials/{trial}", one(t))));
        setRemoved(t);
      }),
    restore: (t: Trial) =>
      void deed.run(async () => {
        await keep(await ask(api.POST("/api/runners/{runner}/screens/{screen}/trials/{trial}/restore", one(t))));
        setRemoved(null);
      }),
    finish: () =>
      deed.run(async () =>
        keep(await ask(api.POST("/api/runners/{runner}/screens/{screen}/finish", { params: { path } }))),
      ),
  };
}

/** An open screen, one station at a time, left and right side by side, in any order. */
export function Taking({
  runner,
  view,
  current,
  reference,
  keep,
}: {
  runner: string;
  view: View;
  current: Current;
  reference: Schemas["Reference"];
  keep: (v: View | Schemas["Taking"]) => Promise<void>;
}) {
  const go = useNavigate();
  const trials = useTrials(runner, current.id, keep);
  const [at, setAt] = useState(0);
  const [more, setMore] = useState(false);
  const [moment, setMoment] = useState<Moment>("before");
  const [how, setHow] = useState<How>(usualHow);
  const room = useKeys();
  const asked = (m: string) => current.measures.includes(m);
  const stations = reference.stations.filter((s) => s.measures.some(asked));
  const station = stations[Math.min(at, stations.length - 1)];
  if (!station) return <Failure error={new Problem(0, "This screen asks for no test that is known here.")} />;
  const place = stations.indexOf(station);
  const measure = (id: string) => reference.measures.filter((m) => m.id === id);
  const session = current.kind === "session";
  const here = <T extends Body | Trial>(t: T, m: string, side: Side) =>
    t.measure === m &&
    t.side === side &&
    (!session || t.moment === moment) &&
    (!t.context || (t.context.pace === how.pace && t.context.shod === how.shod && t.context.tired === how.tired));
  const taken = (m: string) =>
    measure(m).every((x) => sidesOf(x).every((s) => current.trials.some((t) => here(t, m, s))));
  const entered = (m: string) => current.trials.some((t) => t.measure === m);
  const due = station.measures.filter((m) => more || asked(m) || entered(m)); // a clip may give more than is asked
  const rest = station.measures.filter((m) => !asked(m) && !entered(m)).length;
  const turn = (to: number) => {
    setAt(to);
    setMore(false);
    window.scrollTo({ top: 0 });
  };
  const empty = current.trials.length + trials.waiting.length === 0;
  const finish = async () => {
    if ((await trials.finish()) && !empty)
      await go({ to: session ? "/runners/$runner/retest" : "/runners/$runner/read", params: { runner } });
  };
  return (
    <div ref={room}>
      <Heading
        aside={
          <span className="text-quiet">
            <span className="fig">
              {current.measures.filter(taken).length} of {current.measures.length}
            </span>{" "}
            measures{current.on !== view.today && ` · begun ${day(current.on)}`}
          </span>
        }
      >
        {station.name}
      </Heading>
      <Stations all={stations} here={place} done={(s) => s.measures.filter(asked).every(taken)} turn={turn} />
      <p className="text-quiet">
        {station.kit}
        {station.rest && <strong className="text-ochre"> {station.rest}</strong>}
      </p>
      {session && (
        <Pick
          label="Before or after the session"
          className="mt-2"
          value={moment}
          options={[
            { id: "before", name: "before the session" },
            { id: "after", name: "after the session" },
          ]}
          onChange={setMoment}
        />
      )}
      <Trouble trials={trials} name={(id) => measure(id)[0]?.name ?? id} />
      {due.some((m) => measure(m)[0]?.inContext) && <Context how={how} onChange={setHow} last={view.contexts} />}
      {due.flatMap(measure).map((m) => (
        <Instrument
          key={m.id + (session ? moment : "")}
          measure={m}
          alone={due.length === 1}
          view={view}
          entry={(side) => ({
            mine: current.trials.filter((t) => here(t, m.id, side)),
            waiting: trials.waiting.filter((w) => here(w.body, m.id, side)),
            save: (t) =>
              trials.add({
                measure: m.id,
                side,
                ...(m.inContext ? { context: how } : {}),
                ...(session ? { moment } : {}),
                ...t,
              }),
            remove: trials.remove,
            drop: trials.drop,
          })}
        />
      ))}
      {session && view.session.length > 0 && <SessionLines view={view} />}
      {rest > 0 && !session && (
        <Button kind="quiet" size="bare" className="mt-4" onClick={() => setMore(!more)}>
          {more ? "Only what this screen asks" : `${rest} more at this station`}
        </Button>
      )}
      <Foot
        before={place > 0 ? () => turn(place - 1) : undefined}
        next={stations[place + 1]?.name}
        turn={() => turn(place + 1)}
        end={empty ? "Put this screen away" : session ? "Finish" : "Finish and read"}
        main={!stations[place + 1] && !empty}
        busy={trials.deed.busy || trials.waiting.length > 0}
        finish={finish}
      />
    </div>
  );
}

/** Space with nothing in hand goes to the instrument that runs, else to the first that waits; Page Up and Down turn. */
function useKeys() {
  const room = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const first = (...marks: string[]) =>
      marks.map((m) => room.current?.querySelector<HTMLButtonElement>(m)).find((b) => b !== null && b !== undefined);
    const keys = (e: KeyboardEvent) => {
      const idle = e.key === " " && document.activeElement === document.body;
      const button = idle
        ? first("[data-instrument=running]", "[data-instrument=waiting]")
        : e.key === "PageDown"
          ? first("[data-next]")
          : e.key === "PageUp"
            ? first("[data-before]")
            : undefined;
      if (!button) return;
      e.preventDefault();
      if (idle) button.focus();
      button.click();
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  }, []);
  return room;
}

function Stations({
  all,
  here,
  done,
  turn,
}: {
  all: Schemas["ScreenStation"][];
  here: number;
  done: (s: Schemas["ScreenStation"]) => boolean;
  turn: (to: number) => void;
}) {
  return (
    <nav aria-label="Stations" className="-mt-1 mb-2 flex flex-wrap gap-1">
      {all.map((s, i) => (
        <button
          key={s.id}
          type="button"
          aria-current={i === here ? "step" : undefined}
          onClick={() => turn(i)}
          className={`min-h-11 rounded-sq border px-2.5 text-[0.95rem] ${i === here ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
        >
          {done(s) ? "✓ " : ""}
          {s.name}
        </button>
      ))}
    </nav>
  );
}

/** What could not be sent yet, what failed, and what was just taken out. */
function Trouble({ trials, name }: { trials: ReturnType<typeof useTrials>; name: (measure: string) => string }) {
  const { deed, trouble, removed, restore, waiting } = trials;
  const left = waiting.filter((w) => !w.why).length;
  return (
    <div className="sticky top-0 z-10">
      <Failure error={deed.error} />
      {trouble !== null && (
        <Note role="status" kind="caution" className="my-2">
          <strong>
            {left} {left === 1 ? "trial is" : "trials are"} not kept yet.
          </strong>{" "}
          {trouble instanceof Problem && trouble.status === 0
            ? "The server cannot be reached."
            : "The server cannot take it now."}{" "}
          Go on; it is tried again by itself, and kept on this device meanwhile.
        </Note>
      )}
      {removed && (
        <Note role="status" kind="caution" className="my-2 flex items-center gap-4">
          Removed from {name(removed.measure)}, {removed.side}.
          <Button onClick={() => restore(removed)}>Put back</Button>
        </Note>
      )}
    </div>
  );
}

function Foot({
  before,
  next,
  turn,
  end,
  main,
  busy,
  finish,
}: {
  before?: () => void;
  next?: string;
  turn: () => void;
  end: string;
  main: boolean;
  busy: boolean;
  finish: () => Promise<void>;
}) {
  return (
    <div className="sticky bottom-0 mt-6 flex flex-wrap gap-3 border-t-2 border-ink bg-ground py-3">
      {before && (
        <Button data-before onClick={before}>
          Station before
        </Button>
      )}
      {next && (
        <Button kind="main" data-next onClick={turn}>
          Next station: {next}
        </Button>
      )}
      <Button kind={main ? "main" : "plain"} onClick={finish} disabled={busy} className={next ? "ml-auto" : ""}>
        {end}
      </Button>
    </div>
  );
}

function SessionLines({ view }: { view: View }) {
  return (
    <section aria-label="After against before" className="mt-4 border border-line bg-panel px-4 py-3">
      <h2 className="text-xl">After against before</h2>
      {view.session.map((c) => (
        <p key={c.finding.id + c.finding.side}>
          {c.finding.name}, {c.finding.side}: <strong>{c.change}</strong>
        </p>
      ))}
    </section>
  );
}
