import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { figure } from "../runner/draft";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Empty, Failure } from "../ui/Notice";
import { write } from "../ui/number";
import { sides } from "../ui/Pick";
import { kinds, surfaces } from "../ui/runs";
import { amountIn } from "../ui/units";

type View = Schemas["LoadView"];
type Run = Schemas["StoreKeptRun"];

const pains = ["", "0", "1", "2", "3", "4", "5", "6", "7", "8", "9", "10"] as const;
const words = { usual: "ran as usual that week", none: "did not run that week", "": "" };
const from = { phone: "phone", coach: "by hand", file: "file" };

/** Every run of the last weeks, and one more by hand. A run is corrected by entering it anew. */
export function Runs({ runner, view }: { runner: string; view: View }) {
  const [most, setMost] = useState(14);
  const [entering, setEntering] = useState<Run | "new" | null>(null);
  const told = useDeed(stale.runner(runner));
  const tell = (word: "usual" | "none") =>
    told.run(async (id) => {
      const body = { on: view.today, word };
      await ask(api.PUT("/api/runners/{runner}/runs/{id}", { params: { path: { runner, id: id(body) } }, body }));
    });
  return (
    <section aria-label="Runs">
      <Heading
        level={2}
        aside={
          <span className="flex flex-wrap gap-2">
            <Button disabled={told.busy} onClick={() => tell("usual")}>
              Ran as usual this week
            </Button>
            <Button disabled={told.busy} onClick={() => tell("none")}>
              Did not run
            </Button>
            <Button onClick={() => setEntering("new")}>Enter a run</Button>
          </span>
        }
      >
        Runs
      </Heading>
      <Failure error={told.error} />
      {entering && (
        <RunForm
          key={entering === "new" ? "new" : entering.id}
          runner={runner}
          view={view}
          was={entering === "new" ? null : entering}
          done={() => setEntering(null)}
        />
      )}
      {view.runs.length === 0 ? (
        <Empty>No run is known yet. Drop the files of a watch here, or enter one.</Empty>
      ) : (
        <div data-scrolls className="overflow-x-auto">
          <table className="w-full text-left">
            <thead className="text-sm text-quiet">
              <tr>
                <th className="py-1 font-normal">Day</th>
                <th className="px-2 font-normal">Minutes</th>
                <th className="px-2 font-normal">Distance</th>
                <th className="px-2 font-normal">Cadence</th>
                <th className="px-2 font-normal">Effort</th>
                <th className="px-2 font-normal">What</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {view.runs.slice(0, most).map((r) => (
                <tr key={r.id} className="border-t border-line">
                  <th scope="row" className="fig py-2 pr-2 font-normal whitespace-nowrap">
                    {day(r.on)}
                  </th>
                  {r.word ? (
                    <td colSpan={5}>{words[r.word]}</td>
                  ) : (
                    <>
                      <td className="fig px-2 font-semibold">{write(r.minutes, 0)}</td>
                      <td className="fig px-2 whitespace-nowrap">{r.km > 0 ? amountIn("km", r.km) : "–"}</td>
                      <td className="fig px-2 whitespace-nowrap">{r.cadence ? write(r.cadence, 0) : "–"}</td>
                      <td className="fig px-2 whitespace-nowrap">{r.rpe > 0 ? r.rpe : "–"}</td>
                      <td className="px-2">
                        {[kinds.find((k) => k.id && k.id === r.kind)?.name, r.surface, r.shoe]
                          .filter(Boolean)
                          .join(", ") || "–"}
                      </td>
                    </>
                  )}
                  <td className="text-right text-sm whitespace-nowrap text-quiet">
                    {from[r.source]}
                    {!r.word && (
                      <Button
                        kind="quiet"
                        aria-label={`Correct the run of ${day(r.on)}`}
                        onClick={() => setEntering(r)}
                      >
                        Correct
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {view.runs.length > most && (
        <Button className="mt-2" onClick={() => setMost(most + 60)}>
          Show {Math.min(60, view.runs.length - most)} more
        </Button>
      )}
    </section>
  );
}

function RunForm({ runner, view, was, done }: { runner: string; view: View; was: Run | null; done: () => void }) {
  const text = (n?: number) => (n && n > 0 ? String(n) : "");
  const [on, setOn] = useState(was?.on ?? view.today);
  const [minutes, setMinutes] = useState(text(was?.minutes));
  const [km, setKm] = useState(text(was?.km));
  const [rpe, setRpe] = useState(text(was?.rpe));
  const [cadence, setCadence] = useState(text(was?.cadence));
  const [climb, setClimb] = useState(text(was?.climbM));
  const [kind, setKind] = useState<NonNullable<Run["kind"]>>(was?.kind ?? "");
  const [surface, setSurface] = useState<string>(was?.surface ?? "");
  const [shoe, setShoe] = useState(was?.shoe ?? "");
  const [pain, setPain] = useState<string>(was?.pain ?? "");
  const [region, setRegion] = useState<string>(was?.region ?? "");
  const [side, setSide] = useState<string>(was?.side ?? "");
  const deed = useDeed(stale.runner(runner));
  const reference = useQuery(rooms.reference());
  const keep = () =>
    deed.run(async (id) => {
      const details: Schemas["LoadDetails"] = {
        ...(was && detailsOf(was)),
        kind,
        shoe,
        pain: pains.find((p) => p === pain) ?? "",
        region: pain && pain !== "0" ? region : "",
        side: pain && pain !== "0" ? (sides.find((s) => s.id === side)?.id ?? "") : "",
        surface: surfaces.find((s) => s === surface) ?? "",
        cadence: cadence.trim() ? figure("cadence", cadence) : 0,
        climbM: climb.trim() ? figure("climbM", climb) : 0,
      };
      const body = {
        on,
        minutes: figure("minutes", minutes),
        km: km.trim() ? figure("km", km) : 0,
        rpe: rpe.trim() ? figure("rpe", rpe, true) : 0,
        details,
      };
      await ask(
        api.PUT("/api/runners/{runner}/runs/{id}", {
          params: { path: { runner, id: id(body) }, query: { supersedes: was?.id } },
          body,
        }),
      );
      done();
    });
  return (
    <form
      aria-label={was ? `Correct the run of ${day(was.on)}` : "Enter a run"}
      className="mb-4 space-y-3 border border-line bg-panel p-4"
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <div className="grid grid-cols-2 gap-3 md:grid-cols-4">
        <Field label="Day" type="date" value={on} onChange={(e) => setOn(e.target.value)} error={deed.fields["on"]} />
        <Field label="Minutes" inputMode="decimal" value={minutes} onText={setMinutes} error={deed.fields["minutes"]} />
        <Field label="Distance" unit="km" inputMode="decimal" value={km} onText={setKm} error={deed.fields["km"]} />
        <Field label="Effort, 1–10" inputMode="numeric" value={rpe} onText={setRpe} error={deed.fields["rpe"]} />
        <Field
          label="Cadence, spm"
          inputMode="decimal"
          value={cadence}
          onText={setCadence}
          error={deed.fields["cadence"]}
        />
        <Field label="Climb, m" inputMode="decimal" value={climb} onText={setClimb} error={deed.fields["climbM"]} />
        <Choice
          label="What for"
          value={kind}
          options={kinds}
          onChange={(k) => setKind(kinds.find((x) => x.id === k)?.id ?? "")}
        />
        <Choice
          label="Surface"
          value={surface}
          options={surfaces.map((s) => ({ id: s, name: s || "not said" }))}
          onChange={setSurface}
        />
        <Choice
          label="Shoe"
          value={shoe}
          options={[...new Set(["", ...view.shoeNames, shoe])].map((s) => ({ id: s, name: s || "not said" }))}
          onChange={setShoe}
        />
        <Choice
          label="Pain while running"
          value={pain}
          options={pains.map((p) => ({ id: p, name: p || "not asked" }))}
          onChange={setPain}
        />
        {pain !== "" && pain !== "0" && (
          <>
            <Choice
              label="Where it hurt"
              value={region}
              options={[{ id: "", name: "choose" }, ...(reference.data?.regions ?? [])]}
              onChange={setRegion}
            />
            <Choice label="Side" value={side} options={[{ id: "", name: "choose" }, ...sides]} onChange={setSide} />
          </>
        )}
      </div>
      <div className="flex flex-wrap gap-3">
        <Button kind="main" type="submit" disabled={deed.busy}>
          {was ? "Keep the correction" : "Keep the run"}
        </Button>
        <Button kind="quiet" onClick={done}>
          Leave it
        </Button>
      </div>
      <Failure error={deed.error} />
    </form>
  );
}

/** What a correction keeps of the run as it was: its moment and what the watch and the file say. */
function detailsOf(r: Run): Schemas["LoadDetails"] {
  const { start, elapsed, began, gone, contactMs, bounceMm, balanceL, file, fileBytes, fileHash } = r;
  return { start, elapsed, began, gone, contactMs, bounceMm, balanceL, file, fileBytes, fileHash };
}
