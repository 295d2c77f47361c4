import { useCallback, useEffect, useRef, useState } from "react";
import { Button } from "../../ui/Button";
import { Note } from "../../ui/Note";
import { FullScreen } from "../FullScreen";
import { note, put, setNote, useKept, type Bundle } from "../kept";
import { Scale } from "../Scale";
import type { Item } from "../session";
import { report } from "./answers";
import { cueOf } from "./cues";
import { End } from "./End";
import { Ready } from "./Ready";
import { Settings } from "./Settings";
import { awake, give, usual, wake, type Signals } from "./signals";
import {
  back,
  cramped,
  hurts,
  leftBehind,
  next,
  now,
  over,
  pause,
  played,
  start,
  stopped,
  tick,
  tooMuch,
  worked,
  type Play,
} from "./play";
import { Skip, TooMuch } from "./Sheets";
import { Work } from "./Work";

/** A session as it is done: one exercise at a time, counted and timed, and one page of questions at its end. */
export function Player({
  first,
  bundle,
  items,
  locked,
  onClose,
  onEntered,
  onOdd,
}: {
  first: Play; // as it was left
  bundle: Bundle;
  items: readonly Item[]; // of today, after what was told since
  locked: boolean;
  onClose: () => void;
  onEntered: () => void;
  onOdd: () => void;
}) {
  const by = note<Signals>(useKept(), "signals") ?? usual;
  const { play, set, t } = usePlay(first, items);
  const [sheet, setSheet] = useState<"" | "skip" | "much" | "signals">("");
  const telling = useRef(false);
  useEffect(awake, []);
  useCues(play, t, by);
  const ending = play.phase === "end" || locked;
  const total = new Set(
    [...played(items, play.slot, play.short), ...play.done.map((d) => d.item)].map((i) => i.exercise.id),
  );
  const at = Math.min(play.done.length + 1, total.size);

  /** Pain during an exercise goes on its way at once; above its limit it ends the exercise for today. */
  async function hurt(p: Play, pain: number) {
    const told = telling.current ? null : hurts(p, pain, items, Date.now());
    if (!told) return;
    const { did, side, then } = told;
    telling.current = true; // a second touch tells nothing again
    setSheet("");
    set(then, false); // it is kept with the report, all of it or nothing
    await put(
      report(did, side, p.on, () => pain, null, []),
      { playing: then, [`done ${p.on} ${did.item.exercise.id}`]: "1" },
    );
    telling.current = false;
    onEntered();
    if (pain > did.item.asks) onOdd();
  }

  return (
    <FullScreen
      title={ending ? "The end" : `${at} of ${total.size}`}
      onClose={onClose}
      buttons={
        <>
          <Button kind="quiet" size="tight" onClick={() => setSheet(sheet === "signals" ? "" : "signals")}>
            Sound
          </Button>
          <Button
            kind="quiet"
            size="tight"
            onClick={() => {
              set(pause(play, Date.now()));
              onClose();
            }}
          >
            Put aside
          </Button>
        </>
      }
    >
      {sheet === "signals" && <Settings by={by} set={(s) => void setNote("signals", s)} />}
      {ending ? (
        <End
          bundle={bundle}
          play={play.phase === "end" ? play : leftBehind(play)}
          locked={locked}
          onKept={onClose}
          onEntered={onEntered}
          onOdd={onOdd}
        />
      ) : sheet === "skip" ? (
        <Skip
          item={play.item}
          skip={(why) => {
            set(over(play, items, Date.now(), why));
            setSheet("");
          }}
          hurts={() => {
            set(tooMuch(play, Date.now()));
            setSheet("much");
          }}
          cancel={() => setSheet("")}
        />
      ) : sheet === "much" && play.item ? (
        <TooMuch
          item={play.item}
          hurt={(pain) => void hurt(play, pain)}
          hard={() => {
            const tried = play.sides.some((s) => s.done.length > 0);
            set(over(play, items, Date.now(), tried ? "" : "hard"));
            setSheet("");
          }}
          cancel={() => setSheet("")}
        />
      ) : play.phase === "ask" ? (
        <Discomfort play={play} set={set} items={items} />
      ) : (
        <>
          {play.phase === "ready" ? <Ready play={play} /> : <Work play={play} t={t} by={by} />}
          <div className="sticky bottom-0 mt-auto bg-ground">
            <Controls
              play={play}
              start={() => {
                wake();
                set(start(play, Date.now()));
              }}
              pause={() => set(pause(play, Date.now()))}
              stop={() => set(stopped(play, items, Date.now()))}
              onwards={() => set(tick({ ...play, since: 0 }, items, Date.now(), true))}
              halves={() => set({ ...play, halves: !play.halves })}
            />
            <Beside
              back={() => set(back(play, Date.now()))}
              cramp={() => set(cramped(play, items, Date.now()))}
              skip={() => {
                set(pause(play, Date.now()));
                setSheet("skip");
              }}
              much={() => {
                set(tooMuch(play, Date.now()));
                setSheet("much");
              }}
              idle={play.phase === "ready" && play.before === 0}
              first={play.done.length === 0 && play.turn === 0}
            />
          </div>
        </>
      )}
    </FullScreen>
  );
}

