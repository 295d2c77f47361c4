import { useState } from "react";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { put, type Bundle } from "./kept";
import { Scale } from "./Scale";
import { parse } from "../ui/number";
import { shortIn } from "../ui/units";

/** After a run: minutes, distance if known, effort. */
export function RunEntry({ bundle, today, onEntered }: { bundle: Bundle; today: string; onEntered: () => void }) {
  const [open, setOpen] = useState(false);
  const [minutes, setMinutes] = useState(bundle.runToday ? String(bundle.runToday.minutes) : "");
  const [km, setKm] = useState("");
  const [rpe, setRpe] = useState<number | null>(null);
  const [wrong, setWrong] = useState("");
  async function keep() {
    const m = parse(minutes);
    const k = km.trim() ? parse(km) : 0;
    if (m === null || m < 1 || m > 1440) return setWrong("Minutes: enter 1 to 1440.");
    if (k === null || k < 0 || k > 250) return setWrong(`Distance: enter 0 to ${shortIn("km", 250)}.`);
    setWrong("");
    await put([{ kind: "runs", body: { on: today, minutes: m, km: k, rpe: rpe ?? 0 }, label: "Run" }]);
    setOpen(false);
    onEntered();
  }
  const [said, setSaid] = useState("");
  const say = async (word: "usual" | "none", words: string) => {
    await put([{ kind: "runs", body: { on: today, word }, label: words }]);
    setSaid(words);
    onEntered();
  };
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
      </>
    );
  return (
    <section aria-label="Run" className="mt-6 border border-line bg-panel p-4">
      <h2 className="text-xl">Run</h2>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Minutes" inputMode="decimal" value={minutes} onChange={(e) => setMinutes(e.target.value)} />
        <Field label="Distance" unit="km" inputMode="decimal" value={km} onText={setKm} />
      </div>
      <Scale label="Effort" value={rpe} onChange={setRpe} low="rest" high="all out" />
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
