import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { useReference } from "../Desk";
import { api, ask, newId, type Schemas } from "../api/client";
import { useRunner, useRunnerId } from "../runner/Runner";
import { Button, day, Empty, Failure, Heading, Loading, useDeed, Verdict } from "../ui/basics";
import { Bars, Dial, fig } from "../ui/drawings";
import { Why } from "../ui/reason";
import { Counter } from "./Counter";
import { Trials } from "./Trials";

export type View = Schemas["ScreenView"];
export type Save = (t: {
  measure: string;
  side: "left" | "right";
  value: number;
  faults?: string[];
  stop?: string;
  skipped?: string;
}) => Promise<boolean>;

/** One station at a time, left and right side by side; it can be broken off and resumed. */
export function Screen() {
  const id = useRunnerId();
  const ref = useReference();
  const runner = useRunner();
  const q = useQuery({
    queryKey: ["screens", id],
    queryFn: () => ask(api.GET("/api/runners/{runner}/screens", { params: { path: { runner: id } } })),
  });
  const queries = useQueryClient();
  const deed = useDeed();
  const go = useNavigate();
  const [at, setAt] = useState(0);
  const keep = async (v: View) => {
    queries.setQueryData(["screens", id], v);
    await queries.invalidateQueries({ predicate: (k) => k.queryKey[0] !== "screens" && k.queryKey[0] !== "reference" });
  };
  if (q.isPending || ref.isPending) return <Loading what="the screen" />;
  if (q.error || ref.error) return <Failure error={q.error ?? ref.error} again={() => q.refetch()} />;
  const view = q.data;
  const current = view.screens[0];
  const start = () =>
    deed.run(async () =>
      keep(
        await ask(
          api.PUT("/api/runners/{runner}/screens/{screen}", { params: { path: { runner: id, screen: newId() } } }),
        ),
      ),
    );
  const running = current && !current.finished;
  if (!running)
    return (
      <>
        <Heading>Screen</Heading>
        <Failure error={deed.error} />
        {runner.data?.stops.some((s) => s.open) && (
          <p className="mb-3 text-brick">
            ⬣ A warning sign is open. What it touches is not tested until it is cleared.
          </p>
        )}
        <Empty>
          {current
            ? `Last screen ${day(current.on)}. Start the next one when it is due.`
            : "Not screened yet. Three stations, about ten minutes, both sides."}
          <div className="mt-4 flex gap-3">
            <Button kind="main" onClick={start} disabled={deed.busy}>
              Start a screen
            </Button>
            {current && (
              <Button onClick={() => go({ to: "/runners/$runner/read", params: { runner: id } })}>
                Read the findings
              </Button>
            )}
          </div>
        </Empty>
      </>
    );
  const station = ref.data.stations[at];
  const path = { runner: id, screen: current.id };
  const save: Save = (t) =>
    deed.run(async () =>
      keep(
        await ask(
          api.PUT("/api/runners/{runner}/screens/{screen}/trials/{trial}", {
            params: { path: { ...path, trial: newId() } },
            body: t,
          }),
        ),
      ),
    );
  const remove = (trial: string) =>
    deed.run(async () =>
      keep(
        await ask(
          api.DELETE("/api/runners/{runner}/screens/{screen}/trials/{trial}", { params: { path: { ...path, trial } } }),
        ),
      ),
    );
  const finish = async () => {
    const ok = await deed.run(async () =>
      keep(await ask(api.POST("/api/runners/{runner}/screens/{screen}/finish", { params: { path } }))),
    );
    if (ok) await go({ to: "/runners/$runner/read", params: { runner: id } });
  };
  const last = at === ref.data.stations.length - 1;
  return (
    <>
      <Heading
        aside={
          <nav aria-label="Stations" className="flex flex-wrap gap-1">
            {ref.data.stations.map((s, i) => {
              const taken = s.measures.every(
                (m) =>
                  current.trials.some((t) => t.measure === m && t.side === "left") &&
                  current.trials.some((t) => t.measure === m && t.side === "right"),
              );
              return (
                <button
                  key={s.id}
                  type="button"
                  aria-current={i === at ? "step" : undefined}
                  onClick={() => setAt(i)}
                  className={`min-h-11 rounded-sq border px-3 ${i === at ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
                >
                  {taken ? "✓ " : ""}
                  {s.name}
                </button>
              );
            })}
          </nav>
        }
      >
        {station.name}
      </Heading>
      <p className="-mt-1 text-sm text-quiet">{station.kit}</p>

      <Failure error={deed.error} />
      {station.measures.map((id) => {
        const m = ref.data.measures.find((x) => x.id === id)!;
        return (
          <section key={id} aria-label={m.name} className="mt-3">
            {station.measures.length > 1 && <h2 className="text-xl">{m.name}</h2>}
            <p className="max-w-4xl text-quiet">{m.how.join(" ")}</p>
            <div className="mt-3 grid gap-4 md:grid-cols-2">
              {(["left", "right"] as const).map((side) =>
                m.stops.length > 0 ? (
                  <Counter
                    key={side}
                    measure={m}
                    side={side}
                    trials={current.trials}
                    ceiling={view.raiseCeiling}
                    why={view.ceilingReason}
                    save={save}
                    remove={remove}
                  />
                ) : (
                  <Trials
                    key={side}
                    measure={m}
                    side={side}
                    trials={current.trials}
                    plates={view.platesMm}
                    readings={view.readings}
                    save={save}
                    remove={remove}
                  />
                ),
              )}
            </div>
          </section>
        );
      })}
      <Results station={station} view={view} />
      <div className="sticky bottom-0 mt-6 flex gap-3 border-t-2 border-ink bg-ground py-3">
        {at > 0 && <Button onClick={() => setAt(at - 1)}>Station before</Button>}
        {!last && (
          <Button kind="main" onClick={() => setAt(at + 1)}>
            Next station
          </Button>
        )}
        {last && (
          <Button kind="main" onClick={finish} disabled={deed.busy || current.trials.length === 0}>
            Finish and read
          </Button>
        )}
      </div>
    </>
  );
}

const stationFindings: Record<string, string[]> = {
  ankle: ["ankle.knee_to_wall", "ankle.knee_to_wall.side"],
  big_toe: ["toe.passive_angle", "toe.active_gap", "toe.passive_angle.side"],
  raises: ["calf.raises_straight", "calf.raises_straight.side"],
};

/** Bars with reference and whisker, as soon as a side has a figure. */
export function Results({ station, view }: { station: Schemas["ScreenStation"]; view: View }) {
  return (
    <div aria-live="polite">
      {(stationFindings[station.id] ?? []).map((id) => {
        const fs = view.findings.filter((f) => f.id === id);
        if (fs.length === 0) return null;
        const left = fs.find((f) => f.side === "left" && !id.endsWith(".side"));
        const right = fs.find((f) => f.side === "right" && !id.endsWith(".side"));
        const gap = (side: "left" | "right") => view.findings.find((f) => f.id === "toe.active_gap" && f.side === side);
        return (
          <section key={id} aria-label={fs[0].name} className="mt-5">
            <h3 className="text-lg">{fs[0].name}</h3>
            <div className="flex flex-wrap gap-x-10">
              {fs.map((f) => (
                <p key={f.side} className="text-xl">
                  {!id.endsWith(".side") && <span className="text-quiet">{f.side} </span>}
                  <Why reason={f.reason} title={`${f.name}, ${f.side}`}>
                    <span className="fig text-2xl font-semibold">{fig(f)}</span>
                  </Why>{" "}
                  <Verdict v={f.verdict} big />
                </p>
              ))}
            </div>
            {!id.endsWith(".side") && <Bars left={left} right={right} name={fs[0].name} />}
            {id === "toe.passive_angle" && (
              <div className="flex gap-10">
                {[left, right].map(
                  (f) =>
                    f && (
                      <Dial
                        key={f.side}
                        degrees={f.value - (gap(f.side as "left")?.value ?? 0)}
                        faint={f.value}
                        label={`${f.side} big toe: passive ${f.value.toFixed(0)}°${gap(f.side as "left") ? `, by itself ${(f.value - gap(f.side as "left")!.value).toFixed(0)}°` : ""}`}
                      />
                    ),
                )}
              </div>
            )}
          </section>
        );
      })}
    </div>
  );
}
