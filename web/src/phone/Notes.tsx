import { useState } from "react";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { Letter } from "../ui/Letter";
import { Note } from "../ui/Note";
import { mine, note, put, setNote, useKept, type Bundle } from "./kept";

const typed = "note typed";

/** What coach and runner wrote, and a box for the next one. It asks first what must not wait in a note. */
export function Notes({
  bundle,
  today,
  onEntered,
  onOdd,
}: {
  bundle: Bundle;
  today: string;
  onEntered: () => void;
  onOdd: () => void;
}) {
  const k = useKept();
  const [step, setStep] = useState<"" | "ask" | "write">("");
  const [text, setText] = useState(() => note<string>(k, typed) ?? ""); // drawn at once, kept beside it
  const waiting = mine(k).filter((e) => e.kind === "notes" && (e.body as { text?: string }).text);
  async function send() {
    await put([{ kind: "notes", body: { on: today, text }, label: "Note" }], { [typed]: undefined });
    setText("");
    setStep("");
    onEntered();
  }
  return (
    <section aria-label="Notes" className="mt-6">
      <h2 className="mb-2 text-2xl">Notes</h2>
      <ul>
        {waiting.map((e) => (
          <li key={e.id} className="border-b border-line py-2">
            <p className="text-sm text-ochre">◐ you, not sent yet</p>
            <p className="break-words whitespace-pre-wrap">{(e.body as { text?: string }).text}</p>
          </li>
        ))}
        {bundle.notes.slice(0, 6).map((n) => (
          <li key={n.id} className="border-b border-line py-2">
            <p className="text-sm text-quiet">
              {n.by || "you"}, {day(n.written)}
              {!n.by && (n.unread ? ", not read yet" : ", read")}
            </p>
            <p className="break-words whitespace-pre-wrap">{n.text}</p>
          </li>
        ))}
      </ul>
      {step === "" && (
        <Button className="mt-2 w-full" onClick={() => setStep(text ? "write" : "ask")}>
          {text ? "Go on writing" : "Write to your coach"}
        </Button>
      )}
      {step === "ask" && (
        <fieldset className="mt-2">
          <legend className="font-medium">First: anything new or odd?</legend>
          <div className="mt-1 grid grid-cols-2 gap-2">
            <Button className="justify-center" onClick={() => setStep("write")}>
              No
            </Button>
            <Button
              kind="stop"
              onClick={() => {
                setStep("");
                onOdd();
              }}
            >
              Yes
            </Button>
          </div>
        </fieldset>
      )}
      {step === "write" && (
        <div className="mt-2 space-y-2">
          <Note kind="caution">
            <strong>Notes are not read at once.</strong> Chest pain, collapse or breathlessness: call for help. Pain or
            a warning sign: say it under “Anything new or odd?”.
          </Note>
          <Letter
            label="To your coach"
            value={text}
            onText={(t) => {
              setText(t);
              void setNote(typed, t || undefined);
            }}
          />
          <Button
            kind="main"
            size="big"
            className="w-full disabled:opacity-40"
            disabled={!text.trim() || [...text].length > 2000}
            onClick={() => void send()}
          >
            Send the note
          </Button>
        </div>
      )}
    </section>
  );
}
