import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { day } from "../ui/day";
import { useDeed } from "../ui/deed";
import { Field } from "../ui/Field";
import { Heading } from "../ui/Heading";
import { Letter } from "../ui/Letter";
import { Failure } from "../ui/Notice";
import { Note } from "../ui/Note";

type View = Schemas["NoteView"];

/** What the runner wrote and nobody has read yet. */
export function Unread({ runner, notes }: { runner: string; notes: readonly View[] }) {
  const deed = useDeed(stale.runner(runner));
  const read = (note: string) =>
    deed.run(() => ask(api.PUT("/api/runners/{runner}/notes/{id}/read", { params: { path: { runner, id: note } } })));
  return (
    <>
      {notes
        .filter((n) => n.unread)
        .map((n) => (
          <Note key={n.id} kind="today" className="mb-4 flex flex-wrap items-end justify-between gap-3">
            <div className="min-w-0 flex-1">
              <p className="text-sm text-quiet">
                Unread note of {day(n.written)}
                {n.on !== n.written && `, about ${day(n.on)}`}
              </p>
              <Words note={n} />
            </div>
            <Button disabled={deed.busy} onClick={() => void read(n.id)}>
              I have read it
            </Button>
          </Note>
        ))}
      <Failure error={deed.error} />
    </>
  );
}

/** All notes between runner and coaches, and one to write. */
export function Notes({ runner, today, notes }: { runner: string; today: string; notes: readonly View[] }) {
  const [on, setOn] = useState(today);
  const [text, setText] = useState("");
  const [all, setAll] = useState(false);
  const deed = useDeed(stale.runner(runner));
  const shown = all ? notes : notes.slice(0, 5);
  return (
    <section aria-label="Notes" className="mb-8">
      <Heading level={2}>Notes</Heading>
      <div className="grid gap-6 md:grid-cols-2">
        <form
          aria-label="Write a note"
          className="space-y-3 border border-line bg-panel p-4"
          onSubmit={(e) => {
            e.preventDefault();
            void deed.run(async (id) => {
              const body = { on, text };
              await ask(
                api.PUT("/api/runners/{runner}/notes/{id}", { params: { path: { runner, id: id(body) } }, body }),
              );
              setText("");
            });
          }}
        >
          <Letter
            label="To the runner, on the phone with the next contact"
            value={text}
            onText={setText}
            error={deed.fields["text"]}
          />
          <Field
            label="About the day"
            type="date"
            value={on}
            onChange={(e) => setOn(e.target.value)}
            error={deed.fields["on"]}
          />
          <Button type="submit" disabled={deed.busy || !text.trim()}>
            Send the note
          </Button>
          <Failure error={deed.error} />
        </form>
        <div>
          {notes.length === 0 && <p className="text-quiet">Nothing written yet.</p>}
          <ul>
            {shown.map((n) => (
              <li key={n.id} className="border-b border-line py-2">
                <p className="text-sm text-quiet">
                  {n.by || "The runner"}, {day(n.written)}
                  {n.on !== n.written && `, about ${day(n.on)}`}
                  {n.unread && <strong className="text-cinder"> · unread</strong>}
                </p>
                <Words note={n} />
              </li>
            ))}
          </ul>
          {notes.length > 5 && (
            <Button kind="quiet" size="bare" onClick={() => setAll(!all)}>
              {all ? "Only the newest" : `All ${notes.length}`}
            </Button>
          )}
        </div>
      </div>
    </section>
  );
}

/** Plain text, as it was written: nothing in it is made a link. */
export function Words({ note }: { note: View }) {
  return (
    <>
      {note.text && <p className="break-words whitespace-pre-wrap">{note.text}</p>}
      {note.skipped.length > 0 && <p>Skipped: {note.skipped.join("; ")}</p>}
    </>
  );
}
