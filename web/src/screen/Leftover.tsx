import { useState } from "react";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Note } from "../ui/Note";
import { told, type Measure } from "./entry";
import { keep, kept } from "./waiting";

/** Trials that were entered on this device for a screen that somebody closed before they could be kept. */
export function Leftover({ screen, on, measures }: { screen: string; on: string; measures: Measure[] }) {
  const [left, setLeft] = useState(() => kept(screen));
  if (left.length === 0) return null;
  const said = left.map(({ body }) => {
    const m = measures.find((m) => m.id === body.measure);
    return `${m?.name ?? body.measure}, ${body.side}: ${m ? told(m, body) : body.value}`;
  });
  return (
    <Note kind="refused" role="alert" className="mb-4">
      <strong>Not kept of the screen of {day(on)},</strong> which was closed before there was signal: {said.join("; ")}.
      Enter them in the next screen if they still hold.
      <Button
        kind="quiet"
        onClick={() => {
          keep(screen, [], left);
          setLeft([]);
        }}
      >
        I have read it
      </Button>
    </Note>
  );
}
