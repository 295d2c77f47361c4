import { useState } from "react";
import { Button } from "../ui/Button";
import { note, put, useKept, type Bundle, type Report } from "./kept";
import { Elsewhere } from "./later";
import { Scale } from "./Scale";

/** First steps this morning: one tap a place, or one tap for nothing felt. */
export function Morning({
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
  const [marks, setMarks] = useState<Record<string, number>>({});
  const [open, setOpen] = useState(false);
  const [elsewhere, setElsewhere] = useState(false);
  const done = note<string>(useKept(), "morning") === today || (bundle.morningIn && bundle.today === today);
  const key = (w: { region: string; side: string }) => w.region + w.side;
  async function send(all: Record<string, number>, quiet: boolean) {
    const reports: Report[] = bundle.watched
      .filter((w) => key(w) in all)
      .map((w) => ({
        kind: "mornings",
        body: { on: today, region: w.region, side: w.side, pain: all[key(w)] },
        label: `First steps, ${w.side} ${w.name}`,
      }));
    if (quiet)
      reports.push({
        kind: "mornings",
        body: { on: today, region: "whole_person", side: "both", pain: 0, quiet: true },
        label: "First steps, everything else",
      });
    await put(reports, { morning: today });
    setOpen(false);
    onEntered();
    if (Object.values(all).some((n) => n > bundle.asksAbove)) onOdd();
  }
  return (
    <section aria-label="First steps this morning" className="border border-line bg-panel p-4">
      <div className="flex items-center justify-between gap-3">
        <h2 className="text-xl">First steps</h2>
        {done && <span className="font-semibold text-tide">✓ in</span>}
      </div>
      {!done && !open && (
        <div className="mt-3 grid grid-cols-2 gap-2">
          <Button
            kind="main"
            className="min-h-14"
            onClick={() => void send(Object.fromEntries(bundle.watched.map((w) => [key(w), 0])), true)}
          >
            Nothing felt
          </Button>
          <Button className="min-h-14" onClick={() => setOpen(true)}>
            Some pain
          </Button>
        </div>
      )}
      {open && (
        <>
          {bundle.watched.map((w) => (
            <Scale
              key={key(w)}
              label={w.side === "both" ? w.name : `${w.side} ${w.name}`}
              value={marks[key(w)] ?? null}
              onChange={(n) => setMarks((old) => ({ ...old, [key(w)]: n }))}
              low="nothing"
              high="worst"
            />
          ))}
          <Button
            kind="main"
            className="mt-3 w-full"
            disabled={bundle.watched.some((w) => !(key(w) in marks))}
            onClick={() => void send(marks, true)}
          >
            Keep it; everything else is quiet
          </Button>
          <Button
            className="mt-2 w-full"
            disabled={bundle.watched.some((w) => !(key(w) in marks))}
            onClick={() => {
              void send(marks, false);
              setElsewhere(true);
            }}
          >
            Keep it; another place hurts too
          </Button>
        </>
      )}
      {done && !elsewhere && (
        <Button kind="quiet" size="bare" onClick={() => setElsewhere(true)}>
          Pain somewhere else
        </Button>
      )}
      {elsewhere && (
        <Elsewhere
          places={bundle.regions}
          today={today}
          onDone={() => {
            setElsewhere(false);
            onEntered();
            onOdd();
          }}
        />
      )}
    </section>
  );
}
