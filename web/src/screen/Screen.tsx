import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useEffect, useRef, useState } from "react";
import { useReference } from "../Desk";
import { api, ask, type Schemas } from "../api/client";
import { Problem } from "../api/problem";
import { useRunner, useRunnerId } from "../runner/Runner";
import { Signs } from "../runner/Signs";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Pick } from "../ui/Pick";
import { Cadence } from "./Cadence";
import { Choose, Pain } from "./Choose";
import { Context, usualHow, type How } from "./Context";
import { Counter } from "./Counter";
import { Figure } from "./Figure";
import { Parts } from "./Parts";
import { Results } from "./Results";
import { Start } from "./Start";
import { Stopwatch } from "./Stopwatch";
import { SideBox, SideLine, type Entry, type Measure, type Sent, type Side, type Trial, type View } from "./entry";

const instruments: Record<Measure["kind"], (e: Entry) => React.ReactNode> = {
  figure: Figure,
  count: Counter,
  hold: Stopwatch,
  ability: Choose,
  blemish: Choose,
  class: Choose,
  pain: Pain,
  parts: Parts,
  cadence: Cadence,
};

export const sidesOf = (m: Measure): Side[] => (m.sided ? ["left", "right"] : ["both"]);

/** One station at a time, left and right side by side, in any order; broken off and resumed on any
 * device. Two coaches may enter at once: each sees the other's entries within seconds. */
