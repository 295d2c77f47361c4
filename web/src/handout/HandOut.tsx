import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { rooms } from "../api/rooms";
import { useRunnerId } from "../runner/Runner";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Failure, Loading } from "../ui/Notice";
import { Pick } from "../ui/Pick";
import { Figure } from "../ui/Figure";

/** The week and its exercises on paper: A4 or Letter, a page for the week, then the exercises. */
export function HandOut() {
  const id = useRunnerId();
  const [paper, setPaper] = useState("A4");
  const [days, setDays] = useState("7");
  const q = useQuery(rooms.handOut(id, Number(days)));
  if (q.isPending) return <Loading what="the hand-out" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const h = q.data;
  return (
    <>
      <div className="no-print mb-4 flex flex-wrap items-end gap-4">
        <Button kind="main" onClick={() => window.print()}>
          Print
        </Button>
        <Pick
          label="Paper"
          value={paper}
          options={[
            { id: "A4", name: "A4" },
            { id: "Letter", name: "Letter" },
          ]}
          onChange={setPaper}
        />
        <Pick
          label="Days"
          value={days}
          options={[
            { id: "1", name: "Today" },
            { id: "7", name: "7 days" },
            { id: "14", name: "14 days" },
          ]}
          onChange={setDays}
        />
        <Link to="/runners/$runner/week" params={{ runner: id }} className="underline underline-offset-4">
          Back to the week
        </Link>
      </div>
      <article
        className={`sheet border border-line bg-panel p-8 leading-snug print:border-0 print:p-0 ${paper === "A4" ? "paper-a4" : "paper-letter"}`}
      >
        <h1 className="text-3xl">{h.runner}</h1>
        <p className="mb-3 text-quiet">
          Foot strength, {day(h.from)} to {day(h.until)}
        </p>
        {h.locks.map((l) => (
          <p key={l} className="mb-2 border-2 border-brick p-2 font-semibold text-brick">
            ⬣ Stop. {l}
          </p>
        ))}
        <div>
          {h.days.map((d) => (
            <section key={d.on} className="keep grid grid-cols-[8rem_minmax(0,1fr)] gap-3 border-t border-line py-1.5">
              <div>
                <h2 className="fig text-base">{day(d.on)}</h2>
                <p className="text-sm text-quiet">{d.run}</p>
              </div>
              <div>
                {d.race && <p className="font-semibold">{d.race}</p>}
                {d.bare && <p className="first-letter:uppercase">{d.bare}</p>}
                {d.slots.length === 0 && <p className="text-quiet">rest from foot work</p>}
                {d.slots.map((s) => (
                  <div key={s.slot} className="mb-1">
                    <h3 className="text-[0.9rem] text-quiet first-letter:uppercase">
                      {s.words}
                      {s.minutes > 0 && `, ${s.minutes} min`}
                    </h3>
                    <ul>
                      {s.lines.map((l) => (
                        <li key={l.exercise} className="grid grid-cols-[1.2rem_minmax(0,1fr)]">
                          <span aria-hidden>{l.short ? "•" : ""}</span>
                          <span>
                            {l.name}: <span className="fig font-semibold">{l.doses.join(", ")}</span>
                            {l.then && <span className="block pl-3 text-quiet">then {l.then}</span>}
                          </span>
                        </li>
                      ))}
                    </ul>
                  </div>
                ))}
              </div>
            </section>
          ))}
        </div>
        <p className="border-t border-line pt-1.5 text-sm text-quiet">• enough on a day with five minutes</p>
        <Notes title="Mind" notes={h.advice} />
        <Notes title="To come" notes={h.retests.slice(0, 4).map((r) => `${day(r.on)}: ${r.what}`)} />
        <Notes title="Cautions" notes={h.cautions} />
        {h.exercises.length > 0 && <h2 className="new-page mt-6 mb-2 text-2xl">The exercises</h2>}
        {h.exercises.map((x) => (
          <section
            key={x.exercise.id}
            className="keep grid grid-cols-[8rem_minmax(0,1fr)] gap-4 border-t border-line py-3"
          >
            <Figure shapes={x.drawing} label={x.exercise.name} className="w-32" />
            <div className="col-start-2">
              <h3 className="text-lg">{x.exercise.name}</h3>
              <p className="text-sm text-quiet">
                {[
                  x.rail,
                  x.exercise.tempo && `tempo: ${x.exercise.tempo}`,
                  x.exercise.restS ? `rest ${x.exercise.restS} s` : "",
                  x.kit.length > 0 && `needs ${x.kit.join(", ")}`,
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </p>
              <p>{x.exercise.setUp}</p>
              <ul className="list-disc pl-5">
                {x.exercise.cues.map((c) => (
                  <li key={c}>{c}</li>
                ))}
              </ul>
              <p>Good: {x.exercise.good}</p>
              <p className="font-semibold">Stop at: {x.exercise.stopWhen.join("; ")}</p>
              {x.cautions.map((c) => (
                <p key={c} className="text-sm text-quiet">
                  {c}
                </p>
              ))}
            </div>
          </section>
        ))}
      </article>
    </>
  );
}

function Notes({ title, notes }: { title: string; notes: string[] }) {
  if (notes.length === 0) return null;
  return (
    <section className="keep mt-2 text-[0.93rem]">
      <h2 className="text-base">{title}</h2>
      <ul className="list-disc pl-5">
        {notes.map((n) => (
          <li key={n}>{n}</li>
        ))}
      </ul>
    </section>
  );
}
