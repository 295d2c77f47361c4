import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useReference } from "../Desk";
import { api, ask, type Schemas } from "../api/client";
import { rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { useDeed } from "../ui/deed";
import { useEntry } from "../ui/entry";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Why } from "../ui/reason";
import { fixed, parse, write } from "../ui/number";
import { Problem } from "../api/problem";
import { Note } from "../ui/Note";
import { Versions } from "../ui/Versions";
import { CoreStations, Plates } from "./Practice";

type Reference = Schemas["Reference"];
type Effect = Schemas["Effect"];

const groups: [string, (key: string) => boolean][] = [
  ["Placing and building", (k) => /^(place|build|week)\./.test(k)],
  ["Adjusting", (k) => k.startsWith("adjust.")],
  ["Running volume", (k) => k.startsWith("load.")],
  ["Gait", (k) => k.startsWith("gait.")],
  ["Clips", (k) => k.startsWith("clip.")],
  ["Screen and retest", (k) => /^(screen|retest|typical|score|walk)\./.test(k) || k === "hold.sem"],
  ["Desk and phone", (k) => /^(queue|link|phone)\./.test(k)],
  ["References and errors of the tests", () => true],
];

/** Every threshold with its default, range and provenance; what a change would do is shown before. */
export function House() {
  const ref = useReference();
  const key = decodeURIComponent(location.hash.slice(1));
  const [find, setFind] = useState("");
  const [history, setHistory] = useState(false);
  const ready = ref.data !== undefined;
  useEffect(() => {
    if (ready) document.getElementById(key)?.scrollIntoView({ block: "center" });
  }, [key, ready]);
  if (ref.isPending) return <Loading what="the house rules" />;
  if (ref.error) return <Failure error={ref.error} again={() => ref.refetch()} />;
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const rules = ref.data.house.filter((r) =>
    words.every((w) => `${r.name} ${r.key} ${r.provenance} ${r.source ?? ""}`.toLowerCase().includes(w)),
  );
  const left = new Set(rules);
  return (
    <div className="px-6 py-6">
      <Heading
        aside={
          <span className="flex items-center gap-4">
            <span className="text-quiet">version {ref.data.version}</span>
            <Button onClick={() => setHistory(!history)}>{history ? "Hide the history" : "History"}</Button>
          </span>
        }
      >
        House rules
      </Heading>
      <p className="mb-4 max-w-3xl text-quiet">
        A change counts for every runner of the practice from now on; decisions already taken keep the rules they were
        taken under.
      </p>
      {history && <History rules={ref.data.house} />}
      <Approaches reference={ref.data} />
      <CoreStations reference={ref.data} />
      <Plates reference={ref.data} />
      <TypicalErrors />
      <Field
        label="Find a rule"
        className="mt-8 max-w-md"
        value={find}
        onChange={(e) => setFind(e.target.value)}
        hint="by name, test or source"
      />
      {rules.length === 0 && <p className="mt-3">No rule has these words.</p>}
      {groups.map(([name, is]) => {
        const mine = [...left].filter((r) => is(r.key));
        mine.forEach((r) => left.delete(r));
        return (
          mine.length > 0 && (
            <section key={name} aria-label={name}>
              <Heading level={2}>{name}</Heading>
              <ul>
                {mine.map((r) => (
                  <Row key={r.key} rule={r} marked={r.key === key} />
                ))}
              </ul>
            </section>
          )
        );
      })}
    </div>
  );
}

