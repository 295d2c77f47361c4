import { useState } from "react";
import { api, ask } from "../api/client";
import { stale } from "../api/rooms";
import { useReference } from "../Desk";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { write } from "../ui/number";
import { GoForm } from "./GoForm";
import { stages, type State, type View } from "./stages";

/** The goes as they were told, the newest first, and one entered for the runner. */
export function Goes({ runner, view, state }: { runner: string; view: View; state: State }) {
  const [open, setOpen] = useState(false);
  const deed = useDeed(stale.runner(runner));
  const regions = useReference().data?.regions ?? [];
  return (
    <section aria-label="Goes" className="no-print">
      <Heading
        level={2}
        aside={
          <Button aria-expanded={open} onClick={() => setOpen(!open)}>
            Enter one for them
          </Button>
        }
      >
        Told so far
      </Heading>
      {open && (
        <div className="mb-3 border border-line bg-panel p-4">
          <GoForm
            wide
            planned={{
              stage: state.now.stage,
              minutes: state.dose.minutes,
              contacts: state.dose.contacts,
              part: state.dose.part,
            }}
            regions={regions}
            fresh={view.new}
            busy={deed.busy}
            keep={(go) =>
              void deed.run(async (id) => {
                const body = { on: view.today, ...go };
                await ask(
                  api.PUT("/api/runners/{runner}/barefoot/logs/{id}", {
                    params: { path: { runner, id: id(body) } },
                    body,
                  }),
                );
                setOpen(false);
              })
            }
          />
          <Failure error={deed.error} />
        </div>
      )}
      {view.logs.length === 0 ? (
        <p className="text-quiet">Nothing told yet.</p>
      ) : (
        <div data-scrolls className="overflow-x-auto">
          <table className="w-full min-w-[34rem] text-left">
            <thead className="text-sm text-quiet">
              <tr>
                {["Day", "What", "How much", "Ground", "Pain", "Skin"].map((h) => (
                  <th key={h} className="pr-3 font-normal">
                    {h}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {view.logs.slice(0, 14).map((l) => (
                <tr key={l.id} className="border-t border-line">
                  <td className="fig py-1 pr-3 whitespace-nowrap">{day(l.on)}</td>
                  <td className="pr-3">{stages[l.stage]}</td>
                  <td className="fig pr-3">
                    {l.stage === 2
                      ? l.whole
                        ? "whole session"
                        : "first half"
                      : l.contacts
                        ? `${l.contacts} contacts`
                        : `${write(l.minutes, 0)} min`}
                  </td>
                  <td className="pr-3">
                    {[l.surface, l.wet && "wet", l.cold && "cold"].filter(Boolean).join(", ") || "–"}
                  </td>
                  <td className={`fig pr-3 ${Number(l.pain) > 2 ? "font-bold text-cinder" : ""}`}>
                    {l.pain === undefined || l.pain === "" ? "not told" : l.pain}
                    {l.region ? `, ${l.side === "both" ? "" : `${l.side} `}${l.region.replaceAll("_", " ")}` : ""}
                  </td>
                  <td className={l.skin && l.skin !== "fine" ? "font-bold text-cinder" : ""}>{l.skin || "not told"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
