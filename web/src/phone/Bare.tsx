import { useState } from "react";
import { GoForm, type Go } from "../barefoot/GoForm";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { note, put, setNote, useKept, type Bundle } from "./kept";
import { putSign } from "./outbox";

interface Done {
  on: string;
  rest: string; // why it rests from here on; empty where it does not
}

const bone = "Pain on a bone on top of the foot: no running and no bare feet until a clinician has looked at it.";

/** Bare feet, or the next shoe: what is planned today, the entry after it, and what stops it at once. */
export function Bare({
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
  const k = useKept();
  const [open, setOpen] = useState(false);
  const b = bundle.bare;
  const done = note<Done>(k, "bare");
  if (!b) return null;
  const at = b.on.find((d) => d.on === today);
  const next = b.on.find((d) => d.on > today);
  const rest = done?.rest && done.on >= b.done ? done.rest : "";
  async function keep(go: Go) {
    const pain = Number(go.pain);
    const side = go.bone === "left" || go.bone === "right" || go.bone === "both" ? go.bone : "";
    const why = side
      ? bone
      : go.skin === "broken"
        ? "The skin heals first: say here when it is over."
        : pain > (b?.restsAbove ?? 0)
          ? "It hurt: a step back. Your coach sees it."
          : "";
    if (side) await putSign({ sign: "bone", region: "", side, on: today, which: ["top"] }, bone);
    await put([{ kind: "bare", body: { on: today, ...go }, label: "Bare feet" }]);
    await setNote("bare", { on: today, rest: why });
    setOpen(false);
    onEntered();
    if (pain > bundle.asksAbove) onOdd();
  }
  return (
    <section aria-label="Bare feet" className="mt-6 border border-line bg-panel p-4">
      <h2 className="text-xl">{b.shoe ? `In ${b.shoe}` : "Bare feet"}</h2>
      {rest ? (
        <p role="alert" className="mt-2 border-2 border-brick bg-brick-ground p-3 text-lg">
          <strong className="text-brick">⬣ Rest. </strong>
          {rest}
        </p>
      ) : (
        <>
          {b.why && <p className="mt-1 text-ochre">{b.why}</p>}
          <p className="mt-1 text-lg">
            {at ? (
              <span className="block text-2xl leading-snug font-semibold first-letter:uppercase">{at.words}</span>
            ) : b.stage < 0 ? (
              "Rest from bare feet for now."
            ) : (
              `Not today.${next ? ` Next: ${day(next.on)}, ${next.words}.` : ""}`
            )}
          </p>
          {done?.on === today && !open && <p className="mt-1 font-semibold text-tide">✓ in</p>}
        </>
      )}
      {!open && b.stage >= 0 && (
        <Button className="mt-3 w-full" onClick={() => setOpen(true)}>
          Enter how it went
        </Button>
      )}
      {open && (
        <div className="mt-3">
          <GoForm planned={b} regions={bundle.regions} fresh={b.new} keep={(go) => void keep(go)} />
          <Button kind="quiet" className="mt-2" onClick={() => setOpen(false)}>
            Put away
          </Button>
        </div>
      )}
      <details className="mt-2">
        <summary className="min-h-11 py-2">To mind</summary>
        <ul className="list-disc pl-5">
          {b.mind.map((m) => (
            <li key={m}>{m}</li>
          ))}
        </ul>
      </details>
    </section>
  );
}
