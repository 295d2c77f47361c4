import { useEffect } from "react";
import { Button } from "../ui/Button";
import { mine, useKept } from "./kept";
import { dropRefused } from "./outbox";
import { Note } from "../ui/Note";

/** The signs that lock this phone. */
export function Locks({ words }: { words: string[] }) {
  return words.map((l) => (
    <p key={l} role="alert" className="mb-3 border-2 border-brick bg-brick-ground p-3 text-lg">
      <strong className="text-brick">⬣ Stop. </strong>
      {l}
    </p>
  ));
}

/** What the server does not have yet, and what it did not take. */
export function Unsent({ trouble }: { trouble: string }) {
  const k = useKept();
  const all = mine(k);
  const refused = all.filter((w) => w.refused);
  const unsent = all.length - refused.length;
  const others = k.entries.length - all.length;
  const loose = k.loose && unsent > 0;
  useEffect(() => {
    if (!loose) return;
    const ask = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [loose]);
  return (
    <div aria-live="polite">
      {unsent > 0 && (
        <Note kind="caution" className="mb-3">
          <strong>{unsent} not sent yet.</strong> {trouble || "Sending …"}
        </Note>
      )}
      {unsent === 0 && trouble && (
        <Note kind="caution" className="mb-3">
          {trouble}
        </Note>
      )}
      {k.loose && (
        <Note kind="refused" className="mb-3">
          <strong>This phone's storage takes nothing more.</strong> What you enter is kept in this page alone: leave it
          open until everything is sent, then make room.
        </Note>
      )}
      {others > 0 && (
        <Note kind="caution" className="mb-3">
          {others === 1 ? "One report" : `${others} reports`} of an earlier link {others === 1 ? "is" : "are"} still on
          this phone. Open that runner's link here to send {others === 1 ? "it" : "them"}.
        </Note>
      )}
      {refused.map((r) => (
        <Note key={r.id} kind="refused" className="mb-3">
          <strong>{r.label} was not accepted:</strong> {r.refused}
          <Button kind="quiet" onClick={() => void dropRefused()}>
            I have read it
          </Button>
        </Note>
      ))}
    </div>
  );
}
