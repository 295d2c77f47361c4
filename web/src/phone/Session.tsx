import { useState } from "react";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Exercise } from "./Exercise";
import { lockedHere, note, toldHere, useKept, type Bundle } from "./kept";
import { withoutSignal, type Offline } from "./offline";
import { hoursAlone } from "./outbox";
import type { Item } from "./session";
import { Begin } from "./later";
import { Note } from "../ui/Note";

type Today = Bundle["sessions"][number];
interface Then {
  old: boolean; // the server has a newer page: nothing more is begun on this one
  ended: boolean; // the link: nothing is begun any more
  onEntered: () => void;
  onOdd: () => void;
}

/** Today's session after what was told since it was fetched, or why there is none. */
export function Session({ bundle, today, ...then }: { bundle: Bundle; today: string } & Then) {
  const k = useKept();
  const locked = lockedHere(k).length > 0;
  const planned = bundle.sessions.find((s) => s.on === today);
  const marked = note<string>(k, "morning") === today || (bundle.morningIn && bundle.today === today);
  const session =
    planned &&
    withoutSignal(bundle, planned, {
      all: toldHere(k),
      table: note<Offline>(k, "offline"),
      hours: hoursAlone(),
      asked: marked && note<string>(k, "asked") === today,
      done: (exercise) => note(k, `done ${today} ${exercise}`) !== undefined,
    });
  // One list whatever stands above it: an exercise that was begun stays, with what was typed, until it is kept.
  return (
    <>
      <h2 className="mt-6 mb-2 text-2xl">Session</h2>
      {!session ? (
        <None>Connect once to fetch today's session.</None>
      ) : locked ? (
        <None>No training until your coach has been in touch.</None>
      ) : session.items.length === 0 && session.kept.length === 0 ? (
        <None>Nothing planned today.{bundle.next ? ` Next session: ${day(bundle.next)}.` : ""}</None>
      ) : session.ask ? (
        <Note kind="caution" className="mb-3">
          <p className="text-lg">
            <strong>No contact for {bundle.askAfterH} hours.</strong> The rest of the session opens with this morning's
            first steps
            {marked && " (they are in)"} and the warning signs.
          </p>
          <Button className="mt-2 w-full" onClick={then.onOdd}>
            Read the warning signs
          </Button>
        </Note>
      ) : null}
      <Items bundle={bundle} session={locked ? undefined : session} today={today} {...then} />
    </>
  );
}

function None({ children }: { children: React.ReactNode }) {
  return <p className="border border-dashed border-line p-4 text-lg">{children}</p>;
}

function Items({ bundle, session, today, ...then }: { bundle: Bundle; session?: Today; today: string } & Then) {
  const [few, setFew] = useState(false);
  const [open, setOpen] = useState<Item[]>([]); // as they were begun
  const items = session?.items ?? [];
  const begun = (i: Item) => open.find((o) => o.exercise.id === i.exercise.id);
  const gone = open.filter((o) => !items.some((i) => i.exercise.id === o.exercise.id));
  const shown = items.filter(
    (i) => !few || i.slot === "habit" || i.sides.some((s) => s.short) || begun(i) !== undefined,
  );
  return (
    <>
      {session?.race && (
        <Note kind="today" className="mb-3 text-lg">
          {session.race}
        </Note>
      )}
      {session && session.items.length + session.kept.length > 0 && (
        <div className="mb-3 flex items-center justify-between gap-3">
          <p className="text-lg">
            {session.items.length > 0 ? (
              <span className="fig font-semibold">{Math.ceil(session.seconds / 60)} min</span>
            ) : (
              "Nothing of it may be done today."
            )}
            {few && " as planned; the short version is on"}
          </p>
          {session.items.length > 0 && (
            <Button aria-pressed={few} onClick={() => setFew(!few)}>
              Only 5 minutes
            </Button>
          )}
        </div>
      )}
      <Begin bundle={bundle} items={items} today={today} short={few} {...then} />
      <ul className="space-y-3">
        {[...gone, ...shown].map((i) => (
          <Exercise
            key={i.exercise.id}
            item={begun(i) ?? i}
            less={begun(i) !== undefined && !sameDoses(i, begun(i)) ? "less" : gone.includes(i) ? "gone" : ""}
            short={few}
            today={today}
            open={begun(i) !== undefined}
            setOpen={(on) => setOpen([...open.filter((o) => o.exercise.id !== i.exercise.id), ...(on ? [i] : [])])}
            {...then}
          />
        ))}
      </ul>
      {session && session.kept.length > 0 && (
        <section aria-label="Not today" className="mt-4 border border-dashed border-line p-3 text-quiet">
          <h3 className="text-lg">Not today</h3>
          <ul>
            {session.kept.map((k) => (
              <li key={k.name + k.side} className="border-t border-line py-2 first:border-0">
                <strong>
                  {k.name}
                  {k.side !== "both" && `, ${k.side}`}
                </strong>
                <br />
                {k.why.slice(0, 2).join("; ")}
                {k.opens && `. Opens with: ${k.opens}`}
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

const sameDoses = (a: Item, b: Item | undefined) =>
  JSON.stringify(a.sides.map((s) => [s.side, s.dose.text])) ===
  JSON.stringify(b?.sides.map((s) => [s.side, s.dose.text]));
