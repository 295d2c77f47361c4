import { useCallback, useEffect, useState } from "react";
import { Problem } from "../api/problem";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { ThemeSwitch } from "../ui/theme";
import { kept, lockedHere, mine, note, put, reload, useKept, type Bundle } from "./kept";
import { Morning } from "./Morning";
import { Bare, Boundary, Days, Notes, RunEntry, SelfCheck, ShortCode, Signs } from "./later";
import { Locks, Unsent } from "./Notices";
import { sync, todayIn } from "./outbox";
import { Session } from "./Session";
import { Note } from "../ui/Note";

/** The runner's page: what today, how many, when to stop. It works without signal and says what is not
 * sent yet. */
export function Phone() {
  const k = useKept();
  const { trouble, ended, again } = useSync(k.link);
  const waiting = mine(k);
  // What is in hand, or was typed and not sent, is not taken away with the link.
  const inHand = ["playing", "checking", "note typed"].some((name) => note(k, name) !== undefined);
  if (!k.link || (ended && !waiting.length && !(inHand && k.bundle)))
    return (
      <Frame>
        <h1 className="text-3xl">{k.link ? "This link has ended" : "No link here"}</h1>
        <p className="mt-3 text-lg">Ask your coach for a new private link, and open it on this phone.</p>
        <ShortCode />
      </Frame>
    );
  if (!k.bundle && k.newer) return <Newer waiting={waiting.length} />;
  if (!k.bundle)
    return (
      <Frame>
        <Locks words={lockedHere(k)} />
        <p role="status" className="text-lg">
          {waiting.length > 0 && <strong>{waiting.length} not sent yet. </strong>}
          {trouble || "Fetching your session …"}
        </p>
        {trouble && (
          <Button kind="main" className="mt-4" onClick={again}>
            Try again
          </Button>
        )}
      </Frame>
    );
  return (
    <Boundary instead={<Broken waiting={waiting.length} />}>
      <Page bundle={k.bundle} trouble={trouble} ended={ended} entered={again} />
    </Boundary>
  );
}

/** What this phone holds cannot be drawn; what was reported and what locks it still counts. */
function Broken({ waiting }: { waiting: number }) {
  return (
    <Frame>
      <Locks words={lockedHere(useKept())} />
      <h1 className="text-3xl">Your session cannot be shown</h1>
      <p className="mt-3 text-lg">
        {waiting > 0 && `${waiting} not sent yet; they are sent when there is signal. `}
        Do not train today; call your coach. Chest pain, collapse or breathlessness: call for help.
      </p>
      <Button kind="main" className="mt-4" onClick={() => location.reload()}>
        Try again
      </Button>
    </Frame>
  );
}

/** Sends and fetches now, when the signal comes back, when the page is looked at again, and every half minute. */
function useSync(link: string) {
  const [trouble, setTrouble] = useState("");
  const [ended, setEnded] = useState(false);
  const [, setTick] = useState(0);
  const again = useCallback(async () => {
    try {
      await sync();
      setTrouble("");
      setEnded(false);
    } catch (e) {
      if (e instanceof Problem && e.status === 401) setEnded(true);
      setTrouble(e instanceof Problem ? e.message : "No signal. You can go on; entries are sent when it is back.");
    }
  }, []);
  useEffect(() => {
    if (!link) return void import("./opening").then((o) => o.findLink()).catch(() => undefined);
    void import("./worker").then((w) => w.keepOffline()).catch(() => undefined); // it is tried anew at the next visit
    const first = setTimeout(() => void again(), 0);
    const soon = setInterval(() => {
      setTick((n) => n + 1); // the expiry and the date move on by themselves
      if (kept().entries.length || document.visibilityState === "visible") void again();
    }, 30_000);
    const back = () => void again();
    const seen = () => void reload().then(back);
    window.addEventListener("online", back);
    document.addEventListener("visibilitychange", seen);
    return () => {
      clearTimeout(first);
      clearInterval(soon);
      window.removeEventListener("online", back);
      document.removeEventListener("visibilitychange", seen);
    };
  }, [link, again]);
  return { trouble, ended, again: () => void again() };
}

