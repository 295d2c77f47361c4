import { useState } from "react";
import type { Schemas } from "../api/client";
import { Problem } from "../api/problem";
import { shortIn } from "../ui/units";
import { Button } from "../ui/Button";
import { Failure } from "../ui/Notice";
import { Beside } from "../ui/reason";
import { Figures } from "./Figures";
import type { Clip, Film } from "./film";
import type { useKeeping } from "./keeping";
import { lineNames } from "./Lines";
import { Setup } from "./Setup";
import { StartHere } from "./StartHere";
import type { Tool } from "./tool";
import { Note } from "../ui/Note";

/** The numbers beside the picture, or what they wait for. */
export function Numbers({
  clip,
  film,
  reading,
}: {
  clip: Clip;
  film: Film;
  reading: { data?: Schemas["GaitReading"]; error: Error | null };
}) {
  return (
    <Beside>
      {clip.captureFps === 0 ? (
        <Note kind="caution" className="mb-3">
          Say at how many frames a second it was shot: the numbers wait for it.
        </Note>
      ) : (
        reading.error && (
          <Note role="alert" kind="stop" className="mb-3">
            {reading.error instanceof Problem
              ? (Object.values(reading.error.fields)[0] ?? reading.error.message)
              : "The numbers could not be read. Your marks are still here; try again."}
          </Note>
        )
      )}
      <Figures reading={reading.data} simulated={film.simulated} />
    </Beside>
  );
}

/** The clip's name, keeping it, and how it was shot. */
export function Head({
  runner,
  film,
  room,
  clip,
  kept,
  sound,
  signs,
  set,
  close,
  onCompare,
}: {
  runner: string;
  film: Film;
  room: Schemas["Gait"];
  clip: Clip;
  kept: ReturnType<typeof useKeeping>;
  sound: boolean; // its numbers could be read
  signs: React.ReactNode;
  set: (part: Partial<Clip>) => void;
  close: () => void;
  onCompare: (clip: Clip, keeping: string) => void;
}) {
  const [asking, setAsking] = useState(false);
  const [setup, setSetup] = useState(clip.captureFps === 0);
  const done = kept.kept(clip);
  const empty = !clip.marks.length && !clip.stills.length;
  return (
    <>
      <div className="-mt-3 flex flex-wrap items-center gap-x-3 gap-y-1">
        <h1 className="min-w-0 flex-1 truncate text-2xl">{film.name}</h1>
        <Button onClick={() => onCompare(clip, kept.keeping)}>Compare</Button>
        {room.current ? (
          <Button
            kind="main"
            disabled={kept.deed.busy || done || !clip.captureFps || !sound || empty}
            onClick={() => kept.keep(clip)}
          >
            {done ? "✓ Kept with today's screen" : kept.keeping ? "Keep the changes" : "Keep with today's screen"}
          </Button>
        ) : (
          <StartHere room={room} runner={runner} ask={() => setAsking(true)} />
        )}
        <Button onClick={close}>Close</Button>
      </div>
      <Failure error={kept.deed.error} />
      {asking && !room.signsAsked && signs}
      <p className="flex flex-wrap items-center gap-x-4">
        <Button kind="quiet" size="line" aria-expanded={setup} onClick={() => setSetup(!setup)}>
          {clip.view === "side" ? `side view, faces ${clip.heading}` : "from behind"} ·{" "}
          {clip.captureFps ? `shot at ${clip.captureFps}` : "shot at ?"}, plays at {film.playFps || "?"} ·{" "}
          {clip.context.pace}, {clip.context.shod}
          {clip.context.tired ? ", tired" : ""}
          {clip.context.speedKmh ? `, ${shortIn("km/h", clip.context.speedKmh)}` : ""}
        </Button>
      </p>
      {setup && <Setup clip={clip} film={film} room={room} set={set} done={() => setSetup(false)} />}
    </>
  );
}

/** What the next press on the picture sets. */
export function Say({ tool, spotName }: { tool: Tool; spotName: (id: string) => string }) {
  const say =
    tool.is === "spot"
      ? `Press on the ${spotName(tool.spot)}.`
      : tool.is === "line"
        ? tool.a
          ? "Press on its other end."
          : `${lineNames[tool.of]}: press on one end.`
        : tool.is === "label"
          ? `Press on the tape: ${tool.side} ${spotName(tool.spot)}.`
          : "";
  return (
    say && (
      <p role="status" className="absolute top-0 right-0 bg-cinder px-3 py-1 font-semibold text-on-cinder">
        {say}
      </p>
    )
  );
}

export function Hands({
  undo,
  zoom,
  fit,
  startOver,
}: {
  undo?: () => void;
  zoom: (by: number) => void;
  fit: () => void;
  startOver?: () => void;
}) {
  return (
    <>
      <Button size="apart" className="w-full" disabled={!undo} onClick={undo}>
        Undo <kbd className="fig text-sm opacity-70">u</kbd>
      </Button>
      <div className="grid grid-cols-3 gap-1">
        <Button size="cell" aria-label="+ zoom in" onClick={() => zoom(1.5)}>
          +
        </Button>
        <Button size="cell" aria-label="− zoom out" onClick={() => zoom(1 / 1.5)}>
          −
        </Button>
        <Button size="cell" aria-label="fit the picture" onClick={fit}>
          fit
        </Button>
      </div>
      {startOver && (
        <p role="status" className="text-sm text-quiet">
          Earlier marks are back.
          <Button kind="quiet" size="line" onClick={startOver}>
            Start over
          </Button>
        </p>
      )}
    </>
  );
}
