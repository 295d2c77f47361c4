import { useState } from "react";
import { Button } from "../../ui/Button";
import { day } from "../../ui/day";
import { lockedHere, note, setNote, useKept, type Bundle } from "../kept";
import { Player } from "../later";
import { slotWords, type Item } from "../session";
import { wake } from "./signals";
import { begin, leftBehind, played, type Play } from "./play";

/** Begins the session of a part of the day, goes on with one that was put aside, or asks after one that was left. */
export function Begin({
  bundle,
  items,
  today,
  short,
  old,
  ended,
  onEntered,
  onOdd,
}: {
  bundle: Bundle;
  items: readonly Item[];
  today: string;
  short: boolean;
  old: boolean;
  ended: boolean;
  onEntered: () => void;
  onOdd: () => void;
}) {
  const k = useKept();
  const [on, setOn] = useState<Play | null>(null);
  const kept = note<Play>(k, "playing");
  const locked = ended || lockedHere(k).length > 0;
  const open = items.map((i) =>
    note(k, `done ${today} ${i.exercise.id}`) !== undefined && !i.done ? { ...i, done: true } : i,
  );
  const slots = [...new Set(open.map((i) => i.slot))].filter((s) => played(open, s, short).length > 0);
  const several = slots.filter((s) => s !== "run" && s !== "habit").length > 1;
  const go = (p: Play) => {
    wake();
    void setNote("playing", p);
    void setNote("answers", undefined);
    setOn(p);
  };
  const player = on && (
    <Player
      first={on}
      bundle={bundle}
      items={open}
      locked={locked}
      onClose={() => setOn(null)}
      onEntered={onEntered}
      onOdd={onOdd}
    />
  );
  const left = kept && leftBehind(kept);
  const goesOn = left && ((kept.on === today && kept.item) || left.done.length > 0); // one that was never begun is dropped
  if (kept && left && goesOn)
    return (
      <>
        <Button
          kind="main"
          size="big"
          className="mb-3 w-full"
          onClick={() => {
            wake();
            setOn(kept.on === today && !locked ? kept : left);
          }}
        >
          {kept.on !== today ? `How was ${day(kept.on)}?` : locked ? "Say how it was" : "Go on with the session"}
        </Button>
        {player}
      </>
    );
  if (locked) return player;
  return (
    <>
      {!old &&
        slots.map((s, i) => (
          <Button
            key={s}
            kind={i === 0 ? "main" : "plain"}
            size="big"
            className="mb-3 w-full px-3!"
            onClick={() => go(begin(today, s, short))}
          >
            {several || s === "run" || s === "habit" ? `Start: ${slotWords[s]}` : "Start the session"}
            <span className="fig whitespace-nowrap">
              {Math.ceil(played(open, s, short).reduce((n, i) => n + i.seconds, 0) / 60)} min
            </span>
          </Button>
        ))}
      {player}
    </>
  );
}
