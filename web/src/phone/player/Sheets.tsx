import { Button } from "../../ui/Button";
import { Note } from "../../ui/Note";
import { Scale } from "../Scale";
import type { Item } from "../session";

export const reasons = {
  time: "No time",
  kit: "Nothing to do it with here",
  tired: "Too tired",
  unsure: "I am not sure how",
} as const;

/** Every reason as it is read again. */
export const skipWords: Record<string, string> = { ...reasons, hard: "Too hard" };

/** Why an exercise is left out. What hurts is never only skipped. */
export function Skip({
  item,
  skip,
  hurts,
  cancel,
}: {
  item: Item | null;
  skip: (why: string) => void;
  hurts: () => void;
  cancel: () => void;
}) {
  return (
    <section aria-label="Skip" className="mt-3 grid gap-2">
      <h2 className="text-2xl">Skip {item?.exercise.name}?</h2>
      <p>Why? Your coach reads it; nothing is held against you.</p>
      {Object.entries(reasons).map(([why, words]) => (
        <Button key={why} size="big" className="w-full px-3!" onClick={() => skip(why)}>
          {words}
        </Button>
      ))}
      <Button kind="stop" size="big" className="w-full" onClick={hurts}>
        It hurts
      </Button>
      <Button kind="quiet" onClick={cancel}>
        Do it after all
      </Button>
    </section>
  );
}

/** It was too much: pain is told at once, the rest only stops it. */
export function TooMuch({
  item,
  hurt,
  hard,
  cancel,
}: {
  item: Item;
  hurt: (pain: number) => void;
  hard: () => void;
  cancel: () => void;
}) {
  return (
    <section aria-label="Too much" className="mt-3">
      <h2 className="text-2xl">Too much: {item.exercise.name}</h2>
      <Note kind="stop" className="mt-2">
        <strong>Stop at:</strong> {item.exercise.stopWhen.join(", ")}.
      </Note>
      <Scale
        label={item.release ? "How strong is it?" : "How much does it hurt?"}
        value={null}
        onChange={hurt}
        low="not at all"
        high={item.release ? "sharp" : "worst"}
      />
      <Button size="big" className="mt-3 w-full" onClick={hard}>
        Not pain, only too hard
      </Button>
      <Button kind="quiet" className="mt-2" onClick={cancel}>
        Go on after all
      </Button>
    </section>
  );
}
