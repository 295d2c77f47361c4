import { useEffect, useState } from "react";
import { Problem, problemOf, type Schemas } from "../api/client";
import { draftOf, profileOf, type Draft } from "../runner/draft";
import { Days, Running } from "../runner/running";
import { Before, BodyFigures, Cautions, Kit, ShoeForms, Symptoms } from "../runner/sections";
import { Button, day, Failure, Heading } from "../ui/basics";
import { call, flush, outbox, put, token } from "./outbox";
import { Signs } from "./Signs";

type Form = Schemas["PhoneIntake"];
const kept = "intake draft";
const page = "intake form"; // as it was fetched, for opening it again without signal

/** The intake as the runner fills it in beforehand: kept on the phone while it is typed, sent when there
 * is signal, and read by the coach before it counts. */
export function FillIn() {
  const [form, setForm] = useState<Form | null>(null);
  const [trouble, setTrouble] = useState("");
  useEffect(() => {
    if (!token()) return;
    void (async () => {
      try {
        const a = await call("/api/phone/intake");
        if (!a.ok) throw problemOf(a.status, await a.json().catch(() => null));
        const fetched = (await a.json()) as Form;
        localStorage.setItem(page, JSON.stringify(fetched));
        setForm(fetched);
      } catch (e) {
        const kept = localStorage.getItem(page);
        if (kept && !(e instanceof Problem && e.status === 401)) return setForm(JSON.parse(kept) as Form);
        setTrouble(e instanceof Problem ? e.message : "No signal. Open this page once with signal to begin.");
      }
    })();
  }, []);
  return (
    <main className="mx-auto min-h-screen max-w-md px-4 py-5 text-[1.05rem]">
      {!token() ? (
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
  const [d, setD] = useState<Draft>(() => {
    try {
      return JSON.parse(localStorage.getItem(kept) ?? "") as Draft;
    } catch {
      return draftOf(form.profile);
    }
  });
  const [error, setError] = useState<unknown>(null);
  const [sent, setSent] = useState("");
  const [asking, setAsking] = useState(false);
  const set = (part: Partial<Draft>) => {
    setSent("");
    setD((old) => {
      const next = { ...old, ...part };
      localStorage.setItem(kept, JSON.stringify(next));
      return next;
    });
  };
  const part = { d, set, fields: error instanceof Problem ? error.fields : {} };
  async function send() {
    setError(null);
    try {
      put("intake", { profile: profileOf(d) }, "Your form");
    } catch (e) {
      return setError(e);
    }
    setSent("Kept. It is sent as soon as there is signal.");
    try {
      await flush();
    } catch {
      return; // the outbox sends it later
    }
    const refused = outbox().find((e) => e.kind === "intake" && e.refused);
    if (refused) {
      localStorage.setItem("outbox", JSON.stringify(outbox().filter((e) => e.id !== refused.id)));
      setSent("");
      return setError(new Problem(422, refused.refused ?? "", refused.fields ?? {}));
    }
    localStorage.removeItem(kept);
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
          onEntered={() => void flush().catch(() => undefined)}
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
