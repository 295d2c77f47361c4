import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { Problem, problemOf } from "../api/problem";
import { draftOf, profileOf, type Draft } from "../runner/draft";
import { Days, Running } from "../runner/running";
import { Before, BodyFigures, Cautions, Kit, ShoeForms, Symptoms } from "../runner/sections";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { readIn } from "../ui/reader";
import { drop, kept, mine, note, put, setNote, useKept } from "./kept";
import { call, sync } from "./outbox";
import { Signs } from "./Signs";

type Form = Schemas["PhoneIntake"];
const typed = "intake draft";
const page = "intake form"; // as it was fetched, for opening it again without signal

/** The intake as the runner fills it in beforehand: kept on the phone while it is typed, sent when there
 * is signal, and read by the coach before it counts. */
export function FillIn() {
  const [form, setForm] = useState<Form | null>(null);
  const [trouble, setTrouble] = useState("");
  useEffect(() => {
    if (!kept().link) return;
    void (async () => {
      try {
        const a = await call("/api/phone/intake");
        if (!a.ok) throw problemOf(a.status, await a.json().catch(() => null));
        const fetched = (await a.json()) as Form;
        void setNote(page, fetched);
        readIn(fetched.units);
        setForm(fetched);
      } catch (e) {
        const before = note<Form>(kept(), page);
        if (before && !(e instanceof Problem && e.status === 401)) return setForm(before);
        setTrouble(e instanceof Problem ? e.message : "No signal. Open this page once with signal to begin.");
      }
    })();
  }, []);
  return (
    <main className="mx-auto min-h-screen max-w-md px-4 py-5 text-[1.05rem]">
      {!useKept().link ? (
        <h1 className="text-3xl">No link here</h1>
      ) : form ? (
        <Fields form={form} />
      ) : (
        <p role="status" className="text-lg">
          {trouble || "Fetching the form …"}
        </p>
      )}
    </main>
  );
}

function Fields({ form }: { form: Form }) {
  const [d, setD] = useState<Draft>(() => note<Draft>(kept(), typed) ?? draftOf(form.profile));
  const [error, setError] = useState<unknown>(null);
  const [sent, setSent] = useState("");
  const [asking, setAsking] = useState(false);
  const touched = useRef(false); // typed since it was kept
  const set = (part: Partial<Draft>) => {
    setSent("");
    setD((old) => ({ ...old, ...part }));
    touched.current = true;
  };
  useEffect(() => {
    if (touched.current) void setNote(typed, d); // at every letter: the battery may die at the next
  }, [d]);
  const part = { d, set, fields: error instanceof Problem ? error.fields : {} };
  async function send() {
    setError(null);
    try {
      await put([{ kind: "intake", body: { profile: profileOf(d) }, label: "Your form" }]);
    } catch (e) {
      return setError(e);
    }
    setSent("Kept. It is sent as soon as there is signal.");
    try {
      await sync();
    } catch {
      return; // the outbox sends it later
    }
    const refused = mine(kept()).find((e) => e.kind === "intake" && e.refused);
    if (refused) {
      await drop(refused.id);
      setSent("");
      return setError(new Problem(422, refused.refused ?? "", refused.fields ?? {}));
    }
    touched.current = false;
    await setNote(typed, undefined);
    setSent("Sent. Your coach reads it before you meet.");
  }
  return (
    <>
      <p className="font-head text-lg font-semibold">{form.name}</p>
      <Heading>Before we meet</Heading>
      <p className="text-quiet">
        As much as you know; leave the rest. It stays on this phone while you type. Coaching, not medical care.
        {form.sent && ` You sent it on ${day(form.sent)}; sending again replaces it.`}
      </p>
      <section className="mt-4 border-2 border-brick bg-brick-ground p-4">
        <h2 className="text-xl">First: is any of these so?</h2>
        <p className="mt-1">Pain at night, swelling, numbness, a pop, a fresh twist, chest pain and a few more.</p>
        <Button kind="stop" className="mt-3 w-full" onClick={() => setAsking(true)}>
          Read the warning signs
        </Button>
      </section>
      {asking && (
        <Signs
          bundle={form}
          today={form.today}
          onClose={() => setAsking(false)}
          onEntered={() => void sync().catch(() => undefined)}
        />
      )}
      <Heading level={2}>You</Heading>
      <div className="grid grid-cols-2 gap-4">
        <BodyFigures {...part} />
      </div>
      <Heading level={2}>Where it hurts</Heading>
      <Symptoms {...part} regions={form.regions} times={form.times} narrow />
      <Heading level={2}>Anything of these?</Heading>
      <Cautions {...part} cautions={form.cautions} today={form.today} />
      <Heading level={2}>Before</Heading>
      <Before {...part} />
      <Heading level={2}>Your running</Heading>
      <Running {...part} />
      <Days {...part} />
      <Heading level={2}>Your shoes</Heading>
      <ShoeForms {...part} />
      <Heading level={2}>What you own</Heading>
      <Kit {...part} />
      <Failure error={error} />
      <Button kind="main" className="mt-6 min-h-14 w-full text-lg" onClick={send}>
        Send to my coach
      </Button>
      <p role="status" className="mt-3 text-lg text-tide">
        {sent}
      </p>
      <a href="/phone" className="mt-4 inline-flex min-h-11 items-center underline underline-offset-4">
        To my sessions
      </a>
    </>
  );
}
