import { useQuery } from "@tanstack/react-query";
import { RadioGroup } from "radix-ui";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { rooms } from "../api/rooms";
import { Button } from "../ui/Button";
import { Toggle } from "../ui/Chip";
import { day } from "../ui/day";
import { WhichHeel } from "../runner/Permissions";
import type { View } from "./entry";
import { Note } from "../ui/Note";

type Kind = Schemas["Start"]["kind"];
const kinds: Record<Kind, { name: string; what: string }> = {
  core: { name: "Core screen", what: "The short battery, at the stations you choose." },
  full: { name: "Full screen", what: "Every station, in running order." },
  gait: { name: "Gait only", what: "The runner on the belt, by eye and from clips." },
  retest: { name: "Retest", what: "Only what is due, taken the same way as last time." },
  session: { name: "Quick test", what: "Walks and one range test, before and after a session." },
};

const order: readonly Kind[] = ["core", "full", "gait", "retest", "session"];

/** Chooses what to take today: kind, stations, minutes. */
export function Start({
  runner,
  view,
  stations,
  measures,
  busy,
  start,
}: {
  runner: string;
  view: View;
  stations: Schemas["ScreenStation"][];
  measures: Schemas["ScreenMeasure"][];
  busy: boolean;
  start: (kind: Kind, stations: string[]) => void;
}) {
  const due = view.due.length > 0 && view.past.some((p) => p.finished);
  const [kind, setKind] = useState<Kind>(due ? "retest" : "core");
  const [chosen, setChosen] = useState<string[]>(view.stations);
  const of = (id: string) => view.kinds.find((k) => k.id === id);
  const other = chosen.join() !== view.stations.join();
  const core = useQuery({ ...rooms.coreMinutes(chosen), enabled: other }).data;
  const coreMinutes = (other && core?.minutes) || (of("core")?.minutes ?? 0);
  const minutes = (id: string) => (id === "core" ? coreMinutes : (of(id)?.minutes ?? 0));
  return (
    <>
      {view.cautions.map((c) => (
        <Note key={c} kind="caution" className="mb-2">
          {c}
        </Note>
      ))}
      {view.heels.map((leg) => (
        <Note key={leg} kind="caution" className="mb-2">
          <WhichHeel runner={runner} leg={leg} />
        </Note>
      ))}
      <RadioGroup.Root
        aria-label="What to take today"
        value={kind}
        onValueChange={(v) => setKind(order.find((k) => k === v) ?? kind)}
        className="grid gap-3 sm:grid-cols-2"
      >
        {order.map((id) => {
          const k = kinds[id];
          const none = id === "retest" && view.due.length === 0;
          return (
            <RadioGroup.Item
              key={id}
              value={id}
              disabled={none}
              className={`rounded-sq border bg-panel px-4 py-3 text-left ${kind === id ? "border-2 border-ink shadow-[inset_6px_0_var(--cinder)]" : "border-line"}`}
            >
              <span className="flex items-baseline justify-between gap-3">
                <span className="font-head text-xl font-semibold">{k.name}</span>
                {!none && <span className="fig text-lg">{minutes(id)} min</span>}
              </span>
              <span className="block text-quiet">
                {none ? "Nothing is due." : k.what}
                {id === "retest" && !none ? ` ${view.due.length} due.` : ""}
              </span>
            </RadioGroup.Item>
          );
        })}
      </RadioGroup.Root>
      {kind === "core" && (
        <fieldset className="mt-4">
          <legend className="font-medium">Stations of this core screen, in running order</legend>
          <div className="mt-1 flex flex-wrap gap-1.5">
            {stations
              .filter((s) => measures.some((m) => m.core && m.station === s.id))
              .map((s) => (
                <Toggle
                  key={s.id}
                  on={chosen.includes(s.id)}
                  onChange={(on) => setChosen(on ? [...chosen, s.id] : chosen.filter((x) => x !== s.id))}
                >
                  {s.name}
                </Toggle>
              ))}
          </div>
          {coreMinutes > (of("core")?.most ?? 0) && (
            <p className="mt-2 text-ochre">
              {coreMinutes} min, longer than the {of("core")?.most} of the house rule.
            </p>
          )}
        </fieldset>
      )}
      {kind === "retest" && (
        <p className="mt-4 text-quiet">
          Due: {view.due.map((d) => d.name).join(" · ")}. Last values stay hidden until you have entered the new ones.
        </p>
      )}
      <Button
        kind="main"
        size="big"
        className="mt-5"
        disabled={busy || !view.signsAsked || (kind === "core" && chosen.length === 0)}
        onClick={() => start(kind, kind === "core" ? chosen : [])}
      >
        Start the {kinds[kind].name.toLowerCase()}
      </Button>
      {!view.signsAsked && (
        <p className="mt-2 text-ochre">First the warning signs, above: they are asked before every screen.</p>
      )}
      {view.past.length > 0 && (
        <p className="mt-4 text-quiet">
          Before:{" "}
          {view.past
            .slice(0, 6)
            .map((p) => `${day(p.on)} ${kinds[p.kind].name.toLowerCase()} (${p.measures})`)
            .join(" · ")}
        </p>
      )}
    </>
  );
}
