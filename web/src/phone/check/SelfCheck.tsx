import { useEffect, useState } from "react";
import { Dialog } from "radix-ui";
import { Button } from "../../ui/Button";
import { day } from "../../ui/day";
import { Note } from "../../ui/Note";
import { Verdict } from "../../ui/Verdict";
import { lockedHere, mine, note, put, setNote, useKept, type Bundle } from "../kept";
import { hoursAlone } from "../outbox";
import { awake } from "../player/signals";
import { Ask } from "./Ask";
import { answer, back, barred, begin, onwards, steps, told, worst, type Checking } from "./checking";

interface Page {
  bundle: Bundle;
  today: string;
  ended: boolean; // the link
  onEntered: () => void;
  onOdd: () => void;
}

/** The self-check: where it begins or goes on, and what the last one came to. */
export function SelfCheck(p: Page) {
  const k = useKept();
  const [on, setOn] = useState<Checking | null>(null);
  const check = p.bundle.check;
  if (!check) return null;
  const kept = note<Checking>(k, "checking");
  const waiting = mine(k).some((e) => e.kind === "selfchecks");
  const far = p.ended || hoursAlone() >= p.bundle.aloneAfterH; // what was allowed then may not be now
  const last = check.last[0];
  return (
    <section aria-label="Self-check" className="mt-8">
      <h2 className="mb-2 text-2xl">Check yourself</h2>
      {waiting && <p className="text-ochre">◐ not sent yet</p>}
      {last && <Last check={last} />}
      {lockedHere(k).length > 0 || p.bundle.locks.some((l) => !l.small) ? (
        <p className="text-quiet">It waits until your coach has been in touch.</p>
      ) : far ? (
        <p className="text-quiet">It opens again once this phone had signal.</p>
      ) : (
        <Button className="w-full" onClick={() => setOn(kept?.on === p.today ? kept : begin(p.today))}>
          {kept?.on === p.today ? "Go on with the self-check" : "Self-check, three to five minutes"}
        </Button>
      )}
      {kept && told(kept) && (kept.on !== p.today || far) && (
        <Button kind="main" className="mt-2 w-full" onClick={() => void send(kept).then(p.onEntered)}>
          Send what you checked on {day(kept.on)}
        </Button>
      )}
      {on && <Run {...p} check={check} first={on} onClose={() => setOn(null)} />}
    </section>
  );
}

/** Keeps a check for sending. */
const send = ({ on, tries, motion }: Checking) =>
  put([{ kind: "selfchecks", body: { on, tries, ...(motion.length ? { motion } : {}) }, label: "Self-check" }], {
    checking: undefined,
  });

/** What the newest check came to, against the one before. */
function Last({ check }: { check: NonNullable<Bundle["check"]>["last"][number] }) {
  const moved = check.lines.filter((l) => l.change && l.change !== "same");
  const cadence = check.lines.find((l) => l.item === "cadence" && !l.skipped);
  return (
    <div className="mb-3">
      <p className="text-quiet">Last on {day(check.on)}, compared with the one before</p>
      <ul>
        {[...(cadence && !moved.includes(cadence) ? [cadence] : []), ...moved].map((l) => (
          <li key={l.item + l.side} className="border-b border-line py-1.5">
            {l.name}
            {l.side !== "both" && `, ${l.side}`}: <strong>{l.shown}</strong>
            {l.then && <span className="text-quiet"> (was {l.then})</span>} {l.change && <Verdict v={l.change} />}
          </li>
        ))}
      </ul>
      {!cadence && moved.length === 0 && <p>Nothing moved past its error.</p>}
    </div>
  );
}

