import { useCallback, useEffect, useState } from "react";
import { Problem } from "../api/client";
import { ThemeSwitch } from "../Desk";
import { Button, day } from "../ui/basics";
import {
  call,
  dropRefused,
  flush,
  keptBundle,
  lockedHere,
  outbox,
  put,
  refresh,
  todayIn,
  token,
  type Bundle,
} from "./outbox";
import { Exercise } from "./Exercise";
import { Morning } from "./Morning";
import { RunEntry } from "./RunEntry";
import { Signs } from "./Signs";

/** The runner's page: what today, how many, when to stop. It works without signal and says what is not
 * sent yet. Strength work kept on the phone expires after a day. */
export function Phone() {
  const [bundle, setBundle] = useState<Bundle | null>(keptBundle);
  const [waiting, setWaiting] = useState(outbox);
  const [trouble, setTrouble] = useState("");
  const [ended, setEnded] = useState(false);
  const [few, setFew] = useState(false);
  const [asking, setAsking] = useState(false);
  const [now, setNow] = useState(() => Date.now());
  const link = token();

  const sync = useCallback(async () => {
    try {
      if (!keptBundle()) await refresh(); // whose reports they are
      await flush();
      setBundle(await refresh());
      setTrouble("");
      setEnded(false);
    } catch (e) {
      if (e instanceof Problem && e.status === 401) setEnded(true);
      setTrouble(e instanceof Problem ? e.message : "No signal. You can go on; entries are sent when it is back.");
    }
    setWaiting(outbox());
    setNow(Date.now());
  }, []);
  useEffect(() => {
    if (!link) return;
    void keepOffline();
    if (keptBundle()?.formOpen) void import("./FillIn"); // so that the form opens without signal too
    const first = setTimeout(() => void sync(), 0);
    const again = setInterval(() => {
      setNow(Date.now()); // the expiry and the date move on by themselves
      if (outbox().length || document.visibilityState === "visible") void sync();
    }, 30_000);
    const back = () => void sync();
    window.addEventListener("online", back);
    document.addEventListener("visibilitychange", back);
    return () => {
      clearTimeout(first);
      clearInterval(again);
      window.removeEventListener("online", back);
      document.removeEventListener("visibilitychange", back);
    };
  }, [link, sync]);
  const entered = () => {
    setWaiting(outbox());
    void sync();
  };

  if (!link || (ended && !waiting.length))
    return (
      <Frame>
        <h1 className="text-3xl">{link ? "This link has ended" : "No link here"}</h1>
        <p className="mt-3 text-lg">Ask your coach for a new private link, and open it on this phone.</p>
      </Frame>
    );
  if (!bundle)
    return (
      <Frame>
        {lockedHere().map((l) => (
          <p key={l} role="alert" className="mb-3 border-2 border-brick bg-brick-ground p-3 text-lg">
            <strong className="text-brick">⬣ Stop. </strong>
            {l}
          </p>
        ))}
        <p role="status" className="text-lg">
          {waiting.length > 0 && <strong>{waiting.length} not sent yet. </strong>}
          {trouble || "Fetching your session …"}
        </p>
        {trouble && (
          <Button kind="main" className="mt-4" onClick={() => void sync()}>
            Try again
          </Button>
        )}
      </Frame>
    );
  const today = todayIn(bundle.timezone);
  const expired = now > Date.parse(bundle.validUntil);
  const session = bundle.sessions.find((s) => s.on === today);
  const locked = [...bundle.locks.map((l) => `${l.question} (${l.place}) ${l.do}`), ...lockedHere()];
  const refused = waiting.filter((w) => w.refused);
  const unsent = waiting.length - refused.length;
  return (
    <Frame>
      <div className="flex items-center justify-between">
        <p className="font-head text-lg font-semibold">{bundle.name}</p>
        <ThemeSwitch />
      </div>
      <h1 className="text-4xl">{day(today)}</h1>
      <div className="ticks mt-2 mb-4" aria-hidden />
      <div aria-live="polite">
        {unsent > 0 && (
          <p className="mb-3 border-l-4 border-ochre bg-panel px-3 py-2">
            <strong>{unsent} not sent yet.</strong> {trouble || "Sending …"}
          </p>
        )}
        {unsent === 0 && trouble && <p className="mb-3 border-l-4 border-ochre bg-panel px-3 py-2">{trouble}</p>}
        {refused.map((r) => (
          <div key={r.id} className="mb-3 border-l-4 border-brick bg-panel px-3 py-2">
            <strong>{r.label} was not accepted:</strong> {r.refused}
            <Button
              kind="quiet"
              onClick={() => {
                dropRefused();
                setWaiting(outbox());
              }}
            >
              I have read it
            </Button>
          </div>
        ))}
      </div>
      {locked.map((l) => (
        <p key={l} role="alert" className="mb-3 border-2 border-brick bg-brick-ground p-3 text-lg">
          <strong className="text-brick">⬣ Stop. </strong>
          {l}
        </p>
      ))}
      {bundle.running && (
        <p className="mb-3 border-2 border-brick bg-brick-ground p-3 text-lg">
          <strong className="text-brick">⬣ No running until cleared: </strong>
          {bundle.running}
        </p>
      )}
      {bundle.wayBack && (
        <section aria-label="Back to running" className="mb-3 border-2 border-tide bg-panel p-3 text-lg">
          <strong className="text-tide">Back to running: </strong>
          {bundle.wayBack.reason.says}.
          {bundle.wayBack.days.some((d) => d.on === today) && (
            <p className="mt-1 text-xl font-semibold">Today: {bundle.wayBack.days.find((d) => d.on === today)?.what}</p>
          )}
        </section>
      )}
      {bundle.locks
        .filter((l) => l.small)
        .map((l) => (
          <Button
            key={l.id}
            className="mb-3 w-full"
            onClick={() => {
              put(`healed/${l.id}`, {}, "It is over");
              entered();
            }}
          >
            It is over: {l.question.replace("?", "")}
          </Button>
        ))}
      {bundle.formOpen && (
        <a
          href="/phone/intake"
          className="mb-4 flex min-h-14 items-center justify-center rounded-sq border border-cinder bg-cinder px-4 text-lg font-semibold text-on-cinder"
        >
          Fill in the form before we meet
        </a>
      )}
      <Morning bundle={bundle} today={today} onEntered={entered} onOdd={() => setAsking(true)} />
      <h2 className="mt-6 mb-2 text-2xl">Session</h2>
      {expired ? (
        <p className="border border-dashed border-line p-4 text-lg">
          What this phone holds is older than a day. Connect once to see today's session; mornings and runs can be
          entered meanwhile.
        </p>
      ) : !session ? (
        <p className="border border-dashed border-line p-4 text-lg">Connect once to fetch today's session.</p>
      ) : lockedHere().length > 0 ? (
        <p className="border border-dashed border-line p-4 text-lg">No training until your coach has been in touch.</p>
      ) : session.items.length === 0 && session.kept.length === 0 ? (
        <p className="border border-dashed border-line p-4 text-lg">
          Nothing planned today.{bundle.next ? ` Next session: ${day(bundle.next)}.` : ""}
        </p>
      ) : (
        <>
          {session.race && <p className="mb-3 border-l-4 border-cinder bg-panel px-3 py-2 text-lg">{session.race}</p>}
          <div className="mb-3 flex items-center justify-between gap-3">
            <p className="text-lg">
              {session.items.length > 0 ? (
                <span className="fig font-semibold">{Math.ceil(session.seconds / 60)} min</span>
              ) : (
                "Nothing of it may be done today."
              )}
              {few && " as planned; the short version is on"}
            </p>
            {session.items.length > 0 && (
              <Button aria-pressed={few} className={few ? "border-2 border-ink" : ""} onClick={() => setFew(!few)}>
                Only 5 minutes
              </Button>
            )}
          </div>
          <ul className="space-y-3">
            {session.items
              .filter((i) => !few || i.slot === "habit" || i.sides.some((s) => s.short))
              .map((i) => (
                <Exercise
                  key={i.exercise.id + session.on + String(few)}
                  item={i}
                  short={few}
                  today={today}
                  onEntered={entered}
                  onOdd={() => setAsking(true)}
                />
              ))}
          </ul>
          {session.kept.length > 0 && (
            <section aria-label="Not today" className="mt-4 border border-dashed border-line p-3 text-quiet">
              <h3 className="text-lg">Not today</h3>
              <ul>
                {session.kept.map((k) => (
                  <li key={k.name + k.side} className="border-t border-line py-2 first:border-0">
                    <strong>
                      {k.name}
                      {k.side !== "both" && `, ${k.side}`}
                    </strong>
                    <br />
                    {k.why.slice(0, 2).join("; ")}
                    {k.opens && `. Opens with: ${k.opens}`}
                  </li>
                ))}
              </ul>
            </section>
          )}
        </>
      )}
      <RunEntry bundle={bundle} today={today} onEntered={entered} />
      <Button kind="stop" className="mt-6 w-full" onClick={() => setAsking(true)}>
        Anything new or odd?
      </Button>
      {asking && <Signs bundle={bundle} today={today} onClose={() => setAsking(false)} onEntered={entered} />}
      <h2 className="mt-8 mb-2 text-xl">The next days</h2>
      <ul>
        {bundle.week.map((d) => (
          <li key={d.on} className="grid grid-cols-[6.5rem_1fr] border-b border-line py-1.5">
            <span className="fig">{day(d.on)}</span>
            <span>{[d.run, ...d.rails].filter(Boolean).join(", ") || "rest"}</span>
          </li>
        ))}
      </ul>
      <Button className="mt-3 w-full" onClick={() => void calendar()}>
        Put it into my calendar
      </Button>
      {bundle.advice.length > 0 && (
        <>
          <h2 className="mt-8 mb-2 text-xl">To mind</h2>
          <ul className="list-disc pl-5">
            {bundle.advice.map((a) => (
              <li key={a}>{a}</li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-8 text-sm text-quiet">
        Stop for sharp or rising pain. Chest pain, collapse or breathlessness: call for help. This is coaching, not
        medical care; licensed practice and local rules come first.
        {bundle.cautions.length > 0 && ` ${bundle.cautions.join(" ")}`}
      </p>
    </Frame>
  );
}

/** Fetches the plan as a calendar file and hands it to the phone. */
async function calendar() {
  const a = await call("/api/phone/calendar.ics");
  if (!a.ok) return;
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await a.blob());
  link.download = "foot-strength.ics";
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** Has the worker keep this page and every file it has loaded. */
async function keepOffline() {
  if (!("serviceWorker" in navigator)) return;
  try {
    await navigator.serviceWorker.register("/sw.js");
    const worker = (await navigator.serviceWorker.ready).active;
    await document.fonts.ready;
    const keep = performance
      .getEntriesByType("resource")
      .map((r) => new URL(r.name))
      .filter((u) => u.origin === location.origin && !u.pathname.startsWith("/api/") && u.pathname !== "/sw.js")
      .map((u) => u.pathname);
    worker?.postMessage({ keep: [...new Set(keep)] });
  } catch {
    // Without a worker the page works with signal only; nothing is lost.
  }
}

function Frame({ children }: { children: React.ReactNode }) {
  return <main className="mx-auto min-h-screen max-w-md px-4 py-5 text-[1.05rem]">{children}</main>;
}
