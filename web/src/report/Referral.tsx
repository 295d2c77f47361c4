import { useQuery } from "@tanstack/react-query";
import { useMe } from "../Desk";
import { rooms } from "../api/rooms";
import { useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";

/** One page for a clinician, in plain words; it prints on one sheet. */
export function Referral() {
  const id = useRunnerId();
  const me = useMe();
  const q = useQuery(rooms.referral(id));
  if (q.isPending) return <Loading what="the note" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const r = q.data;
  const part = (name: string, lines: string[]) =>
    lines.length > 0 && (
      <section aria-label={name} className="mt-4">
        <h2 className="text-lg">{name}</h2>
        <ul className="list-disc pl-5">
          {lines.map((l) => (
            <li key={l}>{l}</li>
          ))}
        </ul>
      </section>
    );
  return (
    <>
      <div className="no-print">
        <Heading
          aside={
            <Button kind="main" onClick={() => window.print()}>
              Print the note
            </Button>
          }
        >
          Referral note
        </Heading>
      </div>
      <article className="max-w-3xl border border-line bg-panel p-8 leading-snug print:border-0 print:p-0 print:text-[13px]">
        <p className="flex justify-between gap-4 border-b-2 border-ink pb-2">
          <strong className="font-head text-2xl">{r.runner}</strong>
          <span>
            {r.age} years · {day(r.today)} {r.today.slice(0, 4)}
          </span>
        </p>
        <p className="mt-3">
          To the clinician: this runner trains with {me.data?.name ?? "a coach"}, {me.data?.practice ?? ""}. A coach's
          screen found what stands below. It is not a diagnosis. Please say whether training may go on, from when and
          within which limits.
        </p>
        {r.stops.length > 0 ? (
          <section aria-label="Warning signs" className="mt-4">
            <h2 className="text-lg">Warning signs</h2>
            <ul className="list-disc pl-5">
              {r.stops.map((s) => (
                <li key={s.on + s.what}>
                  <strong>
                    {s.what}
                    {s.place ? `, ${s.place}` : ""}
                  </strong>
                  , {day(s.on)}
                  {s.imaging &&
                    `. Bone tenderness or no four steps after a twist: please decide on imaging of the ${s.imaging}`}
                  {s.open ? `. ${s.stopped}` : `. Cleared: ${s.cleared}.`}
                </li>
              ))}
            </ul>
          </section>
        ) : (
          <p className="mt-4">No warning sign is recorded{r.asked ? `; last asked ${day(r.asked)}` : ""}.</p>
        )}
        {part("What hurts", r.symptoms)}
        {part("Before", r.history)}
        {part("To bear in mind", r.cautions)}
        {part(
          "Patterns that ask for a clinician",
          r.patterns.map((p) => `${p.name}, ${p.side}. ${p.refer}`),
        )}
        {part("Found short in the screen", r.findings)}
        <p className="mt-4">Running: {r.running}.</p>
        <div className="mt-6 grid grid-cols-2 gap-8 border-t border-ink pt-3">
          <p>
            Cleared from, with limits:
            <span className="mt-8 block border-b border-ink" />
          </p>
          <p>
            Clinician, date, signature:
            <span className="mt-8 block border-b border-ink" />
          </p>
        </div>
        <p className="mt-4 text-sm text-quiet">
          Coaching, not medical care. Licensed practice and local rules come first.
        </p>
      </article>
    </>
  );
}
