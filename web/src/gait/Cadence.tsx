import { Link } from "@tanstack/react-router";
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { useRunnerId } from "../runner/Runner";
import { metronome } from "../screen/metronome";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { Why } from "../ui/reason";
import { parse, write } from "../ui/number";

/** Where the cadence is to go, in which steps, with a metronome to run it by. */
export function CadencePlan({ plan }: { plan: Schemas["CadencePlan"] }) {
  const runner = useRunnerId();
  const [spm, setSpm] = useState(String(Math.round(plan.steps[0]?.spm ?? (plan.own || 170))));
  return (
    <section aria-label="Cadence" className="mt-6">
      <h2 className="text-xl">Cadence</h2>
      <div className="mt-2 grid gap-4 border border-line bg-panel px-4 py-3 md:grid-cols-2">
        <div>
          {plan.own > 0 ? (
            <>
              <p className="text-lg">
                Own <span className="fig text-3xl">{write(plan.own, 0)}</span> spm{" "}
                <span className="fig text-sm text-quiet">± {write(plan.half)}</span>
                <span className="block text-sm text-quiet">{plan.context}</span>
              </p>
              <p className="text-lg">
                <Why reason={plan.reason} title="Cadence target">
                  {plan.target > 0 ? (
                    <>
                      Target <span className="fig text-3xl">{write(plan.target, 0)}</span> spm
                    </>
                  ) : (
                    "No target: " + plan.reason.says
                  )}
                </Why>
              </p>
              {plan.steps.length > 0 && (
                <ol aria-label="Steps to the target" className="mt-1 flex flex-wrap gap-1">
                  {plan.steps.map((s, i) => (
                    <li key={s.spm}>
                      <Button kind={String(s.spm) === spm ? "main" : "plain"} onClick={() => setSpm(String(s.spm))}>
                        <span className="fig text-xl">{s.spm}</span>
                        <span className="text-sm">
                          weeks {i * Math.round(s.days / 7) + 1}–{(i + 1) * Math.round(s.days / 7)}
                        </span>
                      </Button>
                    </li>
                  ))}
                </ol>
              )}
            </>
          ) : (
            <p>
              No cadence yet. Mark a clip, or{" "}
              <Link to="/runners/$runner/screen" params={{ runner }} className="underline underline-offset-4">
                count or tap it at the gait station
              </Link>
              .
            </p>
          )}
        </div>
        <Metronome spm={spm} onSpm={setSpm} />
      </div>
    </section>
  );
}

function Metronome({ spm, onSpm }: { spm: string; onSpm: (s: string) => void }) {
  const [on, setOn] = useState(false);
  const [accent, setAccent] = useState("none");
  const [beat, setBeat] = useState(0);
  const n = parse(spm) ?? 0;
  const right = n >= 100 && n <= 260;
  useEffect(() => {
    if (!on || !right) return;
    // Even beats are the left foot.
    const high = accent === "left" ? 0 : 1;
    return metronome(60 / n, setBeat, (b) => (accent !== "none" && b % 2 === high ? 1320 : 880));
  }, [on, n, right, accent]);
  return (
    <div aria-label="Metronome" role="group">
      <div className="flex flex-wrap items-end gap-3">
        <Field
          label="Metronome"
          unit="spm"
          className="w-32"
          inputMode="numeric"
          value={spm}
          onChange={(e) => onSpm(e.target.value)}
          error={right ? undefined : "100 to 260"}
        />
        <Button kind="main" disabled={!right} aria-pressed={on} onClick={() => setOn(!on)}>
          {on ? "Stop" : "Start"}
        </Button>
        <span aria-hidden className="flex gap-2 pb-1">
          {["L", "R"].map((foot, i) => (
            <span
              key={foot}
              className={`grid size-9 place-items-center rounded-sq border font-semibold ${on && beat % 2 === i ? "border-cinder bg-cinder text-on-cinder" : "border-line"}`}
            >
              {foot}
            </span>
          ))}
        </span>
      </div>
      <Pick
        label="Accent"
        className="mt-2"
        value={accent}
        options={[
          { id: "none", name: "no accent" },
          { id: "left", name: "accent left" },
          { id: "right", name: "accent right" },
        ]}
        onChange={setAccent}
      />
    </div>
  );
}
