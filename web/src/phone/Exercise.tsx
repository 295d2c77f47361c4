import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { Button, Chip } from "../ui/basics";
import { Figure } from "../ui/Figure";
import { put } from "./outbox";
import { Scale } from "./Scale";

type Side = Schemas["PhoneSide"];
interface Told {
  done: string[];
  pain: number | null;
  cramp: string;
}

type Dose = Schemas["PhoneDose"];

const slotWords: Record<string, string> = {
  before: "before the run",
  run: "inside the run",
  after: "after the run",
  own: "own time",
  evening: "this evening",
  habit: "with daily chores",
};

/** One exercise: the dose large, then what was done on each side, effort, pain, cramp and form. */
export function Exercise({
  item,
  short = false,
  today,
  onEntered,
  onOdd,
}: {
  item: Schemas["PhoneItem"];
  short?: boolean;
  today: string;
  onEntered: () => void;
  onOdd: () => void;
}) {
  const keyHere = `done ${today} ${item.exercise.id}`;
  const [sent, setSent] = useState(() => localStorage.getItem(keyHere) !== null);
  const [open, setOpen] = useState(false);
  const dose = (s: Side): Dose => (short && s.short) || s.dose;
  const [told, setTold] = useState<Told[]>(() =>
    item.sides.map((s) => ({ done: Array.from({ length: dose(s).sets }, () => ""), pain: null, cramp: "" })),
  );
  const [rpe, setRpe] = useState<number | null>(null);
  const perDay = Math.max(...item.sides.map((s) => s.dose.perDay));
  const [times, setTimes] = useState(1);
  const [faults, setFaults] = useState<string[]>([]);
  const [odd, setOdd] = useState<boolean | null>(null);
  const [wrong, setWrong] = useState("");
  const x = item.exercise;
  // Discomfort while tissue is released has its own scale: 8 and over ends it.
  const limit = item.release ? 7 : 5;
  const change = (i: number, part: Partial<Told>) =>
    setTold((old) => old.map((t, j) => (j === i ? { ...t, ...part } : t)));
  const name = (s: Side) => (s.side !== "both" ? s.side : x.trainsLegs === "none" ? "once" : "both legs");

  function keep() {
    const bad = told
      .flatMap((t) => t.done)
      .find((n) => n.trim() !== "" && !(Number(n) >= 0 && Number(n) <= 7200 && Number.isInteger(Number(n))));
    if (bad !== undefined) return setWrong(`“${bad}”: a set is a whole number from 0 to 7200.`);
    const cramp = told
      .map((t) => t.cramp.trim())
      .find((c) => c !== "" && !(Number.isInteger(Number(c)) && Number(c) >= 0 && Number(c) <= 600));
    if (cramp !== undefined) return setWrong(`“${cramp}”: a cramp is counted from 0 to 600.`);
    if (told.every((t) => t.done.every((n) => n.trim() === "")))
      return setWrong("Enter what you did, or tap “as planned”.");
    if (told.some((t) => t.pain === null))
      return setWrong(
        item.release
          ? "Tap the discomfort, 0 for none, on each side."
          : "Tap the pain during it, 0 for none, on each side.",
      );
    if (odd === null) return setWrong("One more: anything new or odd?");
    setWrong("");
    item.sides.forEach((s, i) => {
      for (const prescription of s.prescriptions)
        put(
          "logs",
          {
            prescription,
            on: today,
            done: told[i].done.map((n) => Number(n || 0)),
            rpe: rpe ?? -1,
            pain: told[i].pain,
            crampAt: Number(told[i].cramp || 0),
            faults,
            ...(perDay > 1 ? { times } : {}),
            ...(short ? { short } : {}),
            // A page kept from an earlier release does not say it: then the server computes what was shown.
            ...(s.exact ? { shown: { exercise: x.id, dose: (short && s.exactShort) || s.exact } } : {}),
          },
          x.name,
        );
    });
    localStorage.setItem(keyHere, "1");
    setSent(true);
    setOpen(false);
    onEntered();
    if (odd || told.some((t) => (t.pain ?? 0) > limit)) onOdd();
  }
  const done = sent || item.done;
  const hurting = told.some((t) => (t.pain ?? 0) > limit);
  return (
    <li className={`border bg-panel p-4 ${done ? "border-line" : "border-ink"}`}>
      <p className="text-sm text-quiet">
        {item.name} · {slotWords[item.slot]}
        {item.sides.some((y) => dose(y).perDay > 1) && " · enter one round"}
      </p>
      <h3 className="text-2xl leading-tight">{x.name}</h3>
      {item.sides.map((s) => (
        <p key={s.side} className="mt-1 flex items-baseline gap-3">
          <span className="w-20 text-quiet">{name(s)}</span>
          <span className="fig text-3xl font-semibold">{dose(s).text}</span>
        </p>
      ))}
      {done ? (
        <p className="mt-2 font-semibold text-tide">✓ kept</p>
      ) : (
        !open && (
          <Button kind="main" className="mt-3 min-h-14 w-full text-lg" onClick={() => setOpen(true)}>
            Start
          </Button>
        )
      )}
      {open && !done && (
        <>
          <Figure shapes={item.drawing} label={x.name} className="mt-3 w-40" />
          <p className="mt-3">{x.setUp}</p>
          <ul className="mt-2 list-disc pl-5">
            {x.cues.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          {item.then && (
            <p className="mt-2">
              <strong>Then: {item.then.words}.</strong> {item.then.setUp}
            </p>
          )}
          {x.tempo && (
            <p className="mt-2 text-quiet">
              Tempo: {x.tempo}. Rest {x.restS} s between sets.
            </p>
          )}
          {perDay > 1 && (
            <p className="mt-3 flex flex-wrap items-center gap-2">
              Rounds today
              {Array.from({ length: perDay }, (_, n) => n + 1).map((n) => (
                <Button
                  key={n}
                  aria-pressed={times === n}
                  aria-label={`${n} of ${perDay} rounds`}
                  className={times === n ? "border-2 border-ink" : ""}
                  onClick={() => setTimes(n)}
                >
                  {n}
                </Button>
              ))}
            </p>
          )}
          {item.mind.map((c) => (
            <p key={c} className="mt-2 border-l-4 border-ochre pl-3">
              {c}
            </p>
          ))}
          {item.cautions.map((c) => (
            <p key={c} className="mt-2 text-quiet">
              {c}
            </p>
          ))}
          <p className="mt-2 border-l-4 border-brick pl-3">
            <strong>Stop at:</strong> {x.stopWhen.join(", ")}.
          </p>
          {item.sides.map((s, i) => (
            <fieldset key={s.side} className="mt-4 border-t border-line pt-3">
              <legend className="float-left w-full text-lg font-semibold capitalize">{name(s)}</legend>
              <div className="clear-both flex flex-wrap items-center gap-2">
                {told[i].done.map((n, k) => (
                  <input
                    key={k}
                    aria-label={`${name(s)}, set ${k + 1}, ${dose(s).unit}`}
                    inputMode="numeric"
                    value={n}
                    placeholder={String(dose(s).amount)}
                    onChange={(e) => change(i, { done: told[i].done.map((v, m) => (m === k ? e.target.value : v)) })}
                    className="fig min-h-12 w-16 rounded-sq border border-line bg-ground text-center text-xl"
                  />
                ))}
                <Button onClick={() => change(i, { done: told[i].done.map(() => String(dose(s).amount)) })}>
                  as planned
                </Button>
              </div>
              {dose(s).timed && (
                <Timer
                  seconds={dose(s).amount}
                  onDone={(held) => {
                    const k = told[i].done.findIndex((n) => n === "");
                    if (k >= 0) change(i, { done: told[i].done.map((v, m) => (m === k ? String(held) : v)) });
                  }}
                />
              )}
              <Scale
                label={`${item.release ? "Discomfort" : "Pain"}, ${name(s)}`}
                value={told[i].pain}
                onChange={(pain) => change(i, { pain })}
                low="none"
                high={item.release ? "sharp, too much" : "worst"}
              />
              <label className="mt-2 flex items-center gap-3">
                Cramp at {dose(s).timed ? "second" : "repetition"}
                <input
                  aria-label={`Cramp, ${name(s)}`}
                  inputMode="numeric"
                  value={told[i].cramp}
                  placeholder="none"
                  onChange={(e) => change(i, { cramp: e.target.value })}
                  className="fig min-h-12 w-20 rounded-sq border border-line bg-ground text-center"
                />
              </label>
            </fieldset>
          ))}
          {hurting && (
            <p role="alert" className="mt-3 border-2 border-brick bg-brick-ground p-3">
              <strong className="text-brick">⬣ Above {limit}: end this exercise for today.</strong> Keep it; the warning
              signs open next.
            </p>
          )}
          <Scale label="Effort" value={rpe} onChange={setRpe} low="rest" high="all out" />
          <p className="mt-3 font-medium">Form that slipped</p>
          <div className="mt-1 flex flex-wrap gap-2">
            {x.faults.map((f) => (
              <Chip
                key={f}
                on={faults.includes(f)}
                onChange={(on) => setFaults(on ? [...faults, f] : faults.filter((y) => y !== f))}
              >
                {f}
              </Chip>
            ))}
          </div>
          <fieldset className="mt-4">
            <legend className="font-medium">Anything new or odd?</legend>
            <div className="mt-1 grid grid-cols-2 gap-2">
              <Button
                aria-pressed={odd === false}
                className={odd === false ? "border-2 border-ink" : ""}
                onClick={() => setOdd(false)}
              >
                No
              </Button>
              <Button
                aria-pressed={odd === true}
                className={odd ? "border-2 border-brick" : ""}
                onClick={() => setOdd(true)}
              >
                Yes
              </Button>
            </div>
          </fieldset>
          {wrong && (
            <p role="alert" className="mt-3 border-l-4 border-brick pl-3 text-brick">
              {wrong}
            </p>
          )}
          <Button kind="main" className="mt-4 min-h-14 w-full text-lg" onClick={keep}>
            Keep it
          </Button>
        </>
      )}
    </li>
  );
}

/** Counts a hold down, with sound and vibration at the end; stopping early keeps the time held. */
function Timer({ seconds, onDone }: { seconds: number; onDone: (held: number) => void }) {
  const [left, setLeft] = useState<number | null>(null);
  const end = useRef(0);
  const tell = useRef(onDone);
  useEffect(() => {
    tell.current = onDone;
  });
  const running = left !== null;
  useEffect(() => {
    if (!running) return;
    const t = setInterval(() => {
      const now = Math.max(0, Math.ceil((end.current - Date.now()) / 1000));
      setLeft(now);
      if (now > 0) return;
      clearInterval(t);
      setLeft(null);
      navigator.vibrate?.([200, 100, 200]);
      beep();
      tell.current(seconds);
    }, 200);
    return () => clearInterval(t);
  }, [running, seconds]);
  return (
    <button
      type="button"
      className={`mt-2 min-h-16 w-full rounded-sq border text-xl font-semibold ${running ? "border-tide bg-tide text-panel" : "border-line bg-ground"}`}
      onClick={() => {
        if (left === null) {
          end.current = Date.now() + seconds * 1000;
          setLeft(seconds);
          return;
        }
        setLeft(null);
        onDone(seconds - left);
      }}
    >
      {running ? (
        <>
          <span className="fig text-3xl">{left}</span> s · tap to stop
        </>
      ) : (
        `Time ${seconds} s`
      )}
    </button>
  );
}

function beep() {
  const audio = new AudioContext();
  const tone = audio.createOscillator();
  tone.frequency.value = 880;
  tone.connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.3);
  tone.onended = () => void audio.close();
}
