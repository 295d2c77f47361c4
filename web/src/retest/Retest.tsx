import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { type Schemas } from "../api/client";
import { rooms } from "../api/rooms";
import { useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Heading } from "../ui/Heading";
import { Empty, Failure, Loading } from "../ui/Notice";
import { Pick } from "../ui/Pick";
import { Verdict } from "../ui/Verdict";
import { fig } from "../ui/drawings";
import { Why } from "../ui/reason";
import { FromHome } from "./FromHome";

type Compared = Schemas["ScreenCompared"];

/** The same tests the same way: better, same or worse, judged against measurement error. */
export function Retest() {
  const id = useRunnerId();
  const go = useNavigate();
  const [since, setSince] = useState("last");
  const q = useQuery(rooms.retest(id));
  if (q.isPending) return <Loading what="the retests" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const r = q.data;
  const rows = since === "last" ? r.sinceLast : r.sinceFirst;
  const n = (c: string) => rows.filter((x) => x.change === c).length;
  const names = [...new Set(rows.map((x) => x.finding.name + (x.finding.context ? ` · ${x.finding.context}` : "")))];
  return (
    <>
      <Heading
        aside={
          <Button
            kind={r.due.length ? "main" : "plain"}
            onClick={() => go({ to: "/runners/$runner/screen", params: { runner: id } })}
          >
            {r.due.length ? `Retest now: ${r.due.length} due` : "To the screen"}
          </Button>
        }
      >
        Retest
      </Heading>
      <FromHome runner={id} checks={r.selfChecks} />
      {rows.length === 0 ? (
        <Empty>
          Nothing to compare yet: each measure needs two visits.
          {r.next && ` The next one falls due ${day(r.next)}.`}
        </Empty>
      ) : (
        <>
          <div className="flex flex-wrap items-center gap-x-8 gap-y-2">
            <Pick
              label="Compared with"
              value={since}
              options={[
                { id: "last", name: "since last time" },
                { id: "first", name: "since the first time" },
              ]}
              onChange={setSince}
            />
            <p className="flex flex-wrap gap-6 text-2xl">
              {["better", "same", "changed", "worse"].map((c) => (
                <span key={c}>
                  <span className="fig mr-2 font-semibold">{n(c)}</span>
                  <Verdict v={c} />
                </span>
              ))}
            </p>
          </div>
          <p className="mt-1 text-quiet">Better or worse only past the smallest real change of the test.</p>
          <ul className="mt-3">
            {names.map((name) => {
              const of = rows.filter(
                (x) => x.finding.name + (x.finding.context ? ` · ${x.finding.context}` : "") === name,
              );
              return (
                <li
                  key={name}
                  className="grid items-baseline gap-x-4 border-t border-line py-2 md:grid-cols-[10.5rem_minmax(0,1fr)_minmax(0,1fr)]"
                >
                  <p className="leading-tight">
                    <span className="font-medium">{name}</span>
                    <span className="block text-sm text-quiet">since {day(of[0]?.since ?? "")}</span>
                  </p>
                  {of.map((c) => (
                    <p key={c.finding.side}>
                      {c.finding.side !== "both" && !c.finding.id.endsWith(".side") && (
                        <span className="text-quiet">{c.finding.side} </span>
                      )}
                      <Line c={c} />
                    </p>
                  ))}
                </li>
              );
            })}
          </ul>
        </>
      )}
      {r.sessions.length > 0 && (
        <>
          <Heading level={2}>Before and after a session</Heading>
          {r.sessions.map((s) => (
            <section key={s.on} aria-label={`Session of ${day(s.on)}`} className="mb-3">
              <h3 className="text-lg">{day(s.on)}</h3>
              {s.compared.length === 0 && <p className="text-quiet">Only one of the two was taken.</p>}
              {s.compared.map((c) => (
                <p key={c.finding.id + c.finding.side}>
                  {c.finding.name}, {c.finding.side}: <Line c={c} />
                </p>
              ))}
            </section>
          ))}
        </>
      )}
      {r.due.length > 0 && (
        <>
          <Heading level={2}>Due</Heading>
          <ul>
            {r.due.map((d) => (
              <li key={d.measure} className="py-0.5">
                <Why reason={d.reason} title={`${d.name}: due`}>
                  {d.name}
                </Why>{" "}
                <span className="text-quiet">
                  last {day(d.last)}, due {day(d.on)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function Line({ c }: { c: Compared }) {
  return (
    <span>
      <span className="fig text-quiet">{fig(c.then)}</span>
      <span aria-label="to"> → </span>
      <Why reason={c.reason} title={`${c.finding.name}: ${c.change}`}>
        <span className="fig font-semibold">{fig(c.finding)}</span>
      </Why>{" "}
      <Verdict v={c.change} />
    </span>
  );
}