function Row({ rule, marked }: { rule: Schemas["HouseRule"]; marked: boolean }) {
  const entry = useEntry(String(rule.value));
  const text = entry.value;
  const [effect, setEffect] = useState<Effect[] | null>(null);
  const deed = useDeed(stale.rules);
  // What is no number is refused here: sent, it would say “as it ships”.
  const typed = () => {
    const value = parse(text);
    if (value === null) throw new Problem(422, `${rule.name}: “${text}” is not a number.`);
    return value;
  };
  const path = { params: { path: { key: rule.key } } };
  const change = async (v: () => number | null, was = Number(entry.saw)) => {
    const done = await deed.run(async () => {
      await ask(api.PUT("/api/house/{key}", { ...path, body: { value: v(), was } }));
    });
    if (done) entry.leave();
  };
  const theirs = () => {
    entry.leave();
    deed.forget();
  };
  const look = () =>
    deed.run(async () =>
      setEffect(await ask(api.POST("/api/house/{key}/effect", { ...path, body: { value: typed() } }))),
    );
  const same = text === String(rule.value);
  return (
    <li
      id={rule.key}
      className={`border-b border-line px-2 py-2 ${marked ? "border-l-4 border-l-cinder bg-panel" : ""}`}
    >
      <div className="grid items-center gap-3 md:grid-cols-[minmax(0,1fr)_auto]">
        <div>
          <p className="font-medium">{rule.name}</p>
          <p className="text-sm text-quiet">
            default{" "}
            <span className="fig">
              {rule.default}
              {rule.unit && ` ${rule.unit}`}
            </span>
            , {rule.min} to {rule.max} · {rule.provenance}
            {rule.source ? ` – ${rule.source}` : ""}
          </p>
          {rule.kept !== rule.value && (
            <Note kind="caution within" className="text-sm">
              Kept as {rule.kept} by an earlier release; that is outside the range, so {rule.value} counts.
            </Note>
          )}
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <input
            aria-label={rule.name}
            value={text}
            inputMode="decimal"
            onChange={(e) => {
              entry.set(e.target.value);
              setEffect(null);
            }}
            className="fig min-h-11 w-24 rounded-sq border border-line bg-panel px-2 text-right"
          />
          <span className="w-12 text-sm text-quiet">{rule.unit}</span>
          {!same && (
            <Button kind="quiet" disabled={deed.busy} onClick={look}>
              What would change?
            </Button>
          )}
          <Button disabled={same || deed.busy} onClick={() => void change(typed)}>
            Change
          </Button>
          {rule.changed && (
            <Button kind="quiet" onClick={() => void change(() => null)}>
              Back to {rule.default}
            </Button>
          )}
        </div>
      </div>
      <Effects effects={effect} />
      {deed.clash ? (
        <Versions
          what="this rule"
          theirs={`${rule.value} ${rule.unit}`}
          mine={`${text} ${rule.unit}`}
          busy={deed.busy}
          onTheirs={theirs}
          onMine={() => void change(typed, rule.value)}
        />
      ) : (
        <Failure error={deed.error} />
      )}
    </li>
  );
}

/** Whose findings a change would move, before it is made. */
function Effects({ effects }: { effects: Effect[] | null }) {
  if (!effects) return null;
  return (
    <Note role="status" kind="good" className="mt-2">
      <p className="font-semibold">
        {effects.length === 0
          ? "No runner's findings change."
          : `${effects.length} ${effects.length === 1 ? "runner's findings change" : "runners' findings change"}.`}
      </p>
      <ul>
        {effects.map((e) => (
          <li key={e.runner}>
            {e.name}: {e.changes.join("; ")}
          </li>
        ))}
      </ul>
    </Note>
  );
}

function Approaches({ reference }: { reference: Reference }) {
  const deed = useDeed(stale.rules);
  const [effect, setEffect] = useState<{ id: string; of: Effect[] } | null>(null);
  return (
    <section aria-label="Approaches">
      <Heading level={2}>Approaches, where practitioners disagree</Heading>
      <p className="text-quiet">The practice's choice stands for every runner without one of their own at intake.</p>
      <div className="mt-2 grid gap-4 md:grid-cols-2">
        {reference.approaches.map((a) => (
          <div key={a.id}>
            <Choice
              label={a.question}
              value={reference.chosen[a.id] ?? a.options[0]?.id ?? ""}
              options={a.options.map((o, i) => ({ id: o.id, name: o.name + (i === 0 ? " (default)" : "") }))}
              onChange={(choice) =>
                deed.run(async () => {
                  const path = { params: { path: { question: a.id } } };
                  const of = await ask(api.POST("/api/approaches/{question}/effect", { ...path, body: { choice } }));
                  await ask(
                    api.PUT("/api/approaches/{question}", {
                      ...path,
                      body: { choice: choice === a.options[0]?.id ? "" : choice, was: reference.chosen[a.id] ?? "" },
                    }),
                  );
                  setEffect({ id: a.id, of });
                })
              }
            />
            {effect?.id === a.id && <Effects effects={effect.of} />}
          </div>
        ))}
      </div>
      <Failure error={deed.error} />
    </section>
  );
}

