import { useEffect, useState } from "react";
import { Button } from "../../ui/Button";
import { day } from "../../ui/day";
import { Note } from "../../ui/Note";
import { Verdict } from "../../ui/Verdict";
import { FullScreen } from "../FullScreen";
import { lockedHere, mine, note, put, setNote, useKept, type Bundle } from "../kept";
import { hoursAlone } from "../outbox";
import { awake } from "../player/signals";
import { Ask } from "./Ask";
import { answer, back, barred, begin, next, steps, told, whole, worst, type Checking } from "./checking";

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
  const locked = lockedHere(k).length > 0 || p.bundle.locks.some((l) => !l.small);
  const far = p.ended || hoursAlone() >= p.bundle.aloneAfterH; // what was allowed then may not be now
  // What was told is sent before another check is begun, and where it may not go on.
  const left = kept && told(kept) && (kept.on !== p.today || locked || far) ? kept : null;
  const last = check.last[0];
  return (
    <section aria-label="Self-check" className="mt-8">
      <h2 className="mb-2 text-2xl">Check yourself</h2>
      {waiting && <p className="text-ochre">◐ not sent yet</p>}
      {last && <Last check={last} />}
      {left && (
        <Button kind="main" className="mb-2 w-full" onClick={() => void send(left).then(p.onEntered)}>
          Send what you checked on {day(left.on)}
        </Button>
      )}
      {locked ? (
        <p className="text-quiet">It waits until your coach has been in touch.</p>
      ) : far ? (
        <p className="text-quiet">It opens again once this phone had signal.</p>
      ) : (
        !left && (
          <Button className="w-full" onClick={() => setOn(kept?.on === p.today ? kept : begin(p.today))}>
            {kept?.on === p.today ? "Go on with the self-check" : "Self-check, three to five minutes"}
          </Button>
        )
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
  const step = c.begun ? next(c, all) : undefined;
  async function keep(done: Checking) {
    if (busy) return;
    setBusy(true);
    await send(whole(done, all));
    onEntered();
    onClose();
    if (worst(done) > bundle.asksAbove) onOdd();
  }
  return (
    <FullScreen
      title={step ? `${all.indexOf(step) + 1} of ${all.length}` : "Self-check"}
      onClose={onClose}
      buttons={
        <>
          {c.begun && (
            <Button kind="quiet" size="tight" onClick={() => set(back(c, all))}>
              Back
            </Button>
          )}
          <Button kind="quiet" size="tight" onClick={onClose}>
            Put aside
          </Button>
        </>
      }
    >
      {!c.begun ? (
        <Before
          check={check}
          empty={all.length === 0}
          go={() => set({ ...c, begun: true })}
          odd={() => (onClose(), onOdd())}
        />
      ) : step ? (
        <Ask
          key={step.offer.id + step.side.side}
          step={step}
          keep={(tries, motion) => {
            const then = answer(c, step, tries, motion);
            // Pain above the limit ends the check: it is sent as it is, and the signs are asked.
            if (worst(then) > bundle.asksAbove) void keep(then);
            else set(then);
          }}
        />
      ) : (
        <After c={whole(c, all)} keep={() => void keep(c)} />
      )}
    </FullScreen>
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