/** What is played, and the time. It follows the clock ten times a second; what changes is kept at once, and drawn without
 * waiting for it. */
function usePlay(first: Play, items: readonly Item[]) {
  const [play, setPlay] = useState(first);
  const [t, setT] = useState(() => Date.now());
  const live = useRef({ play: first, items });
  useEffect(() => {
    live.current.items = items;
  });
  const set = useCallback((p: Play, keep = true) => {
    live.current.play = p;
    setPlay(p);
    if (keep) void setNote("playing", p);
  }, []);
  useEffect(() => {
    const go = () => {
      const { play: p, items: all } = live.current;
      const at = Date.now();
      setT(at);
      const seen = document.visibilityState === "visible";
      const then = !p.item && p.phase !== "end" ? next(p, all, at) : tick(p, all, at, seen);
      if (then !== p) set(then);
    };
    go();
    const timer = setInterval(go, 100);
    document.addEventListener("visibilitychange", go);
    return () => {
      clearInterval(timer);
      document.removeEventListener("visibilitychange", go);
    };
  }, [set]);
  return { play, set, t };
}

/** Gives each thing to be told once, as the clock comes to it. */
function useCues(play: Play, t: number, by: Signals) {
  const last = useRef("");
  useEffect(() => {
    const c = cueOf(play, t);
    if (!c || c.key === last.current) return;
    const fresh = last.current !== "";
    last.current = c.key;
    if (fresh && document.visibilityState === "visible") give(c, by);
  }, [play, t, by]);
}

function Controls({
  play,
  start,
  pause,
  stop,
  onwards,
  halves,
}: {
  play: Play;
  start: () => void;
  pause: () => void;
  stop: () => void;
  onwards: () => void;
  halves: () => void;
}) {
  const n = now(play);
  if (!n) return null;
  const going = play.phase === "work" || play.phase === "lead";
  return (
    <div className="space-y-2 pt-3">
      {n.course.breaks && play.phase === "ready" && n.dose.amount >= 20 && (
        <Button className="w-full" aria-pressed={play.halves} onClick={halves}>
          {play.halves ? "✓ " : ""}In two halves: {Math.ceil(n.dose.amount / 2)} + {Math.floor(n.dose.amount / 2)} s
        </Button>
      )}
      {going ? (
        <div className="grid grid-cols-2 gap-2">
          <Button size="big" className="px-2!" onClick={pause}>
            {n.course.breaks ? "Break" : "Pause"}
          </Button>
          <Button size="big" className="px-2!" onClick={stop}>
            That’s it
          </Button>
        </div>
      ) : play.phase === "rest" || play.phase === "break" ? (
        <Button size="big" className="w-full" onClick={onwards}>
          Go on now
        </Button>
      ) : (
        <div className={play.phase === "paused" ? "grid grid-cols-2 gap-2" : ""}>
          <Button kind="main" size="big" className="w-full" onClick={start}>
            {play.phase === "paused" ? "Go on" : "Start"}
          </Button>
          {play.phase === "paused" && worked(play, 0) > 0 && (
            <Button size="big" className="px-2!" onClick={stop}>
              That’s it
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

function Beside({
  back,
  cramp,
  skip,
  much,
  idle,
  first,
}: {
  back: () => void;
  cramp: () => void;
  skip: () => void;
  much: () => void;
  idle: boolean;
  first: boolean;
}) {
  return (
    <div className="grid grid-cols-4 gap-1.5 py-2">
      <Button size="tight" disabled={idle && first} className="disabled:opacity-40" onClick={back}>
        Back
      </Button>
      <Button size="tight" onClick={skip}>
        Skip
      </Button>
      <Button size="tight" disabled={idle} className="disabled:opacity-40" onClick={cramp}>
        Cramp
      </Button>
      <Button kind="stop" size="tight" className="leading-tight" onClick={much}>
        Too much
      </Button>
    </div>
  );
}

/** How release work felt, on its own scale: the tap is the way on. */
function Discomfort({ play, set, items }: { play: Play; set: (p: Play) => void; items: readonly Item[] }) {
  if (!play.item) return null;
  const open = play.sides.findIndex((s) => s.discomfort === null && s.done.some((d) => d > 0));
  const side = play.item.sides[open];
  if (!side) return null;
  const name = side.side === "both" ? "" : `, ${side.side}`;
  return (
    <>
      <h2 className="mt-3 text-2xl">{play.item.exercise.name}</h2>
      <Note kind="caution" className="mt-3">
        Not pain: how strong was the pressure? Below 5 is right; 8 and more is too much.
      </Note>
      <Scale
        label={`Discomfort${name}`}
        value={null}
        onChange={(n) => {
          const sides = play.sides.map((s, i) => (i === open ? { ...s, discomfort: n } : s));
          const p = { ...play, sides };
          const more = sides.some((s) => s.discomfort === null && s.done.some((d) => d > 0));
          set(more ? p : over(p, items, Date.now()));
        }}
        low="none"
        high="sharp, too much"
      />
      <Button kind="quiet" className="mt-3" onClick={() => set(over(play, items, Date.now()))}>
        I cannot say
      </Button>
    </>
  );
}
