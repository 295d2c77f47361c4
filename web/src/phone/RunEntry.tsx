import { useState } from "react";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Pick, sides, type Side } from "../ui/Pick";
import { put, type Bundle } from "./kept";
import { Files } from "./later";
import { Scale } from "./Scale";
import { parse } from "../ui/number";
import { kinds, surfaces } from "../ui/runs";
import { shortIn } from "../ui/units";

const beginnings = [
  { id: "first", name: "in the first half" },
  { id: "second", name: "in the second half" },
  { id: "after", name: "after it" },
] as const;
const endings = [
  { id: "at_once", name: "at once" },
  { id: "that_day", name: "that day" },
  { id: "not_yet", name: "not yet" },
] as const;

/** After a run: minutes, distance if known, effort, and what hurt. */
export function RunEntry({
  bundle,
  today,
  onEntered,
  onOdd,
}: {
  bundle: Bundle;
  today: string;
  onEntered: () => void;
  onOdd: () => void;
}) {
  const [open, setOpen] = useState(false);
  const [files, setFiles] = useState(false);
  const [said, setSaid] = useState("");
  const say = async (word: "usual" | "none", words: string) => {
    await put([{ kind: "runs", body: { on: today, word }, label: words }]);
    setSaid(words);
    onEntered();
  };
  if (files) return <Files onDone={() => (setFiles(false), onEntered())} />;
  if (!open)
    return (
      <>
        <Button className="mt-6 w-full" onClick={() => setOpen(true)}>
          {bundle.runToday ? `Enter today's ${bundle.runToday.quality} run` : "Enter a run"}
        </Button>
        {said ? (
          <p className="mt-2 font-semibold text-tide">✓ {said}</p>
        ) : (
          <div className="mt-2 grid grid-cols-2 gap-2">
            <Button onClick={() => void say("usual", "Ran as usual this week")}>Ran as usual this week</Button>
            <Button onClick={() => void say("none", "Did not run this week")}>Did not run</Button>
          </div>
        )}
        <Button kind="quiet" onClick={() => setFiles(true)}>
          Files of a watch
        </Button>
      </>
    );
  return (
    <Form
      bundle={bundle}
      today={today}
      kept={(odd) => {
        setOpen(false);
        onEntered();
        if (odd) onOdd();
      }}
    />
  );
}

function Form({ bundle, today, kept }: { bundle: Bundle; today: string; kept: (odd: boolean) => void }) {
  const [minutes, setMinutes] = useState(bundle.runToday ? String(bundle.runToday.minutes) : "");
  const [km, setKm] = useState("");
  const [rpe, setRpe] = useState<number | null>(null);
  const [more, setMore] = useState<{ kind: string; surface: string; shoe: string }>({
    kind: bundle.runToday?.quality ?? "",
    surface: "",
    shoe: "",
  });
  const [pain, setPain] = useState<number | null>(null);
  const [at, setAt] = useState({ region: "", side: "" as Side | "", began: "", gone: "" });
  const [wrong, setWrong] = useState("");
  const hurts = (pain ?? 0) > 0;
  async function keep() {
    const m = parse(minutes);
    const k = km.trim() ? parse(km) : 0;
    if (m === null || m < 1 || m > 1440) return setWrong("Minutes: enter 1 to 1440.");
    if (k === null || k < 0 || k > 250) return setWrong(`Distance: enter 0 to ${shortIn("km", 250)}.`);
    if (pain === null) return setWrong("Tap what hurt while running, 0 for nothing.");
    if (hurts && (!at.region || !at.side)) return setWrong("Say where it hurt, and on which side.");
    setWrong("");
    const details = { ...more, pain: String(pain), ...(hurts ? at : {}) };
    await put([{ kind: "runs", body: { on: today, minutes: m, km: k, rpe: rpe ?? 0, details }, label: "Run" }]);
    kept(pain > bundle.asksAbove || (hurts && at.gone === "not_yet"));
  }
  return (
    <section aria-label="Run" className="mt-6 border border-line bg-panel p-4">
      <h2 className="text-xl">Run</h2>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Minutes" inputMode="decimal" value={minutes} onChange={(e) => setMinutes(e.target.value)} />
        <Field label="Distance" unit="km" inputMode="decimal" value={km} onText={setKm} />
      </div>
      <Scale label="Effort" value={rpe} onChange={setRpe} low="rest" high="all out" />
      <Scale label="Pain while running" value={pain} onChange={setPain} low="nothing" high="worst" />
      {hurts && (
        <div className="mt-2 space-y-2">
          <Choice
            label="Where"
            value={at.region}
            options={[{ id: "", name: "choose" }, ...bundle.regions.filter((r) => r.id !== "whole_person")]}
            onChange={(region) => setAt({ ...at, region })}
          />
          <Pick label="Side" value={at.side} options={sides} onChange={(side) => setAt({ ...at, side })} />
          <p className="font-medium">It began</p>
          <Pick
            label="It began"
            value={at.began as (typeof beginnings)[number]["id"] | ""}
            options={beginnings}
            onChange={(b) => setAt({ ...at, began: b })}
          />
          <p className="font-medium">It was gone</p>
          <Pick
            label="It was gone"
            value={at.gone as (typeof endings)[number]["id"] | ""}
            options={endings}
            onChange={(g) => setAt({ ...at, gone: g })}
          />
        </div>
      )}
      <details className="mt-3">
        <summary className="min-h-11 py-2">More: what for, ground, shoe</summary>
        <div className="space-y-2">
          <Choice<string>
            label="What for"
            value={more.kind}
            options={kinds}
            onChange={(kind) => setMore({ ...more, kind })}
          />
          <Choice<string>
            label="Ground"
            value={more.surface}
            options={surfaces.map((s) => ({ id: s, name: s || "not said" }))}
            onChange={(surface) => setMore({ ...more, surface })}
          />
          {bundle.shoes.length > 0 && (
            <Choice
              label="Shoe"
              value={more.shoe}
              options={["", ...bundle.shoes].map((s) => ({ id: s, name: s || "not said" }))}
              onChange={(shoe) => setMore({ ...more, shoe })}
            />
          )}
        </div>
      </details>
      {wrong && (
        <p role="alert" className="text-brick">
          {wrong}
        </p>
      )}
      <Button kind="main" className="mt-3 w-full" onClick={() => void keep()}>
        Keep the run
      </Button>
    </section>
  );
}
