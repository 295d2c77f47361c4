import type { QueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useReducer } from "react";
import { newId } from "../api/id";
import { rooms } from "../api/rooms";
import type { Clip, Film, Mark, Point, Still } from "./film";

export type Side = Mark["side"];
export type Kind = Mark["kind"];

export interface Kept {
  clip: Clip;
  past: Clip[];
  moving: string; // the point that the last change set; moved on, it stays one change to undo
}

export type Change =
  | { do: "set"; part: Partial<Clip> }
  | { do: "mark"; frame: number; side: Side; kind: Kind; proposed?: boolean }
  | { do: "unmark"; mark: Mark }
  | { do: "still"; still: Still }
  | { do: "point"; still: string; spot: string; at: Point | null }
  | { do: "drop"; still: string }
  | { do: "undo" };

const sorted = (marks: Mark[]) => [...marks].sort((a, b) => a.frame - b.frame);

function changed(clip: Clip, c: Change): Clip {
  switch (c.do) {
    case "set":
      return { ...clip, ...c.part };
    case "mark": {
      // A foot has one mark on a frame; marking it again with the other kind changes it.
      const rest = clip.marks.filter((m) => !(m.side === c.side && m.frame === c.frame));
      const mark: Mark = { frame: c.frame, side: c.side, kind: c.kind, ...(c.proposed ? { proposed: true } : {}) };
      return { ...clip, marks: sorted([...rest, mark]) };
    }
    case "unmark":
      return { ...clip, marks: clip.marks.filter((m) => m !== c.mark) };
    case "still":
      return { ...clip, stills: [...clip.stills.filter((s) => s.id !== c.still.id), c.still] };
    case "point":
      return {
        ...clip,
        stills: clip.stills.map((s) => {
          if (s.id !== c.still) return s;
          const points = { ...s.points };
          if (c.at) points[c.spot] = c.at;
          else delete points[c.spot];
          return { ...s, points };
        }),
      };
    case "drop":
      return { ...clip, stills: clip.stills.filter((s) => s.id !== c.still) };
    case "undo":
      return clip;
  }
}

export const begun = (clip: Clip): Kept => ({ clip, past: [], moving: "" });

/** A change, or the last one undone. A point that is dragged is one change. */
export function next(s: Kept, c: Change): Kept {
  if (c.do === "undo") {
    const clip = s.past[s.past.length - 1];
    return clip ? { clip, past: s.past.slice(0, -1), moving: "" } : s;
  }
  const clip = changed(s.clip, c);
  const moving = c.do === "point" && c.at ? `${c.still} ${c.spot}` : "";
  const past = moving && moving === s.moving ? s.past : [...s.past.slice(-200), s.clip];
  return { clip, past, moving };
}

export function fresh(film: Film, context: Clip["context"]): Clip {
  const s = film.simulated;
  return {
    name: film.name,
    view: s?.view ?? "side",
    heading: s?.heading ?? "right",
    captureFps: s?.captureFps ?? 0,
    playFps: film.playFps,
    frames: film.frames,
    missing: film.missing,
    width: film.width,
    height: film.height,
    marks: [],
    stills: [],
    context: s ? { pace: "easy", shod: s.shod, tired: s.tired, surface: "treadmill", speedKmh: s.speedKmh } : context,
  };
}

function draftKey(runner: string, film: Film) {
  return `gait ${runner} ${film.name} ${film.size}`;
}

/** What was marked before on the same file of the same runner, on this device. */
export function draft(runner: string, film: Film): { clip: Clip; keeping: string } | null {
  try {
    const d = JSON.parse(localStorage.getItem(draftKey(runner, film)) ?? "null") as {
      clip: Clip;
      keeping: string;
    } | null;
    return d && d.clip.frames === film.frames ? d : null;
  } catch {
    return null;
  }
}

export const marksOf = (queries: QueryClient, runner: string, clip: string) =>
  queries.fetchQuery(rooms.marks(runner, clip));

/** The marks of a clip with undo; every change is kept on this device at once. keeping is the id the
 * clip was last kept under. */
export function useMarks(runner: string, film: Film, start: Clip, keptAs: string) {
  const [state, send] = useReducer(next, begun(start));
  const { clip } = state;
  const save = useCallback(
    (keeping: string) => {
      try {
        localStorage.setItem(draftKey(runner, film), JSON.stringify({ clip, keeping }));
      } catch {
        // A full store loses no more than the draft: what is kept with the screen is on the server.
      }
    },
    [runner, film, clip],
  );
  useEffect(() => save(keptAs), [save, keptAs]);
  return { ...state, send };
}

export function newStill(frame: number, side: Side, at: Still["at"]): Still {
  return { id: newId(), frame, side, at, points: {}, keep: false };
}

/** Whether two clips are marked alike; what a reading says of them is left out. */
export const same = (a: Clip, b: Clip) => {
  const bare = (c: Clip) =>
    JSON.stringify([
      c.view,
      c.heading,
      c.captureFps,
      c.marks.map((m) => [m.frame, m.side, m.kind]),
      c.stills.map((s) => [s.id, s.keep, s.frame, Object.entries(s.points).sort()]),
      c.scale?.mm,
      c.scale?.a,
      c.scale?.b,
      c.level?.a,
      c.level?.b,
      c.midline?.a,
      Object.entries(c.context).sort(),
    ]);
  return bare(a) === bare(b);
};

/** The marks around a frame, or a second of the clip. */
export function around(stops: number[], frame: number, film: Film): [number, number] {
  const a = stops.filter((f) => f <= frame).pop();
  const b = stops.find((f) => f > frame);
  const second = Math.round(film.playFps || 30);
  return [Math.max(0, (a ?? frame - second) - 3), Math.min(film.frames - 1, (b ?? frame + second) + 3)];
}
