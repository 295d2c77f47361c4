import { useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { useReference } from "../Desk";
import { api, ask, type Schemas } from "../api/client";
import { Problem } from "../api/problem";
import { rooms, renew, stale } from "../api/rooms";
import { Shoes } from "../read/Read";
import { Button } from "../ui/Button";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Failure, Loading } from "../ui/Notice";
import { Conflict } from "./Conflict";
import { draftOf, profileOf, type Draft } from "./draft";
import { merge, type Clash, type Sheet, type Whose } from "./merge";
import { PrivateLink } from "./PrivateLink";
import { useRunner, useRunnerId } from "./Runner";
import { Days, Running } from "./running";
import { Before, BodyFigures, Cautions, Kit, ShoeForms, Symptoms, TapeFigures } from "./sections";
import { PermissionList } from "./Permissions";
import { Signs } from "./Signs";
import { Note } from "../ui/Note";

type View = Schemas["RunnerView"];

export function IntakePage() {
  const id = useRunnerId();
  const runner = useRunner();
  const ref = useReference();
  const fresh = runner.error instanceof Problem && runner.error.status === 404;
  if (ref.isPending || (runner.isPending && !fresh)) return <Loading what="the intake" />;
  if (ref.error) return <Failure error={ref.error} />;
  return <Form key={id} view={runner.data} reference={ref.data} />;
}

/** What the runner filled in, laid over the draft: a figure they left empty keeps the coach's. */
function takenOver(d: Draft, form: Schemas["RecordForm"]): Draft {
  const theirs = draftOf(form.profile);
  const figures = { ...d.figures };
  for (const [k, v] of Object.entries(theirs.figures)) if (v) figures[k] = v;
  return { ...theirs, figures, guardian: d.guardian, heavy: d.heavy, approaches: d.approaches };
}

/** The form: what is typed, what it began from, saving it, and what somebody else saved meanwhile. */
function useIntake(view?: View) {
  const id = useRunnerId();
  const queries = useQueryClient();
  const [d, setD] = useState(() => draftOf(view?.profile));
  const [name, setName] = useState(view?.name ?? "");
  const [zone, setZone] = useState(view?.timezone ?? Intl.DateTimeFormat().resolvedOptions().timeZone);
  const [version, setVersion] = useState(view?.version ?? 0);
  const [form, setForm] = useState("");
  // What the form began from, and what somebody else saved meanwhile.
  const [base, setBase] = useState<Sheet>({ name, zone, draft: d });
  const [clash, setClash] = useState<Clash | null>(null);
  const [saved, setSaved] = useState("");
  const deed = useDeed(stale.runner(id, "intake"));
  const set = (part: Partial<Draft>) => {
    setD((old) => ({ ...old, ...part }));
    setSaved("");
  };
  const part = { d, set, fields: deed.fields };
  async function save(e: FormEvent) {
    e.preventDefault();
    await deed.run(async () => {
      let v: View;
      try {
        v = await ask(
          api.PUT("/api/runners/{runner}", {
            params: { path: { runner: id } },
            body: { name, timezone: zone, version, profile: profileOf(d) },
          }),
        );
      } catch (e) {
        if (e instanceof Problem && e.status === 409 && view) await meet();
        throw e;
      }
      if (form) {
        await ask(api.POST("/api/runners/{runner}/forms/{form}/taken", { params: { path: { runner: id, form } } }));
        v = await ask(api.GET("/api/runners/{runner}", { params: { path: { runner: id } } }));
        setForm("");
      }
      setVersion(v.version);
      setBase({ name, zone, draft: d });
      setClash(null);
      setSaved("Saved. Next: the screen.");
      await renew(queries, rooms.runner(id), v);
    });
  }
  /** Somebody saved meanwhile: what one of the two changed stands, and what both changed is asked. */
  async function meet() {
    const v = await ask(api.GET("/api/runners/{runner}", { params: { path: { runner: id } } }));
    const theirs = { name: v.name, zone: v.timezone, draft: draftOf(v.profile) };
    const met = merge(base, { name, zone, draft: d }, theirs);
    take(met.sheet);
    setVersion(v.version);
    setBase(theirs);
    setClash(met);
  }
  function take(s: Sheet) {
    setName(s.name);
    setZone(s.zone);
    setD(s.draft);
  }
  const who = (s: { name?: string; zone?: string }) => {
    if (s.name !== undefined) setName(s.name);
    if (s.zone !== undefined) setZone(s.zone);
    setSaved("");
  };
  const takeOver = (waiting: Schemas["RecordForm"]) => {
    setD(takenOver(d, waiting));
    setForm(waiting.id);
  };
  const choose = (key: string, whose: Whose) => {
    const next = clash?.choose(key, whose, { name, zone, draft: d });
    if (!next) return;
    take(next.sheet);
    setClash(next);
  };
  return { d, set, part, name, zone, who, version, form, takeOver, clash, choose, saved, save, deed };
}

