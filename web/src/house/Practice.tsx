import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { Problem } from "../api/problem";
import { rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Toggle } from "../ui/Chip";
import { useDeed } from "../ui/deed";
import { useEntry } from "../ui/entry";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { parseList } from "../ui/number";
import { Versions } from "../ui/Versions";

type Reference = Schemas["Reference"];

/** Which stations the practice's core screen has. */
export function CoreStations({ reference }: { reference: Reference }) {
  const entry = useEntry(reference.core);
  const chosen = entry.value;
  const deed = useDeed(stale.rules);
  const offered = (s: string) => reference.measures.some((m) => m.core && m.station === s);
  const other = chosen.join() !== reference.core.join();
  const length = useQuery({ ...rooms.coreMinutes(chosen), enabled: other }).data;
  const minutes = (other && length?.minutes) || reference.coreMinutes;
  const most = reference.coreMost;
  const keep = async (stations: string[], was = entry.saw) => {
    const done = await deed.run(async () => {
      await ask(api.PUT("/api/core-stations", { body: { stations, was } }));
    });
    if (done) entry.leave();
  };
  const named = (ids: string[]) => ids.map((id) => reference.stations.find((s) => s.id === id)?.name ?? id).join(", ");
  return (
    <section aria-label="Core screen">
      <Heading level={2}>Core screen</Heading>
      <div className="flex flex-wrap gap-1.5">
        {reference.stations
          .filter((s) => offered(s.id))
          .map((s) => (
            <Toggle
              key={s.id}
              on={chosen.includes(s.id)}
              onChange={(on) => entry.set(on ? [...chosen, s.id] : chosen.filter((x) => x !== s.id))}
            >
              {s.name}
            </Toggle>
          ))}
      </div>
      <p className={`mt-2 ${minutes > most ? "text-ochre" : "text-quiet"}`}>
        <span className="fig">{minutes}</span> min{minutes > most ? `, more than the ${most} of the house rule` : ""}
        <Button
          className="ml-4"
          disabled={deed.busy || chosen.join() === reference.core.join() || chosen.length === 0}
          onClick={() => void keep(chosen)}
        >
          Change the core screen
        </Button>
        <Button kind="quiet" onClick={() => void keep([])}>
          Back to the default
        </Button>
      </p>
      {deed.clash ? (
        <Versions
          what="the core screen"
          theirs={named(reference.core)}
          mine={named(chosen)}
          busy={deed.busy}
          onTheirs={() => {
            entry.leave();
            deed.forget();
          }}
          onMine={() => void keep(chosen, reference.core)}
        />
      ) : (
        <Failure error={deed.error} />
      )}
    </section>
  );
}

/** What the practice stacks under a toe. */
export function Plates({ reference }: { reference: Reference }) {
  const entry = useEntry(reference.platesMm.join(" "));
  const text = entry.value;
  const deed = useDeed(stale.rules);
  const figures = (list: string) =>
    parseList(list).flatMap((n) => {
      if (n === null) throw new Problem(422, `Plates: “${list}” is not a list of numbers.`);
      return [n];
    });
  const keep = async (saw = entry.saw) => {
    const done = await deed.run(async () => {
      await ask(api.PUT("/api/plates", { body: { platesMm: figures(text), was: figures(saw) } }));
    });
    if (done) entry.leave();
  };
  return (
    <section aria-label="Plates">
      <Heading level={2}>Plates you stack under a toe</Heading>
      <div className="flex flex-wrap items-end gap-4">
        <Field
          label="Thicknesses you own"
          unit="mm"
          hint="with spaces, up to ten; empty: the runner's own"
          value={text}
          onChange={(e) => entry.set(e.target.value)}
        />
        <Button
          className="mb-6"
          disabled={deed.busy || text.trim() === reference.platesMm.join(" ")}
          onClick={() => void keep()}
        >
          Change the plates
        </Button>
      </div>
      {deed.clash ? (
        <Versions
          what="the plates"
          theirs={reference.platesMm.join(" ") || "the runner's own"}
          mine={text || "the runner's own"}
          busy={deed.busy}
          onTheirs={() => {
            entry.leave();
            deed.forget();
          }}
          onMine={() => void keep(reference.platesMm.join(" "))}
        />
      ) : (
        <Failure error={deed.error} />
      )}
    </section>
  );
}
