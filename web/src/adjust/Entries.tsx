import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { figure } from "../runner/draft";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { Why } from "../ui/reason";
import type { AdjustView } from "./Adjust";
import { Note } from "../ui/Note";

/** What the runner told in person: a morning, a run, what a session left open. */
export function Entries({ runner, view }: { runner: string; view: AdjustView }) {
  const waiting = view.rails.flatMap((r) => r.logs).filter((l) => l.rpe < 0 || l.pain < 0);
  return (
    <>
      <Heading level={2}>Mornings</Heading>
      <p className="mb-2">
        {view.usual.map((u) => (
          <span key={u.region + u.side} className="mr-6">
            Usual, {u.side} {u.region.replaceAll("_", " ")}:{" "}
            <Why reason={u.reason} title={`Usual morning, ${u.side} ${u.region.replaceAll("_", " ")}`}>
              <span className="fig font-semibold">{u.level}</span>
            </Why>
          </span>
        ))}
      </p>
      <MorningStrip view={view} />
      <div className="mt-4 grid gap-6 md:grid-cols-2">
        <MorningForm runner={runner} view={view} />
        <RunForm runner={runner} view={view} />
      </div>
      {waiting.map((l) => (
        <Open key={l.id} runner={runner} log={l} />
      ))}
    </>
  );
}

function MorningStrip({ view }: { view: AdjustView }) {
  const keys = [...new Set(view.mornings.map((m) => `${m.side} ${m.region}`))].sort();
  const days = [...new Set(view.mornings.map((m) => m.on))].sort().slice(-14);
  if (days.length === 0) return <p className="text-quiet">No morning reported in three weeks.</p>;
  return (
    <table className="fig text-[0.9rem]">
      <thead>
        <tr>
          <td />
          {days.map((d) => (
            <th key={d} scope="col" className="px-1.5 font-normal text-quiet">
              {d.slice(8)}.
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {keys.map((k) => (
          <tr key={k} className="border-t border-line">
            <th scope="row" className="pr-4 text-left font-sans font-medium">
              {k.replaceAll("_", " ")}
            </th>
            {days.map((d) => {
              const m = view.mornings.find((x) => x.on === d && `${x.side} ${x.region}` === k);
              return (
                <td key={d} className={`px-1.5 text-center ${m && m.pain > 2 ? "font-bold text-cinder" : ""}`}>
                  {m ? m.pain : "·"}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function MorningForm({ runner, view }: { runner: string; view: AdjustView }) {
  const [at, setAt] = useState(0);
  const [on, setOn] = useState(view.today);
  const [pain, setPain] = useState("");
  const deed = useDeed(stale.runner(runner));
  const place = view.watched[at];
  return (
    <form
      aria-label="Enter a morning"
      onSubmit={(e) => {
        e.preventDefault();
        if (!place) return;
        void deed.run(async (id) => {
          const body = {
            on,
            region: place.region,
            side: place.side,
            pain: pain.trim() === "" ? NaN : figure("pain", pain, true),
          };
          await ask(
            api.PUT("/api/runners/{runner}/mornings/{id}", { params: { path: { runner, id: id(body) } }, body }),
          );
          setPain("");
        });
      }}
      className="space-y-3 border border-line bg-panel p-4"
    >
      <h3 className="text-lg">Enter a morning</h3>
      <Choice
        label="Where"
        value={String(at)}
        options={view.watched.map((w, i) => ({ id: String(i), name: `${w.side} ${w.name}` }))}
        onChange={(v) => setAt(Number(v))}
      />
      <div className="grid grid-cols-2 gap-3">
        <Field label="Day" type="date" value={on} onChange={(e) => setOn(e.target.value)} error={deed.fields["on"]} />
        <Field
          label="First steps, 0–10"
          inputMode="numeric"
          value={pain}
          onChange={(e) => setPain(e.target.value)}
          error={deed.fields["pain"]}
        />
      </div>
      <Button type="submit" disabled={deed.busy}>
        Keep the morning
      </Button>
      <Failure error={deed.error} />
    </form>
  );
}

function RunForm({ runner, view }: { runner: string; view: AdjustView }) {
  const [on, setOn] = useState(view.today);
  const [minutes, setMinutes] = useState("");
  const [km, setKm] = useState("");
  const deed = useDeed(stale.runner(runner));
  return (
    <form
      aria-label="Enter a run"
      onSubmit={(e) => {
        e.preventDefault();
        void deed.run(async (id) => {
          const body = { on, minutes: figure("minutes", minutes), km: figure("km", km) };
          await ask(api.PUT("/api/runners/{runner}/runs/{id}", { params: { path: { runner, id: id(body) } }, body }));
          setMinutes("");
          setKm("");
        });
      }}
      className="space-y-3 border border-line bg-panel p-4"
    >
      <h3 className="text-lg">Enter a run</h3>
      <Field label="Day" type="date" value={on} onChange={(e) => setOn(e.target.value)} error={deed.fields["on"]} />
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="Minutes"
          inputMode="decimal"
          value={minutes}
          onChange={(e) => setMinutes(e.target.value)}
          error={deed.fields["minutes"]}
        />
        <Field label="Distance" unit="km" inputMode="decimal" value={km} onText={setKm} error={deed.fields["km"]} />
      </div>
      <Button type="submit" disabled={deed.busy}>
        Keep the run
      </Button>
      <Failure error={deed.error} />
    </form>
  );
}

/** What a session left open, asked of the runner later. */
function Open({ runner, log }: { runner: string; log: Schemas["AdjustLog"] }) {
  const [rpe, setRpe] = useState("");
  const [pain, setPain] = useState("");
  const deed = useDeed(stale.runner(runner));
  const open = log.rpe >= 0 ? "Pain" : log.pain < 0 ? "Effort and pain" : "Effort";
  return (
    <Note kind="caution" className="mt-4 flex flex-wrap items-end gap-3">
      <p>
        {open} missing: {day(log.on)}, {log.prescription.rail.replaceAll("_", " ")}, {log.prescription.side}
      </p>
      {log.rpe < 0 && (
        <Field
          label="Effort, 0–10"
          inputMode="numeric"
          value={rpe}
          onChange={(e) => setRpe(e.target.value)}
          error={deed.fields["rpe"]}
          className="w-32"
        />
      )}
      {log.pain < 0 && (
        <Field
          label="Pain, 0–10"
          inputMode="numeric"
          value={pain}
          onChange={(e) => setPain(e.target.value)}
          error={deed.fields["pain"]}
          className="w-32"
        />
      )}
      <Button
        disabled={(rpe.trim() === "" && pain.trim() === "") || deed.busy}
        onClick={() =>
          deed.run(async (id) => {
            const body = {
              prescription: log.prescription.id,
              on: log.on,
              done: log.done,
              rpe: rpe.trim() === "" ? log.rpe : figure("rpe", rpe, true),
              pain: pain.trim() === "" ? log.pain : figure("pain", pain, true),
              crampAt: log.crampAt,
              faults: log.faults,
              note: log.note,
              times: log.times,
              short: false,
              shown: { exercise: log.prescription.exercise, dose: log.prescription.dose },
              supersedes: log.id,
            };
            await ask(api.PUT("/api/runners/{runner}/logs/{id}", { params: { path: { runner, id: id(body) } }, body }));
          })
        }
      >
        Keep it
      </Button>
      <Failure error={deed.error} />
    </Note>
  );
}