function Form({ view, reference }: { view?: View; reference: Schemas["Reference"] }) {
  const { d, set, part, name, zone, who, version, form, takeOver, clash, choose, saved, save, deed } = useIntake(view);
  // Said by the two versions already.
  const met = clash && deed.error instanceof Problem && deed.error.status === 409;
  return (
    <>
      <Heading>Intake</Heading>
      <p className="mb-4 max-w-3xl text-quiet">
        Coaching, not medical care. A warning sign stops the path until it is cleared; licensed practice and local rules
        come first.
      </p>
      {view?.forms[0] && <Waiting name={view.name} form={view.forms[0]} taken={!!form} take={takeOver} />}
      {view ? (
        <Signs view={view} reference={reference} />
      ) : (
        <Note kind="caution" className="mb-4">
          Save the runner first; the warning signs are asked right after. Name and birth date are enough to send the
          private link, and the runner can fill in the rest.
        </Note>
      )}
      {view && (
        <PermissionList
          runner={view.id}
          today={view.today}
          of={view.permissions}
          earlier={view.profile.cautions.length > 0 ? view.profile.heavyAllowed : ""}
        />
      )}
      {view && view.leftEmpty.length > 0 && (
        <Note kind="caution" className="mb-4">
          <strong>Left empty, and read as unknown:</strong>
          <ul>
            {view.leftEmpty.map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ul>
        </Note>
      )}
      <form onSubmit={save} noValidate>
        <Heading level={2}>Who</Heading>
        <div className="grid grid-cols-2 gap-4 md:grid-cols-4">
          <Field
            label="Name"
            value={name}
            onChange={(e) => who({ name: e.target.value })}
            error={deed.fields["name"]}
            required
          />
          <Field
            label="Time zone"
            value={zone}
            onChange={(e) => who({ zone: e.target.value })}
            error={deed.fields["timezone"]}
          />
          <BodyFigures {...part} />
          <TapeFigures {...part} />
        </div>
        <Heading level={2}>Where it hurts</Heading>
        <Symptoms {...part} regions={reference.regions} times={reference.times} />
        <Heading level={2}>Cautions</Heading>
        <Cautions
          {...part}
          cautions={reference.cautions}
          today={view?.today ?? new Date().toISOString().slice(0, 10)}
        />
        <Check checked={d.guardian} onChange={(guardian) => set({ guardian })}>
          Under 18: a guardian has agreed
        </Check>
        <Heading level={2}>Before</Heading>
        <Before {...part} />
        <Heading level={2}>Running and time</Heading>
        <Running {...part} />
        <Days {...part} />
        <Heading level={2}>Shoes</Heading>
        {view && view.shoes.length > 0 && <Shoes shoes={view.shoes} />}
        <ShoeForms {...part} />
        <Heading level={2}>Equipment they own</Heading>
        <Kit {...part} />
        <Heading level={2}>Approaches for this runner</Heading>
        <Approaches d={d} set={set} reference={reference} />
        {clash && <Conflict clash={clash} regions={reference.regions} onChoose={choose} />}
        <div className="sticky bottom-0 z-10 mt-8 flex flex-wrap items-center gap-4 border-t-2 border-ink bg-ground py-3">
          <Button kind="main" type="submit" disabled={deed.busy || !!clash?.rows.some((r) => !r.chosen)}>
            {version ? "Save the intake" : "Add the runner"}
          </Button>
          <span role="status" className="text-tide">
            {saved}
          </span>
          <div className="min-w-0 flex-1">
            {clash?.rows.some((r) => !r.chosen) ? (
              <p className="text-brick">Choose above whose entry stands, then save.</p>
            ) : (
              <Failure error={met ? null : deed.error} />
            )}
          </div>
        </div>
      </form>
      {view && <PrivateLink view={view} />}
      {view && <Earlier stops={view.stops.filter((s) => !s.open)} />}
    </>
  );
}

/** The form that the runner filled in, until it is taken over. */
function Waiting({
  name,
  form,
  taken,
  take,
}: {
  name: string;
  form: Schemas["RecordForm"];
  taken: boolean;
  take: (f: Schemas["RecordForm"]) => void;
}) {
  return (
    <Note kind="good" className="mb-4 flex flex-wrap items-center gap-4">
      <p>
        <strong>{name} filled in the form</strong> on {day(form.on)}.{" "}
        {taken
          ? "It stands below: read it through with them, then save."
          : "Take it over to read it here; nothing is stored until you save."}
      </p>
      {!taken && (
        <Button kind="main" onClick={() => take(form)}>
          Take it over
        </Button>
      )}
    </Note>
  );
}

/** Where practitioners disagree: as the practice does, or otherwise for this runner. */
function Approaches({
  d,
  set,
  reference,
}: {
  d: Draft;
  set: (part: Partial<Draft>) => void;
  reference: Schemas["Reference"];
}) {
  return (
    <div className="grid gap-4 md:grid-cols-2">
      {reference.approaches.map((a) => {
        const practice = reference.chosen[a.id] ?? a.options[0]?.id ?? "";
        return (
          <Choice
            key={a.id}
            label={a.question}
            value={d.approaches[a.id] ?? ""}
            options={[
              { id: "", name: `as the practice: ${a.options.find((o) => o.id === practice)?.name}` },
              ...a.options,
            ]}
            onChange={(v) => {
              const rest = { ...d.approaches };
              delete rest[a.id];
              set({ approaches: v ? { ...rest, [a.id]: v } : rest });
            }}
          />
        );
      })}
    </div>
  );
}

function Earlier({ stops }: { stops: Schemas["StopView"][] }) {
  if (stops.length === 0) return null;
  return (
    <>
      <Heading level={2}>Earlier warning signs</Heading>
      <ul>
        {stops.map((s) => (
          <li key={s.id}>
            {day(s.on)}: {s.what.question} – cleared by {s.clearances.at(-1)?.who}, {day(s.clearances.at(-1)?.on ?? "")}
            ; limits: {s.clearances.at(-1)?.limits || "none"}
          </li>
        ))}
      </ul>
    </>
  );
}