function Page({
  bundle,
  trouble,
  ended,
  entered,
}: {
  bundle: Bundle;
  trouble: string;
  ended: boolean; // the link: what was done is told, nothing more is begun
  entered: () => void;
}) {
  const k = useKept();
  const [asking, setAsking] = useState(false);
  const today = todayIn(bundle.timezone);
  const odd = () => setAsking(true);
  return (
    <Frame>
      <div className="flex items-center justify-between">
        <p className="font-head text-lg font-semibold">{bundle.name}</p>
        <ThemeSwitch />
      </div>
      <h1 className="text-4xl">{day(today)}</h1>
      <div className="ticks mt-2 mb-4" aria-hidden />
      {k.newer && (
        <Note kind="caution" className="mb-3">
          <strong>There is a newer version of this page.</strong> Keep what you are entering, then load it.
          <Button className="mt-2 w-full" onClick={() => location.reload()}>
            Load it
          </Button>
        </Note>
      )}
      <Unsent trouble={trouble} />
      {ended && <ShortCode />}
      <Locks words={[...bundle.locks.map((l) => `${l.question} (${l.place}) ${l.do}`), ...lockedHere(k)]} />
      <Standing bundle={bundle} today={today} entered={entered} />
      {bundle.formOpen && (
        <a
          href="/phone/intake"
          className="mb-4 flex min-h-14 items-center justify-center rounded-sq border border-cinder bg-cinder px-4 text-lg font-semibold text-on-cinder"
        >
          Fill in the form before we meet
        </a>
      )}
      <Morning bundle={bundle} today={today} onEntered={entered} onOdd={odd} />
      <Session bundle={bundle} today={today} old={k.newer} ended={ended} onEntered={entered} onOdd={odd} />
      {bundle.bare && <Bare bundle={bundle} today={today} onEntered={entered} onOdd={odd} />}
      <RunEntry bundle={bundle} today={today} onEntered={entered} onOdd={odd} />
      <Button kind="stop" className="mt-6 w-full" onClick={odd}>
        Anything new or odd?
      </Button>
      {asking && <Signs bundle={bundle} today={today} onClose={() => setAsking(false)} onEntered={entered} />}
      <Notes bundle={bundle} today={today} onEntered={entered} onOdd={odd} />
      {bundle.check && <SelfCheck bundle={bundle} today={today} ended={ended} onEntered={entered} onOdd={odd} />}
      <Days bundle={bundle} />
    </Frame>
  );
}

/** The server is of another release: its records are not drawn by this page. Nothing is typed here, so it is loaded anew. */
function Newer({ waiting }: { waiting: number }) {
  return (
    <Frame>
      <Locks words={lockedHere(useKept())} />
      <h1 className="text-3xl">There is a newer version of this page</h1>
      <p className="mt-3 text-lg">
        {waiting > 0
          ? `Your ${waiting} ${waiting === 1 ? "entry" : "entries"} not sent yet stay on this phone.`
          : "Nothing of yours is lost."}
      </p>
      <Button kind="main" className="mt-4" onClick={() => location.reload()}>
        Load it
      </Button>
    </Frame>
  );
}

/** What keeps the runner from running, the way back to it, and small troubles that may be said to be over. */
function Standing({ bundle, today, entered }: { bundle: Bundle; today: string; entered: () => void }) {
  return (
    <>
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
            onClick={() => void put([{ kind: `healed/${l.id}`, body: {}, label: "It is over" }]).then(entered)}
          >
            It is over: {l.question.replace("?", "")}
          </Button>
        ))}
    </>
  );
}

function Frame({ children }: { children: React.ReactNode }) {
  return <main className="mx-auto min-h-screen max-w-md px-4 py-5 text-[1.05rem]">{children}</main>;
}
