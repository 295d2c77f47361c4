import { useNavigate } from "@tanstack/react-router";
import { useProgramme } from "../build/Build";
import { useRunnerId } from "../runner/Runner";
import { Button, day, Empty, Failure, Heading, Loading } from "../ui/basics";
import { Why } from "../ui/reason";
import { Pattern, railShort } from "./Pattern";

/** The pattern in force and the dated days ahead. */
export function Week() {
  const id = useRunnerId();
  const q = useProgramme();
  const go = useNavigate();
  if (q.isPending) return <Loading what="the week" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const p = q.data.inForce;
  if (!p)
    return (
      <>
        <Heading>Week</Heading>
        <Empty>
          No programme is in force yet.
          <Button
            kind="main"
            className="mt-4 block"
            onClick={() => go({ to: "/runners/$runner/build", params: { runner: id } })}
          >
            Build one
          </Button>
        </Empty>
      </>
    );
  const ahead = q.data.days.filter((d) => d.on >= q.data.today).slice(0, 24);
  const dates = [...new Set(ahead.map((d) => d.on))].slice(0, 10);
  return (
    <>
      <Heading aside={<span className="text-quiet">in force since {day(p.on)}</span>}>
        <Why reason={p.plan.week.why} title="The week">
          Week
        </Why>
      </Heading>
      <Pattern week={p.plan.week} />
      <Heading level={2}>Today's doses</Heading>
      <ul>
        {q.data.lines.map((l) => (
          <li key={l.rail + l.side} className="grid grid-cols-[8rem_4rem_minmax(0,1fr)] border-b border-line py-1.5">
            <span className="font-semibold">{railShort[l.rail]}</span>
            <span className="text-quiet">{l.side}</span>
            <Why reason={l.reason} title={`${railShort[l.rail]}, ${l.side}: ${l.text}`}>
              <span className="tabular-nums">{l.text}</span>
            </Why>
          </li>
        ))}
      </ul>
      <Heading level={2}>Days ahead</Heading>
      <ul className="grid grid-cols-2 gap-x-8 md:grid-cols-3">
        {dates.map((on) => (
          <li key={on} className="border-b border-line py-1.5">
            <span className="fig">{on === q.data.today ? "Today" : day(on)}</span>{" "}
            {ahead
              .filter((d) => d.on === on)
              .map((d) => railShort[d.rail])
              .join(", ")}
          </li>
        ))}
      </ul>
    </>
  );
}