function TypicalErrors() {
  const q = useQuery(rooms.typicalErrors());
  const ref = useReference();
  const deed = useDeed(stale.rules);
  const rows = q.data?.filter((t) => t.pairs > 1) ?? [];
  return (
    <section aria-label="Your own measurement error">
      <Heading level={2}>Your own measurement error</Heading>
      <p className="max-w-3xl text-quiet">
        From repeat pairs: the same runner, a few days apart, no training between. Once there are enough, your own error
        may stand in for the default.
      </p>
      {rows.length === 0 && <p className="mt-2">No repeat pairs yet.</p>}
      <ul className="mt-2">
        {rows.map((t) => {
          const rule = ref.data?.house.find((r) => r.key === t.rule);
          const name = ref.data?.measures.find((m) => m.id === t.measure)?.name ?? t.measure;
          const own = Math.round(t.error * 100) / 100;
          const fits = rule && own >= rule.min && own <= rule.max;
          return (
            <li key={t.measure} className="flex flex-wrap items-center gap-x-4 border-b border-line py-1">
              <strong className="w-44">{name}</strong>
              {t.enough ? (
                <>
                  <Why reason={t.reason} title={`${name}: your own error`}>
                    <span className="fig">
                      {write(own, 2)} {t.unit} ({fixed(t.low, 2)} to {fixed(t.high, 2)}, {t.pairs} pairs)
                    </span>
                  </Why>
                  <span className="text-quiet">
                    in force {rule?.value} {t.unit}
                  </span>
                  <Button
                    className="ml-auto"
                    disabled={!fits || rule.value === own || deed.busy}
                    onClick={() =>
                      deed.run(async () => {
                        await ask(
                          api.PUT("/api/house/{key}", { params: { path: { key: t.rule } }, body: { value: own } }),
                        );
                      })
                    }
                  >
                    {rule?.value === own ? "In use" : "Use mine"}
                  </Button>
                </>
              ) : (
                <span className="text-quiet">
                  <Why reason={t.reason} title={`${name}: repeat pairs`}>
                    <span className="fig">{t.pairs}</span>
                  </Why>{" "}
                  pairs; not enough yet
                </span>
              )}
            </li>
          );
        })}
      </ul>
      <Failure error={deed.error ?? q.error} />
    </section>
  );
}

function History({ rules }: { rules: Schemas["HouseRule"][] }) {
  const q = useQuery(rooms.houseHistory());
  if (q.isPending) return <Loading what="the history" />;
  if (q.error) return <Failure error={q.error} again={() => q.refetch()} />;
  return (
    <section aria-label="History" className="mb-6 border border-line bg-panel px-4 py-3">
      {q.data.length === 0 && <p>Nothing was changed yet.</p>}
      <ol>
        {q.data.map((c) => {
          const rule = rules.find((r) => r.key === c.key);
          return (
            <li key={c.at + c.key} className="border-b border-line py-1">
              <span className="text-quiet">
                {new Date(c.at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}, {c.coach}:
              </span>{" "}
              {rule?.name ?? c.key} →{" "}
              <strong className="fig">
                {c.value !== undefined ? `${c.value} ${rule?.unit ?? ""}` : c.choice || "back to the default"}
              </strong>
            </li>
          );
        })}
      </ol>
    </section>
  );
}
