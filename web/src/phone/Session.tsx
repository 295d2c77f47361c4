import { useState } from "react";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Exercise } from "./Exercise";
import { lockedHere, useKept, type Bundle } from "./kept";

type Today = Bundle["sessions"][number];
interface Then {
  old: boolean; // the server has a newer page: nothing more is begun on this one
  onEntered: () => void;
  onOdd: () => void;
}

/** Today's session, or why there is none. */
export function Session({
  bundle,
  today,
  expired,
  ...then
}: { bundle: Bundle; today: string; expired: boolean } & Then) {
  const locked = lockedHere(useKept()).length > 0;
  const session = bundle.sessions.find((s) => s.on === today);
  return (
    <>
      <h2 className="mt-6 mb-2 text-2xl">Session</h2>
      {expired ? (
        <None>
          What this phone holds is older than a day. Connect once to see today's session; mornings and runs can be
          entered meanwhile.
        </None>
      ) : !session ? (
        <None>Connect once to fetch today's session.</None>
      ) : locked ? (
        <None>No training until your coach has been in touch.</None>
      ) : session.items.length === 0 && session.kept.length === 0 ? (
        <None>Nothing planned today.{bundle.next ? ` Next session: ${day(bundle.next)}.` : ""}</None>
      ) : (
        <Items session={session} today={today} {...then} />
      )}
    </>
  );
}

function None({ children }: { children: React.ReactNode }) {
  return <p className="border border-dashed border-line p-4 text-lg">{children}</p>;
}

function Items({ session, today, old, onEntered, onOdd }: { session: Today; today: string } & Then) {
  const [few, setFew] = useState(false);
  const [open, setOpen] = useState<string[]>([]); // exercises
  return (
    <>
      {session.race && <p className="mb-3 border-l-4 border-cinder bg-panel px-3 py-2 text-lg">{session.race}</p>}
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
          <Button aria-pressed={few} className={few ? "border-2 border-ink" : ""} onClick={() => setFew(!few)}>
            Only 5 minutes
          </Button>
        )}
      </div>
      <ul className="space-y-3">
        {session.items
          .filter((i) => !few || i.slot === "habit" || i.sides.some((s) => s.short) || open.includes(i.exercise.id))
          .map((i) => (
            <Exercise
              key={i.exercise.id + session.on}
              item={i}
              short={few}
              old={old}
              today={today}
              open={open.includes(i.exercise.id)}
              setOpen={(on) => setOpen(on ? [...open, i.exercise.id] : open.filter((id) => id !== i.exercise.id))}
              onEntered={onEntered}
              onOdd={onOdd}
            />
          ))}
      </ul>
      {session.kept.length > 0 && (
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
