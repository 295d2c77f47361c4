import { useRef, useState } from "react";
import { problemOf } from "../api/problem";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import type { Schemas } from "../api/client";
import type { Bundle } from "./kept";
import { call, sync } from "./outbox";
import { UnitChoice } from "../ui/UnitChoice";

/** The next seven days, the calendar file, and what to mind. */
export function Days({ bundle }: { bundle: Bundle }) {
  return (
    <>
      <h2 className="mt-8 mb-2 text-xl">The next days</h2>
      {bundle.lead && <p className="mb-2">{bundle.lead}</p>}
      <ul>
        {bundle.week.map((d) => (
          <li key={d.on} className="grid grid-cols-[6.5rem_1fr] border-b border-line py-1.5">
            <span className="fig">{day(d.on)}</span>
            <span>
              {[d.run, ...d.rails, bundle.bare?.on.find((b) => b.on === d.on)?.words].filter(Boolean).join(", ") ||
                "rest"}
              {d.watch && (
                <Button
                  kind="quiet"
                  size="bare"
                  onClick={() => void download(`/api/phone/workouts/${d.on}`, `run-${d.on}.fit`)}
                >
                  For my watch
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      <Button className="mt-3 w-full" onClick={() => void download("/api/phone/calendar.ics", "foot-strength.ics")}>
        Put it into my calendar
      </Button>
      <Units bundle={bundle} />
      <AnotherDevice />
      {bundle.advice.length > 0 && (
        <>
          <h2 className="mt-8 mb-2 text-xl">To mind</h2>
          <ul className="list-disc pl-5">
            {bundle.advice.map((a) => (
              <li key={a}>{a}</li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-8 text-sm text-quiet">
        Stop for sharp or rising pain. Chest pain, collapse or breathlessness: call for help. This is coaching, not
        medical care; licensed practice and local rules come first.
        {bundle.cautions.length > 0 && ` ${bundle.cautions.join(" ")}`}
      </p>
    </>
  );
}

/** Fetches a file and hands it to the phone. */
async function download(path: string, name: string) {
  const a = await call(path).catch(() => null);
  if (!a?.ok) return;
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await a.blob());
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** A short code opens the link on another phone, or in the page that was put on the home screen. */
function AnotherDevice() {
  const [made, setMade] = useState<Schemas["ShortCode"] | null>(null);
  const [said, setSaid] = useState("");
  const make = async () => {
    try {
      const a = await call("/api/phone/codes", { method: "POST" });
      if (!a.ok) throw problemOf(a.status, null);
      setMade((await a.json()) as Schemas["ShortCode"]);
      setSaid("");
    } catch {
      setSaid("No code was made: it takes a signal. Try again later.");
    }
  };
  return (
    <details className="mt-2">
      <summary className="min-h-11 cursor-pointer py-2">Another phone, or the home screen</summary>
      <p>Open this page there. Where it asks for a short code, type this one:</p>
      {made && (
        <p className="my-2 border border-line bg-panel p-3 text-center">
          <strong className="fig block text-3xl">{made.code}</strong>
          good once, until {new Date(made.expires).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}
        </p>
      )}
      <Button className="mt-2 w-full" onClick={() => void make()}>
        {made ? "Make another code" : "Make a code"}
      </Button>
      <p role="status">{said}</p>
    </details>
  );
}

/** What this runner reads figures in; the server writes the page, so it takes a signal. */
function Units({ bundle }: { bundle: Bundle }) {
  const [chosen, setChosen] = useState<Bundle["units"] | null>(null);
  const [said, setSaid] = useState("");
  const turn = useRef(Promise.resolve());
  const choose = (units: Bundle["units"]) => {
    setChosen(units);
    setSaid("");
    turn.current = turn.current.then(async () => {
      try {
        const a = await call("/api/phone/units", { method: "PUT", body: JSON.stringify({ units }) });
        if (!a.ok) throw problemOf(a.status, null);
        await sync();
        setSaid("Kept.");
      } catch {
        setChosen(null);
        setSaid("Not changed: it takes a signal. Try again later.");
      }
    });
  };
  return (
    <details className="mt-6">
      <summary className="min-h-11 cursor-pointer py-2">Units</summary>
      <UnitChoice units={chosen ?? bundle.units} onChange={choose} />
      <p role="status">{said}</p>
    </details>
  );
}