export function Screen() {
  const id = useRunnerId();
  const ref = useReference();
  const runner = useRunner();
  const q = useQuery({
    queryKey: ["screens", id],
    queryFn: () => ask(api.GET("/api/runners/{runner}/screens", { params: { path: { runner: id } } })),
    refetchInterval: (query) => (query.state.data?.current ? 5000 : false),
  });
  const queries = useQueryClient();
  const deed = useDeed();
  const go = useNavigate();
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const [at, setAt] = useState(0);
  const [more, setMore] = useState(false);
  const [moment, setMoment] = useState<"before" | "after">("before");
  const [how, setHow] = useState<How>(usualHow);
  const [removed, setRemoved] = useState<Trial | null>(null);
  const turn = (to: number) => {
    setAt(to);
    setMore(false);
    window.scrollTo({ top: 0 });
  };
  useEffect(() => {
    const keys = (e: globalThis.KeyboardEvent) => {
      // Space with nothing in hand goes to the instrument that runs, else to the first that waits.
      if (e.key === " " && document.activeElement === document.body) {
        const button =
          document.querySelector<HTMLButtonElement>("[data-instrument=running]") ??
          document.querySelector<HTMLButtonElement>("[data-instrument=waiting]");
        if (button) {
          e.preventDefault();
          button.focus();
          button.click();
        }
      }
      if (e.key === "PageDown" || e.key === "PageUp") {
        const button = document.querySelector<HTMLButtonElement>(
          e.key === "PageDown" ? "[data-next]" : "[data-before]",
        );
        if (button) {
          e.preventDefault();
          button.click();
        }
      }
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  }, []);
  // A trial answers with what it changed; the rest of the room stays.
  const keep = async (v: View | Schemas["Taking"]) => {
    queries.setQueryData(["screens", id], (was: View | undefined) => ({ ...was, current: undefined, ...v }));
    await queries.invalidateQueries({ predicate: (k) => k.queryKey[0] !== "screens" && k.queryKey[0] !== "reference" });
  };
  if (q.isPending || ref.isPending || runner.isPending) return <Loading what="the screen" />;
  if (!q.data || !ref.data || !runner.data)
    return <Failure error={q.error ?? ref.error ?? runner.error} again={() => q.refetch()} />;
  const view = q.data;
  const current = view.current;
  if (!current)
    return (
      <>
        <Heading>Screen</Heading>
        <Failure error={deed.error} />
        {!view.signsAsked && <Signs view={runner.data} reference={ref.data} source="screen" ask />}
        <Start
          runner={id}
          view={view}
          stations={ref.data.stations}
          measures={ref.data.measures}
          busy={deed.busy}
          start={(kind, stations) =>
            deed.run(async (write) => {
              setAt(0);
              await keep(
                await ask(
                  api.PUT("/api/runners/{runner}/screens/{screen}", {
                    params: { path: { runner: id, screen: write({ kind, stations }) } },
                    body: { kind, stations },
                  }),
                ),
              );
            })
          }
        />
      </>
    );
  const asked = (m: string) => current.measures.includes(m);
  const stations = ref.data.stations.filter((s) => s.measures.some(asked));
  const station = stations[Math.min(at, stations.length - 1)];
  if (!station) return <Failure error={new Problem(0, "This screen asks for no test that is known here.")} />;
  const next = stations[stations.indexOf(station) + 1];
  const measure = (m: string) => ref.data.measures.find((x) => x.id === m)!;
  const path = { runner: id, screen: current.id };
  const session = current.kind === "session";
  const empty = current.trials.length === 0;
  const here = (t: Trial, m: string, side: Side) =>
    t.measure === m &&
    t.side === side &&
    (!session || t.moment === moment) &&
    (!t.context || (t.context.pace === how.pace && t.context.shod === how.shod && t.context.tired === how.tired));
  const taken = (m: string) => sidesOf(measure(m)).every((s) => current.trials.some((t) => here(t, m, s)));
  // One after the other: who types faster than the server answers loses nothing.
  const inTurn = (f: () => Promise<boolean>): Promise<boolean> => {
    const mine = line.current.then(f);
    line.current = mine.catch(() => undefined);
    return mine;
  };
  const save = (m: Measure, side: Side) => (t: Sent) =>
    inTurn(() =>
      deed.run(async (write) => {
        setRemoved(null);
        const body = {
          measure: m.id,
          side,
          ...(m.inContext ? { context: how } : {}),
          ...(session ? { moment } : {}),
          ...t,
        };
        await keep(
          await ask(
            api.PUT("/api/runners/{runner}/screens/{screen}/trials/{trial}", {
              params: { path: { ...path, trial: write(body) } },
              body,
            }),
          ),
        );
      }),
    );
  const remove = (t: Trial) =>
    deed.run(async () => {
      await keep(
        await ask(
          api.DELETE("/api/runners/{runner}/screens/{screen}/trials/{trial}", {
            params: { path: { ...path, trial: t.id } },
          }),
        ),
      );
      setRemoved(t);
    });
  const restore = (t: Trial) =>
    deed.run(async () => {
      await keep(
        await ask(
          api.POST("/api/runners/{runner}/screens/{screen}/trials/{trial}/restore", {
            params: { path: { ...path, trial: t.id } },
          }),
        ),
      );
      setRemoved(null);
    });
  const finish = async () => {
    const ok = await deed.run(async () =>
      keep(await ask(api.POST("/api/runners/{runner}/screens/{screen}/finish", { params: { path } }))),
    );
    if (ok && !empty)
      await go({ to: session ? "/runners/$runner/retest" : "/runners/$runner/read", params: { runner: id } });
  };
  const last = !next;
  const entered = (m: string) => current.trials.some((t) => t.measure === m);
  const due = station.measures.filter((m) => more || asked(m) || entered(m)); // a clip may give more than is asked
  const rest = station.measures.filter((m) => !asked(m) && !entered(m)).length;
  const done = current.measures.filter(taken).length;
  const contexts = due.some((m) => measure(m).inContext);
  return (
    <>
      <Heading
        aside={
          <span className="text-quiet">
            <span className="fig">
              {done} of {current.measures.length}
            </span>{" "}
            measures{current.on !== view.today && ` · begun ${day(current.on)}`}
          </span>
        }
      >
        {station.name}
      </Heading>
      <nav aria-label="Stations" className="-mt-1 mb-2 flex flex-wrap gap-1">
        {stations.map((s, i) => (
          <button
            key={s.id}
            type="button"
            aria-current={s.id === station.id ? "step" : undefined}
            onClick={() => turn(i)}
            className={`min-h-11 rounded-sq border px-2.5 text-[0.95rem] ${s.id === station.id ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
          >
            {s.measures.filter(asked).every(taken) ? "✓ " : ""}
            {s.name}
          </button>
        ))}
      </nav>
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
          onChange={(v) => setMoment(v as "before")}
        />
      )}
      <div className="sticky top-0 z-10">
        <Failure error={deed.error} />
        {removed && (
          <p role="status" className="my-2 flex items-center gap-4 border-l-4 border-ochre bg-panel px-4 py-1">
            Removed from {measure(removed.measure).name}, {removed.side}.
            <Button onClick={() => restore(removed)}>Put back</Button>
          </p>
        )}
      </div>
      {contexts && <Context how={how} onChange={setHow} last={view.contexts} />}
      {due.map((mid) => {
        const m = measure(mid);
        const Instrument = instruments[m.kind];
        const lines = ["ability", "blemish", "class"].includes(m.kind);
        const Box = lines ? SideLine : SideBox;
        return (
          <section key={mid + (session ? moment : "")} aria-label={m.name} className="mt-4">
            {due.length > 1 && <h2 className="text-xl">{m.name}</h2>}
            <p className="max-w-4xl text-quiet">{m.how.join(" ")}</p>
            <div className={lines ? "mt-1 border border-line" : `mt-2 grid gap-4 ${m.sided ? "md:grid-cols-2" : ""}`}>
              {sidesOf(m).map((side) => {
                const entry: Entry = {
                  measure: m,
                  side,
                  view,
                  mine: current.trials.filter((t) => here(t, mid, side)),
                  save: save(m, side),
                  remove: (t) => void remove(t),
                };
                return (
                  <Box key={side} entry={entry}>
                    <Instrument {...entry} />
                  </Box>
                );
              })}
            </div>
            {!lines && <Results measures={[mid]} name={m.name} view={view} />}
          </section>
        );
      })}
      {session && view.session.length > 0 && <SessionLines view={view} />}
      {rest > 0 && !session && (
        <Button kind="quiet" className="mt-4 px-0!" onClick={() => setMore(!more)}>
          {more ? "Only what this screen asks" : `${rest} more at this station`}
        </Button>
      )}
      <div className="sticky bottom-0 mt-6 flex flex-wrap gap-3 border-t-2 border-ink bg-ground py-3">
        {stations.indexOf(station) > 0 && (
          <Button data-before onClick={() => turn(stations.indexOf(station) - 1)}>
            Station before
          </Button>
        )}
        {next && (
          <Button kind="main" data-next onClick={() => turn(stations.indexOf(station) + 1)}>
            Next station: {next.name}
          </Button>
        )}
        <Button
          kind={last && !empty ? "main" : "plain"}
          onClick={finish}
          disabled={deed.busy}
          className={last ? "" : "ml-auto"}
        >
          {empty ? "Put this screen away" : session ? "Finish" : "Finish and read"}
        </Button>
      </div>
    </>
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
