import { useState } from "react";
import { Button } from "../ui/Button";
import { Chip } from "../ui/Chip";
import { How } from "./How";
import { kept, put } from "./kept";
import { Scale } from "./Scale";
import {
  asks,
  blank,
  doseOf,
  hurting,
  logsOf,
  missing,
  perDay,
  sets,
  sideName,
  type Item,
  type Side,
  type Told,
  type Typed,
} from "./session";
import { Timer } from "./Timer";
import { Note } from "../ui/Note";

/** How it is done, then what was done on each side, effort, pain, cramp and form. onKept says whether the warning signs are to be asked. */
export function Entry({
  item,
  short,
  today,
  onKept,
}: {
  item: Item;
  short: boolean;
  today: string;
  onKept: (odd: boolean) => void;
}) {
  const [t, setT] = useState<Typed>(() => blank(item));
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const set = (part: Partial<Typed>) => setT((old) => ({ ...old, ...part }));
  const tell = (i: number, part: (x: Told) => Partial<Told>) =>
    setT((old) => ({ ...old, told: old.told.map((x, j) => (j === i ? { ...x, ...part(x) } : x)) }));
  async function keep() {
    const why = missing(item, t, kept().bundle?.mostOfASet ?? 0);
    setWrong(why);
    if (why || busy) return;
    setBusy(true);
    await put(logsOf(item, t, today, short), { [`done ${today} ${item.exercise.id}`]: "1" });
    onKept(t.odd === true || asks(item, t));
  }
  const rounds = perDay(item);
  return (
    <>
      <How item={item} />
      {rounds > 1 && (
        <p className="mt-3 flex flex-wrap items-center gap-2">
          Rounds today
          {Array.from({ length: rounds }, (_, n) => n + 1).map((n) => (
            <Button
              key={n}
              aria-pressed={t.times === n}
              aria-label={`${n} of ${rounds} rounds`}
              onClick={() => set({ times: n })}
            >
              {n}
            </Button>
          ))}
        </p>
      )}
      {item.sides.map((s, i) => {
        const told = t.told[i];
        return (
          told && <SideEntry key={s.side} item={item} side={s} short={short} told={told} tell={(f) => tell(i, f)} />
        );
      })}
      {hurting(item, t) && (
        <p role="alert" className="mt-3 border-2 border-brick bg-brick-ground p-3">
          <strong className="text-brick">⬣ Above {item.ends}: end this exercise for today.</strong>{" "}
          {asks(item, t) ? "Keep it; the warning signs open next." : "Keep it."}
        </p>
      )}
      <Scale label="Effort" value={t.rpe} onChange={(rpe) => set({ rpe })} low="rest" high="all out" />
      <p className="mt-3 font-medium">Form that slipped</p>
      <div className="mt-1 flex flex-wrap gap-2">
        {item.exercise.faults.map((f) => (
          <Chip
            key={f}
            on={t.faults.includes(f)}
            onChange={(on) => set({ faults: on ? [...t.faults, f] : t.faults.filter((y) => y !== f) })}
          >
            {f}
          </Chip>
        ))}
      </div>
      <Odd odd={t.odd} set={(odd) => set({ odd })} />
      {wrong && (
        <Note role="alert" kind="stop within" className="mt-3 text-brick">
          {wrong}
        </Note>
      )}
      <Button kind="main" className="mt-4 min-h-14 w-full text-lg" onClick={() => void keep()}>
        Keep it
      </Button>
    </>
  );
}

function SideEntry({
  item,
  side: s,
  short,
  told,
  tell,
}: {
  item: Item;
  side: Side;
  short: boolean;
  told: Told;
  tell: (f: (x: Told) => Partial<Told>) => void;
}) {
  const dose = doseOf(s, short);
  const name = sideName(item, s);
  const shown = sets(told, dose.sets);
  const enter = (k: number, v: string) =>
    tell((x) => ({ done: sets(x, dose.sets).map((was, i) => (i === k ? v : was)) }));
  return (
    <fieldset className="mt-4 border-t border-line pt-3">
      <legend className="float-left w-full text-lg font-semibold capitalize">{name}</legend>
      <div className="clear-both flex flex-wrap items-center gap-2">
        {shown.map((n, k) => (
          <input
            key={k}
            aria-label={`${name}, set ${k + 1}, ${dose.unit}`}
            inputMode="numeric"
            value={n}
            placeholder={String(dose.amount)}
            onChange={(e) => enter(k, e.target.value)}
            className="fig min-h-12 w-16 rounded-sq border border-line bg-ground text-center text-xl"
          />
        ))}
        <Button onClick={() => tell(() => ({ done: Array.from({ length: dose.sets }, () => String(dose.amount)) }))}>
          as planned
        </Button>
      </div>
      {dose.timed && (
        <Timer
          seconds={dose.amount}
          onDone={(held) => {
            const k = shown.findIndex((n) => n === "");
            if (k >= 0) enter(k, String(held));
          }}
        />
      )}
      <Scale
        label={`${item.release ? "Discomfort" : "Pain"}, ${name}`}
        value={told.pain}
        onChange={(pain) => tell(() => ({ pain }))}
        low="none"
        high={item.release ? "sharp, too much" : "worst"}
      />
      <label className="mt-2 flex items-center gap-3">
        Cramp at {dose.timed ? "second" : "repetition"}
        <input
          aria-label={`Cramp, ${name}`}
          inputMode="numeric"
          value={told.cramp}
          placeholder="none"
          onChange={(e) => tell(() => ({ cramp: e.target.value }))}
          className="fig min-h-12 w-20 rounded-sq border border-line bg-ground text-center"
        />
      </label>
    </fieldset>
  );
}

function Odd({ odd, set }: { odd: boolean | null; set: (odd: boolean) => void }) {
  return (
    <fieldset className="mt-4">
      <legend className="font-medium">Anything new or odd?</legend>
      <div className="mt-1 grid grid-cols-2 gap-2">
        <Button aria-pressed={odd === false} onClick={() => set(false)}>
          No
        </Button>
        <Button aria-pressed={odd === true} className={odd ? "border-2 border-brick" : ""} onClick={() => set(true)}>
          Yes
        </Button>
      </div>
    </fieldset>
  );
}
