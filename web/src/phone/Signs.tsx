import { useState } from "react";
import { Dialog } from "radix-ui";
import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Which } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { Pick as PickOne, sides, type Side } from "../ui/Pick";
import { setNote, type Bundle } from "./kept";
import { putSign } from "./outbox";

/** The warning signs. A yes locks this phone at once and is sent as soon as there is signal. */
export function Signs({
  bundle,
  today,
  onClose,
  onEntered,
}: {
  bundle: Pick<Bundle, "signs" | "regions">;
  today: string;
  onClose: () => void;
  onEntered: () => void;
}) {
  const [yes, setYes] = useState<Schemas["ReferSign"] | null>(null);
  const [region, setRegion] = useState("");
  const [side, setSide] = useState<Side | "">("");
  const [which, setWhich] = useState<string[]>([]);
  async function record() {
    if (!yes) return;
    await putSign(
      { sign: yes.id, region: yes.region || (which.length ? "" : region), side: side || "both", on: today, which },
      yes.class === "small" || yes.class === "pattern" ? "" : `${yes.question} ${yes.do}`,
    );
    onEntered();
    onClose();
  }
  return (
    <Dialog.Root open modal={false} onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(e) => e.preventDefault()}
          className="fixed inset-0 overflow-y-auto bg-ground px-4 py-5 text-[1.05rem]"
        >
          <div className="mx-auto max-w-md">
            <Dialog.Title className="text-2xl">Is any of these so?</Dialog.Title>
            {yes ? (
              <div role="alert" className="mt-4 border-2 border-brick bg-brick-ground p-4">
                <p className="text-lg font-semibold text-brick">⬣ {yes.question}</p>
                <p className="mt-2 text-lg">{yes.do}</p>
                {yes.which.length > 0 && <Which of={yes.which} on={which} onChange={setWhich} />}
                {!yes.region && which.length === 0 && (
                  <Choice
                    label="Where"
                    value={region}
                    options={[{ id: "", name: "choose" }, ...bundle.regions.filter((r) => r.id !== "whole_person")]}
                    onChange={setRegion}
                  />
                )}
                {yes.region !== "whole_person" && (
                  <PickOne label="Side" className="mt-3" value={side} options={sides} onChange={setSide} />
                )}
                <Button
                  kind="stop"
                  className="mt-4 w-full"
                  disabled={(!side && yes.region !== "whole_person") || (!yes.region && which.length === 0 && !region)}
                  onClick={() => void record()}
                >
                  {yes.class === "small" ? "Yes: tell my coach" : "Yes: stop and tell my coach"}
                </Button>
                <Button kind="quiet" className="mt-2" onClick={() => setYes(null)}>
                  No, back
                </Button>
              </div>
            ) : (
              <>
                <ul className="mt-3">
                  {bundle.signs.map((s) => (
                    <li key={s.id} className="flex items-center justify-between gap-3 border-b border-line py-2">
                      <span className="leading-snug">{s.phone ?? s.question}</span>
                      <Button kind="stop" aria-label={`Yes: ${s.question}`} onClick={() => setYes(s)}>
                        Yes
                      </Button>
                    </li>
                  ))}
                </ul>
                <Button kind="main" className="mt-4 w-full" onClick={() => void setNote("asked", today).then(onClose)}>
                  None of these
                </Button>
              </>
            )}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