function Run({
  bundle,
  check,
  first,
  onClose,
  onEntered,
  onOdd,
}: Omit<Page, "today" | "ended"> & { check: NonNullable<Bundle["check"]>; first: Checking; onClose: () => void }) {
  const [c, setC] = useState(first);
  const [busy, setBusy] = useState(false);
  const all = steps(check);
  const set = (next: Checking) => {
    setC(next);
    void setNote("checking", next); // a dead battery loses nothing
  };
  useEffect(awake, []);
  const step = all[c.at];
  async function keep(done: Checking) {
    if (busy) return;
    setBusy(true);
    await send(done);
    onEntered();
    onClose();
    if (worst(done) > bundle.asksAbove) onOdd();
  }
  return (
    <Dialog.Root open modal={false} onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(e) => e.preventDefault()}
          onEscapeKeyDown={(e) => e.preventDefault()}
          className="fixed inset-0 overflow-y-auto bg-ground text-[1.05rem]"
        >
          <div className="mx-auto flex min-h-full max-w-md flex-col px-4 py-2">
            <div className="flex items-center justify-between gap-2">
              <Dialog.Title className="text-base font-medium text-quiet">
                {step ? `Self-check, ${c.at + 1} of ${all.length}` : "Self-check"}
              </Dialog.Title>
              <span className="flex gap-1">
                {c.at >= 0 && (
                  <Button kind="quiet" size="tight" onClick={() => set(back(c, all))}>
                    Back
                  </Button>
                )}
                <Button kind="quiet" size="tight" onClick={onClose}>
                  Put aside
                </Button>
              </span>
            </div>
            {c.at < 0 ? (
              <Before
                check={check}
                empty={all.length === 0}
                go={() => set(onwards(c, all))}
                odd={() => (onClose(), onOdd())}
              />
            ) : step ? (
              <Ask
                key={c.at}
                step={step}
                keep={(tries, motion) => {
                  const next = answer(c, all, tries, motion);
                  // Pain above the limit ends the check: it is sent as it is, and the signs are asked.
                  if (worst(next) > bundle.asksAbove) void keep(next);
                  else set(next);
                }}
              />
            ) : (
              <After c={c} keep={() => void keep(c)} />
            )}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Before({
  check,
  empty,
  go,
  odd,
}: {
  check: NonNullable<Bundle["check"]>;
  empty: boolean;
  go: () => void;
  odd: () => void;
}) {
  const shut = barred(check);
  return (
    <div className="flex flex-1 flex-col">
      <h2 className="mt-2 text-3xl leading-tight">Three to five minutes, alone</h2>
      <ul className="mt-2 list-disc space-y-1 pl-5 text-lg">
        <li>Warm up first: ten minutes of easy running in your own shoes, on the flat.</li>
        <li>Then barefoot on a clean floor, with a wall and a tape at hand.</li>
        <li>Stop at sharp or rising pain.</li>
      </ul>
      {shut.length > 0 && (
        <Note kind="today" className="mt-3">
          <strong>Not for you now:</strong>
          <ul>
            {shut.map((s) => (
              <li key={s.name}>
                {s.name}: {s.why}
              </li>
            ))}
          </ul>
        </Note>
      )}
      <p className="mt-3 text-quiet">
        Your coach reads it as told by you. It is compared with your own earlier checks and changes no measure.
      </p>
      <fieldset className="mt-auto pt-3">
        <legend className="text-lg font-medium">First: anything new or odd?</legend>
        <div className="mt-1 grid grid-cols-2 gap-2">
          <Button kind="main" size="big" className="px-2! disabled:opacity-40" disabled={empty} onClick={go}>
            No, begin
          </Button>
          <Button kind="stop" size="big" className="px-2!" onClick={odd}>
            Yes
          </Button>
        </div>
      </fieldset>
    </div>
  );
}

function After({ c, keep }: { c: Checking; keep: () => void }) {
  const out = c.tries.filter((t) => t.skipped).length;
  const answered = new Set(c.tries.filter((t) => !t.skipped).map((t) => t.item)).size + (c.motion.length ? 1 : 0);
  return (
    <div className="flex flex-1 flex-col">
      <h2 className="mt-2 text-3xl">That was it</h2>
      <p className="mt-2 text-lg">
        <span className="fig">{answered}</span> checked on {day(c.on)}
        {out > 0 && `, ${out} left out`}.
      </p>
      <Button kind="main" size="big" className="mt-auto w-full" onClick={keep}>
        Send it to your coach
      </Button>
    </div>
  );
}
