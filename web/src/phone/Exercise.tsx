import { Button } from "../ui/Button";
import { note, useKept } from "./kept";
import { Entry, Why } from "./later";
import { doseOf, sideName, slotWords, type Item } from "./session";
import { Note } from "../ui/Note";

/** One exercise: the dose large, then how it is done, and what was done. */
export function Exercise({
  item,
  less,
  short,
  old,
  today,
  open,
  setOpen,
  onEntered,
  onOdd,
}: {
  item: Item;
  less: "" | "less" | "gone"; // what is asked now, where this was begun with more
  short: boolean;
  old: boolean; // of a release before the server's: nothing more is begun on it
  today: string;
  open: boolean;
  setOpen: (open: boolean) => void;
  onEntered: () => void;
  onOdd: () => void;
}) {
  const x = item.exercise;
  const done = note(useKept(), `done ${today} ${x.id}`) !== undefined || item.done;
  return (
    <li className={`border bg-panel p-4 ${done ? "border-line" : "border-ink"}`}>
      <p className="text-sm text-quiet">
        {item.name} · {slotWords[item.slot]}
        {item.sides.some((s) => doseOf(s, short).perDay > 1) && " · enter one round"}
      </p>
      <h3 className="text-2xl leading-tight">{x.name}</h3>
      {item.sides.map((s) => (
        <p key={s.side} className="mt-1 flex items-baseline gap-3">
          <span className="w-20 text-quiet">{sideName(item, s)}</span>
          <span className="fig text-3xl font-semibold">{doseOf(s, short).text}</span>
        </p>
      ))}
      {!open && <Why item={item} />}
      {item.less && !done && (
        <Note kind="caution within" className="mt-2">
          <strong>Less today:</strong> {item.less}
        </Note>
      )}
      {done && <p className="mt-2 font-semibold text-tide">✓ kept</p>}
      {!done && !open && !old && (
        <Button className="mt-3 min-h-12 w-full justify-center" onClick={() => setOpen(true)}>
          Enter by hand
        </Button>
      )}
      {less && (
        <Note role="alert" kind="stop within" className="mt-2 text-lg">
          <strong>Stop here.</strong> After what you told,{" "}
          {less === "gone" ? "this is not for today any more" : "less of this is for today"}. Keep what you did.
        </Note>
      )}
      {open && !done && (
        <>
          <Entry
            item={item}
            short={short}
            today={today}
            onKept={(odd) => {
              setOpen(false);
              onEntered();
              if (odd) onOdd();
            }}
          />
        </>
      )}
    </li>
  );
}
