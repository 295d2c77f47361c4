import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { api, ask, type Schemas } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { useReference } from "../Desk";
import { Button } from "../ui/Button";
import { Chip } from "../ui/Chip";
import { Choice } from "../ui/Choice";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Figure } from "../ui/Figure";
import { Editor } from "./Editor";

export type LibraryRail = Schemas["LibraryRail"];
export type CatalogRail = Schemas["CatalogRail"];

const partWords: Record<string, string> = {
  prepare: "Prepare",
  open: "Open",
  wake: "Wake",
  spring: "Spring",
  strength: "Strength",
  settle: "Settle",
  run: "Inside a run",
};

/** Every rail with its notches: found by what it trains, kit, minutes and the sore place. */
export function Library() {
  const q = useQuery(rooms.library());
  const ref = useReference();
  const [words, setWords] = useState("");
  const [trains, setTrains] = useState("");
  const [kit, setKit] = useState("");
  const [sore, setSore] = useState("");
  const [minutes, setMinutes] = useState("");
  const [open, setOpen] = useState("");
  const [editing, setEditing] = useState<{ rail: CatalogRail; version: number; fresh: boolean } | null>(null);
  if (q.isPending || ref.isPending) return <Loading what="the library" />;
  if (q.error || ref.error) return <Failure error={q.error ?? ref.error} again={() => q.refetch()} />;
  const lib = q.data;
  if (editing)
    return (
      <div className="p-6">
        <Editor
          key={editing.rail.id}
          start={editing.rail}
          version={editing.version}
          fresh={editing.fresh}
          lib={lib}
          regions={ref.data.regions}
          close={(rail) => {
            setEditing(null);
            if (rail) setOpen(rail);
          }}
        />
      </div>
    );
  const none = kit === "none";
  const has = (x: LibraryRail) => {
    const r = x.rail;
    const text = [r.name, ...r.tissues, ...r.exercises.map((e) => e.name)].join(" ").toLowerCase();
    const household = new Set(lib.kit.filter((k) => k.household).map((k) => k.id));
    return (
      text.includes(words.trim().toLowerCase()) &&
      (!trains || r.trains.includes(trains)) &&
      (!sore || r.eases.includes(sore)) &&
      (!minutes || (x.minutes[0] ?? 0) <= Number(minutes)) &&
      (!kit || r.exercises.some((e) => (none ? e.needs.every((n) => household.has(n)) : e.needs.includes(kit))))
    );
  };
  const found = lib.rails.filter(has);
  const region = (id: string) => ref.data.regions.find((g) => g.id === id)?.name ?? id;
  const filtered = !!(words || trains || kit || sore || minutes);
  return (
    <div className="p-6">
      <Heading
        aside={<Button onClick={() => setEditing({ rail: emptyRail(), version: 0, fresh: true })}>Add a rail</Button>}
      >
        Library
      </Heading>
      <div className="mb-2 grid gap-3 md:grid-cols-4">
        <Field label="Words" value={words} placeholder="towel, calf …" onChange={(e) => setWords(e.target.value)} />
        <Choice
          label="Eases a sore"
          value={sore}
          options={[
            { id: "", name: "anywhere" },
            ...ref.data.regions.filter((g) => lib.rails.some((x) => x.rail.eases.includes(g.id))),
          ]}
          onChange={setSore}
        />
        <Choice
          label="With"
          value={kit}
          options={[
            { id: "", name: "any kit" },
            { id: "none", name: "nothing but the household" },
            ...lib.kit.filter((k) => !k.household),
          ]}
          onChange={setKit}
        />
        <Choice
          label="In at most"
          value={minutes}
          options={[{ id: "", name: "any time" }, ...["2", "3", "5", "10"].map((m) => ({ id: m, name: `${m} min` }))]}
          onChange={setMinutes}
        />
      </div>
      <div className="mb-4 flex flex-wrap items-center gap-2" role="group" aria-label="What it trains">
        {lib.names.trainings.map((t) => (
          <Chip key={t} on={trains === t} onChange={(on) => setTrains(on ? t : "")}>
            {t}
          </Chip>
        ))}
        <span className="ml-auto text-quiet" role="status">
          {found.length} of {lib.rails.length} rails
        </span>
      </div>
      {found.length === 0 && (
        <p className="border border-dashed border-line p-6 text-lg">
          No rail fits all of that.{" "}
          <Button
            kind="quiet"
            onClick={() => {
              setWords("");
              setTrains("");
              setKit("");
              setSore("");
              setMinutes("");
            }}
          >
            Show all again
          </Button>
        </p>
      )}
      {lib.parts.map((part) => {
        const rails = found.filter((x) => x.rail.part === part);
        if (rails.length === 0) return null;
        return (
          <section key={part} aria-label={partWords[part]} className="mb-5">
            <h2 className="border-b-2 border-ink pb-1 text-xl">{partWords[part]}</h2>
            <ul>
              {rails.map((x, i) => (
                <Row
                  key={x.rail.id}
                  x={x}
                  before={rails[i - 1]}
                  region={region}
                  open={open === x.rail.id || (filtered && found.length === 1)}
                  toggle={() => setOpen(open === x.rail.id ? "" : x.rail.id)}
                >
                  <RailDetail x={x} lib={lib} edit={(rail, version, fresh) => setEditing({ rail, version, fresh })} />
                </Row>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}

/** A rail in a line, and what it holds once it is opened. A set says so above its first. */
function Row({
  x,
  before,
  region,
  open,
  toggle,
  children,
}: {
  x: LibraryRail;
  before?: LibraryRail;
  region: (id: string) => string;
  open: boolean;
  toggle: () => void;
  children: ReactNode;
}) {
  return (
    <li className={`border-b border-line ${x.rail.set ? "pl-4" : ""}`}>
      {x.rail.set && x.rail.set !== before?.rail.set && (
        <p className="-ml-4 border-b border-line py-2 text-quiet">
          <span className="font-semibold text-ink">{x.rail.setName}</span>: a set, several at once, by what was found
        </p>
      )}
      <button
        type="button"
        aria-expanded={open}
        onClick={toggle}
        className="grid min-h-12 w-full grid-cols-[minmax(0,1fr)_9rem] items-center gap-3 py-2 text-left md:grid-cols-[15rem_minmax(0,1fr)_9rem_6rem]"
      >
        <span className={`text-lg font-semibold ${x.rail.retired ? "line-through" : ""}`}>{x.rail.name}</span>
        <span className="hidden text-quiet md:block">
          {x.rail.trains.join(", ")}
          {x.for.length > 0 && ` · found: ${x.for.slice(0, 3).join(", ")}${x.for.length > 3 ? " …" : ""}`}
          {x.rail.eases.length > 0 && ` · for a sore ${x.rail.eases.map(region).join(", ")}`}
        </span>
        <span className="fig text-right">
          {x.minutes[0] === x.minutes[1] ? x.minutes[0] : `${x.minutes[0]}–${x.minutes[1]}`} min
        </span>
        <span className="hidden text-right text-sm text-cinder md:block">
          {x.rail.retired ? "retired" : x.version > 0 && x.rail.own ? "our own" : ""}
        </span>
      </button>
      {open && children}
    </li>
  );
}

function RailDetail({
  x,
  lib,
  edit,
}: {
  x: LibraryRail;
  lib: Schemas["Library"];
  edit: (rail: CatalogRail, version: number, fresh: boolean) => void;
}) {
  const r = x.rail;
  const deed = useDeed(stale.rules);
  const put = (rail: CatalogRail) =>
    deed.run(async () => {
      await ask(
        api.PUT("/api/library/{rail}", { params: { path: { rail: rail.id } }, body: { saw: x.version, rail } }),
      );
    });
  const nameOf = (id: string) => lib.rails.flatMap((o) => o.rail.exercises).find((e) => e.id === id)?.name ?? id;
  const kitName = (id: string) => lib.kit.find((k) => k.id === id)?.name ?? id;
  return (
    <div className="bg-panel px-4 py-3">
      <p className="text-quiet">
        {r.perWeek} a week{r.gapDays ? `, ${r.gapDays} free day between` : ""} · {r.tissues.join(", ")}
        {x.coach && ` · changed by ${x.coach}, ${x.on}`}
      </p>
      {r.setName && (
        <p>
          One of the set “{r.setName}”: several may be chosen at once, none waits for another
          {x.for.length > 0 && `. Chosen for: ${x.for.join(", ")}`}.
        </p>
      )}
      {r.cautions.map((c) => (
        <p key={c} className="text-quiet">
          {c}
        </p>
      ))}
      <ol className="mt-2">
        {r.exercises.map((e, i) => (
          <li
            key={e.id}
            className={`grid gap-x-4 gap-y-1 border-t border-line py-3 md:grid-cols-[8rem_minmax(0,1fr)_13rem] ${e.retired ? "opacity-60" : ""}`}
          >
            <div>
              <Figure shapes={x.drawings[e.id] ?? []} label={e.name} className="w-28" />
            </div>
            <div>
              <h3 className="text-lg">
                <span className="fig mr-2 text-quiet">{i + 1}</span>
                {e.name}
                {e.retired && <span className="ml-2 text-base text-cinder">retired</span>}
              </h3>
              <p>{e.setUp}</p>
              <p className="text-quiet">{e.cues.join(" · ")}</p>
              <p>
                <span className="text-tide">Good:</span> {e.good}
              </p>
              <p>
                <span className="text-brick">Stop at:</span> {e.stopWhen.join("; ")}
              </p>
              {(e.then ?? []).length > 0 && (
                <p>
                  <span className="text-tide">Then at once:</span>{" "}
                  {(e.then ?? []).map((t) => `${nameOf(t.exercise)}, ${t.dose}`).join("; or ")}
                </p>
              )}
              {e.first.length > 0 && <p className="text-ochre">First: {e.first.map((n) => n.says).join("; ")}</p>}
              {e.not.length > 0 && <p className="text-brick">Not: {e.not.map((n) => n.says).join("; ")}</p>}
              <p className="text-sm text-quiet">
                {[e.needs.length > 0 && e.needs.map(kitName).join(", "), e.tempo, e.provenance, e.source]
                  .filter(Boolean)
                  .join(" · ")}
              </p>
            </div>
            <ol aria-label={`Doses of ${e.name}`} className="fig">
              {e.doses.map((d, k) => (
                <li key={k} className="border-l-4 border-ink py-0.5 pl-2">
                  {d}
                  {e.stageDays?.[k] && <span className="text-quiet"> for {e.stageDays[k]} days</span>}
                </li>
              ))}
              {e.grade && (
                <li className="pl-3 text-sm text-quiet">
                  {e.grade === "spm" ? "again for each" : "then its two highest for each further"} {gradeWords[e.grade]}
                </li>
              )}
            </ol>
          </li>
        ))}
      </ol>
      <Failure error={deed.error} />
      <div className="mt-2 flex flex-wrap gap-2">
        <Button onClick={() => edit(r, x.version, false)}>Change for our practice</Button>
        <Button onClick={() => edit(copyOf(r), 0, true)}>Copy</Button>
        <Button disabled={deed.busy} onClick={() => put({ ...r, retired: !r.retired })}>
          {r.retired ? "Bring back" : "Retire"}
        </Button>
        {x.shipped && r.own && (
          <Button
            kind="quiet"
            disabled={deed.busy}
            onClick={() =>
              deed.run(async () => {
                await ask(
                  api.DELETE("/api/library/{rail}", { params: { path: { rail: r.id }, query: { saw: x.version } } }),
                );
              })
            }
          >
            As it ships again
          </Button>
        )}
      </div>
    </div>
  );
}

const gradeWords: Record<string, string> = {
  dumbbell: "weight owned",
  band: "band owned",
  spm: "step of the cadence",
  wall: "centimetre from the wall",
  stack: "height of the stack",
  hands: "third off the hands",
};

/** An id of our own from a name: small letters, figures, underscores. */
export const idOf = (name: string) =>
  "own_" +
  name
    .toLowerCase()
    .normalize("NFKD")
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_|_$/g, "")
    .slice(0, 30);

function copyOf(r: CatalogRail): CatalogRail {
  const name = `${r.name}, our way`;
  const id = idOf(name);
  return {
    ...r,
    id,
    name,
    retired: false,
    place: undefined,
    exercises: r.exercises.map((e) => ({
      ...e,
      id: `${id}_${e.id}`.slice(0, 40),
      stageDays: undefined,
      provenance: e.stageDays ? undefined : e.provenance,
      first: e.first.filter((n) => !n.exercise),
    })),
  };
}

function emptyRail(): CatalogRail {
  return {
    id: "",
    name: "",
    short: "",
    main: [],
    part: "wake",
    class: "control",
    trains: [],
    tissues: [],
    perWeek: 3,
    regions: [],
    eases: [],
    answers: {},
    when: ["after", "own", "evening"],
    cautions: [],
    restS: 30,
    faults: [],
    stopWhen: ["sharp pain"],
    first: [],
    not: [],
    exercises: [],
  };
}
