import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { api, ask, newId } from "../api/client";
import { useRunnerId } from "../runner/Runner";
import { Button, Check, day, Failure, Heading, Loading, useDeed } from "../ui/basics";
import { Why } from "../ui/reason";
import { Pattern } from "../week/Pattern";

const phases = [
  ["calm", "Calm"],
  ["build", "Build"],
  ["load", "Load"],
] as const;

export function useProgramme(without: string[] = [], also: string[] = []) {
  const id = useRunnerId();
  return useQuery({
    queryKey: ["programme", id, ...without, "+", ...also],
    queryFn: () =>
      ask(api.GET("/api/runners/{runner}/programme", { params: { path: { runner: id }, query: { without, also } } })),
    placeholderData: (old) => old,
  });
}

/** Chosen rails with their first notches and why, and the week they make. */
export function Build() {
  const id = useRunnerId();
  const [without, setWithout] = useState<string[]>([]);
  const [also, setAlso] = useState<string[]>([]);
  const q = useProgramme(without, also);
  const deed = useDeed();
  const go = useNavigate();
  const queries = useQueryClient();
  if (q.isPending) return <Loading what="the draft" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  const d = q.data.draft;
  const build = async () => {
    const ok = await deed.run(async () => {
      await ask(
        api.PUT("/api/runners/{runner}/programmes/{programme}", {
          params: { path: { runner: id, programme: newId() } },
          body: { without, also },
        }),
      );
      await queries.invalidateQueries();
    });
    if (ok) await go({ to: "/runners/$runner/week", params: { runner: id } });
  };
  return (
    <>
      <Heading
        aside={
          <Button kind="main" onClick={build} disabled={deed.busy || !!d.refuse}>
            {q.data.inForce ? "Build again and put into force" : "Put into force"}
          </Button>
        }
      >
        Build
      </Heading>
      <Failure error={deed.error} />
      {d.refuse && <p className="mb-4 border-l-4 border-brick bg-brick-ground px-4 py-3 text-lg">{d.refuse}</p>}
      {q.data.inForce && (
        <p className="mb-4 text-quiet">
          In force since {day(q.data.inForce.on)}. Building again keeps every notch where it stands unless a newer
          screen says otherwise.
        </p>
      )}
      {!d.refuse && (
        <>
          <div className="mb-6 flex items-center gap-3" aria-label="Phase">
            {phases.map(([p, name], i) => (
              <span key={p} className="flex items-center gap-3">
                {i > 0 && <span aria-hidden className="h-px w-10 bg-ink" />}
                <span className={p === d.phase ? "border-b-4 border-cinder text-xl font-semibold" : "text-quiet"}>
                  {p === d.phase ? (
                    <Why reason={d.why} title={`Phase: ${name}`}>
                      {name}
                    </Why>
                  ) : (
                    name
                  )}
                </span>
              </span>
            ))}
          </div>
          <ul className="space-y-3">
            {d.rails.map((r) => (
              <li key={r.rail} className={`border border-line p-4 ${r.chosen ? "bg-panel" : ""}`}>
                <div className="flex flex-wrap items-center justify-between gap-3">
                  <h2 className={`text-xl ${r.chosen ? "" : "text-quiet"}`}>{r.name}</h2>
                  <Check
                    checked={r.chosen}
                    onChange={(on) => {
                      setWithout(on ? without.filter((x) => x !== r.rail) : [...without, r.rail]);
                      setAlso(on ? [...also, r.rail] : also.filter((x) => x !== r.rail));
                    }}
                  >
                    In the programme
                  </Check>
                </div>
                <p>
                  <Why reason={r.why} title={`${r.name}: chosen?`}>
                    {r.why.says}
                  </Why>
                </p>
                {r.placed.slice(0, r.placed.length - r.prescriptions.length).map((lock, i) => (
                  <p key={i} className="text-brick">
                    <span aria-hidden>⬣ </span>
                    <Why reason={lock} title={`${r.name}: locked`}>
                      {lock.saw.find((f) => f.name === "side")?.value}: {lock.says}
                    </Why>
                  </p>
                ))}
                <div className="mt-2 grid gap-3 md:grid-cols-2">
                  {r.prescriptions.map((p, i) => (
                    <div key={p.side} className="border-l-4 border-cinder pl-3">
                      <p className="text-sm text-quiet">{p.side}</p>
                      <p className="text-lg font-semibold">{q.data.names[p.exercise]}</p>
                      <Why reason={r.placed.at(i - r.prescriptions.length)} title={`${r.name}, ${p.side}: first notch`}>
                        <span className="text-xl font-semibold tabular-nums">{p.parked ? "parked" : r.doses[i]}</span>
                      </Why>
                    </div>
                  ))}
                </div>
              </li>
            ))}
          </ul>
          <Heading level={2}>
            <Why reason={d.week.why} title="The week">
              The week
            </Why>
          </Heading>
          <Pattern week={d.week} />
          <p className="mt-6 max-w-3xl text-quiet">
            Stop for sharp or rising pain. Wall or rail within reach for balance. This is coaching, not medical care;
            see a professional for the warning signs, and local rules come first.
          </p>
        </>
      )}
    </>
  );
}
