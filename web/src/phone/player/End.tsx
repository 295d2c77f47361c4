import { useRef, useState } from "react";
import { Button } from "../../ui/Button";
import { Chip } from "../../ui/Chip";
import { day } from "../../ui/day";
import { Note } from "../../ui/Note";
import { note, put, setNote, useKept, type Bundle } from "../kept";
import { Scale } from "../Scale";
import { asked, hurtable, leftOut, missing, nothing, open, reports, worst, type Answers } from "./answers";
import type { Did, Play } from "./play";
import { skipWords } from "./Sheets";

/** The one page of questions after a session. Counts are filled in by what was done; pain, effort and the rest never are. */
export function End({
  bundle,
  play,
  locked,
  onKept,
  onEntered,
  onOdd,
}: {
  bundle: Bundle;
  play: Play;
  locked: boolean;
  onKept: () => void;
  onEntered: () => void;
  onOdd: () => void;
}) {
  const k = useKept();
  const [a, setA] = useState(() => note<Answers>(k, "answers") ?? nothing()); // drawn at once, kept beside it
  const live = useRef(a);
  const [wrong, setWrong] = useState("");
  const [form, setForm] = useState(false);
  const [busy, setBusy] = useState(false);
  const set = (part: (was: Answers) => Partial<Answers>) => {
    setWrong("");
    live.current = { ...live.current, ...part(live.current) };
    setA(live.current);
    void setNote("answers", live.current);
  };
  const legs = asked(play);
  const left = open(play, a);
  const skipped = play.done.filter((d) => d.skipped);
  const done = play.done.filter((d) => !d.skipped);
  async function keep() {
    const why = missing(play, a);
    setWrong(why);
    if (why || busy) return;
    setBusy(true);
    const notes: Record<string, unknown> = { playing: undefined, answers: undefined };
    for (const d of done) notes[`done ${play.on} ${d.item.exercise.id}`] = "1";
    await put([...reports(play, a), ...leftOut(play)], notes);
    onEntered();
    onKept();
    if (a.odd || worst(play, a) > bundle.asksAbove) onOdd();
  }
  return (
    <div className="flex flex-1 flex-col">
      <h2 className="text-2xl leading-tight">
        {play.on === bundle.today || !play.done.length ? "How was it?" : `How was ${day(play.on)}?`}
      </h2>
      {locked && <p className="mt-1 font-semibold text-brick">No more training until your coach has been in touch.</p>}
      <Done done={done} skipped={skipped} />
      {legs.map((leg) => (
        <div key={leg}>
          <Scale
            label={`Pain, ${leg}`}
            value={a.pain[leg]}
            onChange={(n) =>
              set((was) => ({
                pain: { ...was.pain, [leg]: n },
                ...(n === 0 ? { which: { ...was.which, [leg]: [] } } : {}),
              }))
            }
            low="none"
            high="worst"
          />
          {(a.pain[leg] ?? 0) > 0 && hurtable(play, leg).length > 1 && (
            <fieldset className="mt-2">
              <legend className="font-medium">Which exercise? Until you say, it counts for all.</legend>
              <div className="mt-1 flex flex-wrap gap-1.5">
                {hurtable(play, leg).map((i) => (
                  <Chip
                    key={i.exercise.id}
                    on={a.which[leg].includes(i.exercise.id)}
                    onChange={(on) =>
                      set((was) => ({
                        which: {
                          ...was.which,
                          [leg]: on
                            ? [...was.which[leg], i.exercise.id]
                            : was.which[leg].filter((x) => x !== i.exercise.id),
                        },
                      }))
                    }
                  >
                    {i.exercise.name}
                  </Chip>
                ))}
              </div>
            </fieldset>
          )}
        </div>
      ))}
      {done.length > 0 && (
        <Scale
          label="Effort"
          value={a.effort}
          onChange={(effort) => set(() => ({ effort }))}
          low="rest"
          high="all out"
        />
      )}
      <Button kind="quiet" size="bare" aria-expanded={form} onClick={() => setForm(!form)}>
        Form that slipped
      </Button>
      {form && <Slipped did={done} faults={a.faults} set={(faults) => set(() => ({ faults }))} />}
      <fieldset className="mt-2">
        <legend className="font-medium">Anything new or odd?</legend>
        <div className="mt-1 grid grid-cols-2 gap-2">
          <Button className="justify-center" aria-pressed={a.odd === false} onClick={() => set(() => ({ odd: false }))}>
            No
          </Button>
          <Button
            className={a.odd ? "border-2 border-brick" : ""}
            aria-pressed={a.odd === true}
            onClick={() => set(() => ({ odd: true }))}
          >
            Yes
          </Button>
        </div>
      </fieldset>
      {left && (
        <p className="mt-2 text-ochre">
          ◐ Not answered: {left}. What is not answered stays open, and nothing moves up by it.
        </p>
      )}
      {worst(play, a) > bundle.asksAbove && (
        <Note role="alert" kind="stop" className="mt-2">
          <strong className="text-brick">⬣ Above {bundle.asksAbove}: no more of it today.</strong> Keep it now; the
          warning signs open next.
        </Note>
      )}
      {wrong && (
        <Note role="alert" kind="stop" className="mt-2 text-brick">
          {wrong}
        </Note>
      )}
      <Button kind="main" size="big" className="mt-3 mb-2 w-full" onClick={() => void keep()}>
        {left ? "Keep it as it is" : "Keep it"}
      </Button>
    </div>
  );
}

/** Form that slipped, exercise by exercise. */
function Slipped({ did, faults, set }: { did: Did[]; faults: Answers["faults"]; set: (f: Answers["faults"]) => void }) {
  return did.map((d) => {
    const id = d.item.exercise.id;
    const all = faults[id] ?? [];
    return (
      <div key={id} className="mt-1">
        <p className="font-medium">{d.item.exercise.name}</p>
        <div className="flex flex-wrap gap-1.5">
          {d.item.exercise.faults.map((f) => (
            <Chip
              key={f}
              on={all.includes(f)}
              onChange={(on) => set({ ...faults, [id]: on ? [...all, f] : all.filter((x) => x !== f) })}
            >
              {f}
            </Chip>
          ))}
        </div>
      </div>
    );
  });
}

/** What was done and what was left out, in a line each. */
function Done({ done, skipped }: { done: Did[]; skipped: Did[] }) {
  return (
    <ul className="mt-1 text-quiet">
      {done.map((d) => (
        <li key={d.item.exercise.id}>
          {d.item.exercise.name}:{" "}
          {d.sides
            .map(
              (s, i) => `${d.item.sides[i]?.side === "both" ? "" : (d.item.sides[i]?.side ?? "")} ${counted(s.done)}`,
            )
            .join("; ")}
        </li>
      ))}
      {skipped.map((d) => (
        <li key={d.item.exercise.id}>
          {d.item.exercise.name}: skipped. {skipWords[d.skipped]}
        </li>
      ))}
    </ul>
  );
}

const counted = (done: number[]) => (done.length ? done.join(" + ") : "0");
