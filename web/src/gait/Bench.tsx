import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { rooms } from "../api/rooms";
import { Assist } from "./Assist";
import { Feet, Proposed, Transport } from "./Controls";
import { dotsOf, labelsOn, linesOf } from "./dots";
import { Hands, Head, Numbers, Say } from "./Head";
import type { Clip, Film, Point } from "./film";
import { useFollowed } from "./followed";
import { useKeeping } from "./keeping";
import { useKeyboard } from "./keyboard";
import { Keys } from "./Keys";
import { Lines } from "./Lines";
import { around, useMarks, type Kind, type Side } from "./marks";
import { Notes } from "./Setup";
import { Stage, usePlayer, whole, zoomed } from "./Stage";
import { Stills } from "./Stills";
import { Strip } from "./Strip";
import { useTool } from "./tool";

type Room = Schemas["Gait"];

/** One clip on the bench: step, mark, set points, read the numbers, keep them. */
export function Bench(p: {
  runner: string;
  film: Film;
  start: Clip;
  keptAs: string;
  room: Room;
  back: boolean; // the marks were found, not made now
  startOver: () => void;
  signs: React.ReactNode;
  close: () => void;
  onCompare: (clip: Clip, keeping: string) => void;
}) {
  const { film, room } = p;
  const kept = useKeeping(p.runner, film, room, p.keptAs);
  const { clip, past, send } = useMarks(p.runner, film, p.start, kept.keeping);
  const [view, setView] = useState(() => whole(film));
  const { canvas, player, frame } = usePlayer(film, view);
  const settled = useSettled(clip, 100);
  const reading = useQuery(rooms.reading(p.runner, settled));
  const go = (n: number) => player.current?.go(n);
  // The frame on the screen, also when the page has not yet heard of it.
  const onShow = () => player.current?.shown ?? frame;
  const followed = useFollowed(p.runner, film, clip, frame, go, send);
  const spots = room.spots[clip.view] ?? [];
  const spotName = (id: string) => spots.find((s) => s.id === id)?.name ?? id;
  const { tool, setTool, asked, point, open } = useTool(clip, send, spots, followed.labels, followed.setLabels);
  const still = clip.stills.find((s) => s.frame === frame) ?? null;
  const mark = (side: Side, kind: Kind) => send({ do: "mark", frame: onShow(), side, kind });
  const all = [...clip.marks, ...followed.proposals];
  const { stops, hop, speed, setSpeed, loop, setLoop } = usePlayback(film, clip, player, frame, all);
  const confirm = () => followed.current && followed.confirm(followed.current, onShow());
  const zoom = (by: number) => setView(zoomed(film, view, by, middle(view)));
  useKeyboard(
    {
      ArrowRight: (shift) => player.current?.step(shift ? 10 : 1),
      ArrowLeft: (shift) => player.current?.step(shift ? -10 : -1),
      ArrowUp: () => hop(-1),
      ArrowDown: () => hop(1),
      Home: () => go(0),
      End: () => go(film.frames - 1),
      a: () => mark("left", "touchdown"),
      s: () => mark("left", "toe_off"),
      k: () => mark("right", "touchdown"),
      l: () => mark("right", "toe_off"),
      u: () => send({ do: "undo" }),
      p: () => setSpeed(speed === null ? 1 : null),
      "+": () => zoom(1.5),
      "-": () => zoom(1 / 1.5),
      f: () => setView(whole(film)),
      c: () => point(middle(view), frame),
      Enter: followed.current ? confirm : undefined,
    },
    () => player.current?.rest(),
  );
  const { proposed, takeProposed } = followed.offer(still, asked, () => setTool({ is: "none" }));
  return (
    <>
      <Numbers clip={clip} film={film} reading={reading} />
      <Head {...p} clip={clip} kept={kept} sound={!reading.error} set={(part) => send({ do: "set", part })} />
      <Notes film={film} warnings={reading.data?.warnings ?? []} />
      <div className="mt-1 grid grid-cols-[minmax(0,1fr)_10.5rem] gap-3">
        <Stage
          film={film}
          canvas={canvas}
          frame={frame}
          view={view}
          onView={setView}
          onPoint={tool.is === "none" ? undefined : (at) => point(at, frame)}
          dots={
            still
              ? dotsOf(still, proposed, followed.tracks, spotName, send)
              : labelsOn(frame, followed.labels, followed.tracks)
          }
          selected={tool.is === "spot" ? tool.spot : undefined}
          lines={linesOf(clip)}
        >
          <Say tool={tool} spotName={spotName} />
        </Stage>
        <div className="space-y-1.5">
          <Feet marks={clip.marks} frame={frame} mark={mark} unmark={(m) => send({ do: "unmark", mark: m })} />
          <Hands
            undo={past.length ? () => send({ do: "undo" }) : undefined}
            zoom={zoom}
            fit={() => setView(whole(film))}
            startOver={p.back ? p.startOver : undefined}
          />
        </div>
      </div>
      <Strip
        film={film}
        frame={frame}
        marks={clip.marks}
        proposals={followed.proposals}
        current={followed.current}
        loop={loop}
        go={go}
      />
      <Transport
        frame={frame}
        last={film.frames - 1}
        hop={hop}
        step={(by) => player.current?.step(by)}
        speed={speed}
        onSpeed={setSpeed}
        looping={!!loop}
        onLoop={() => setLoop(loop ? null : around(stops, frame, film))}
      />
      {followed.current && (
        <Proposal followed={followed} it={followed.current} frame={frame} confirm={confirm} go={go} />
      )}
      <Stills
        clip={clip}
        frame={frame}
        suggestions={reading.data?.suggestions ?? none}
        ready={!!reading.data && settled === clip && !reading.isPlaceholderData}
        still={still}
        tool={tool.is === "spot" ? tool.spot : ""}
        spotName={spotName}
        asked={asked}
        open={(s) => {
          open(s);
          go(s.frame);
        }}
        pick={(id) => still && setTool({ is: "spot", still: still.id, spot: id })}
        keep={(on) => still && send({ do: "still", still: { ...still, keep: on } })}
        drop={() => still && send({ do: "drop", still: still.id })}
        proposed={proposed.length}
        takeProposed={takeProposed}
      />
      <Lines
        clip={clip}
        drawing={tool.is === "line" ? tool.of : ""}
        draw={(of) => setTool(of ? { is: "line", of, a: null } : { is: "none" })}
        set={(part) => send({ do: "set", part })}
      />
      <Assist
        clip={clip}
        labels={followed.labels}
        tool={tool.is === "label" ? tool : null}
        following={followed.following}
        error={followed.error}
        spotName={spotName}
        pick={(side, spot) => setTool({ is: "label", side, spot })}
        run={followed.run}
      />
      <Keys />
    </>
  );
}

/** Playing, at a share of the speed it was shot at, whole or round a stretch; and going from mark to mark. */
function usePlayback(
  film: Film,
  clip: Clip,
  player: ReturnType<typeof usePlayer>["player"],
  frame: number,
  marks: { frame: number }[],
) {
  const [loop, setLoop] = useState<[number, number] | null>(null);
  const [speed, setSpeed] = useState<number | null>(null);
  useEffect(() => {
    const on = player.current;
    if (speed === null || !on) return;
    const fps = film.playFps || 30;
    on.play((speed * (clip.captureFps || fps)) / fps, ...(loop ?? [0, film.frames - 1]));
    return () => on.pause();
  }, [speed, loop, film, player, clip.captureFps]);
  const stops = [...new Set(marks.map((m) => m.frame))].sort((a, b) => a - b);
  const hop = (by: number) => {
    const to = by > 0 ? stops.find((f) => f > frame) : stops.filter((f) => f < frame).pop();
    if (to !== undefined) player.current?.go(to);
  };
  return { stops, hop, speed, setSpeed, loop, setLoop };
}

const none: Schemas["GaitSuggestion"][] = [];
type Followed = ReturnType<typeof useFollowed>;

function Proposal({
  followed,
  it,
  frame,
  confirm,
  go,
}: {
  followed: Followed;
  it: NonNullable<Followed["current"]>;
  frame: number;
  confirm: () => void;
  go: (n: number) => void;
}) {
  return (
    <Proposed
      it={it}
      left={followed.proposals.length}
      frame={frame}
      confirm={confirm}
      leave={() => followed.leave(it)}
      back={() => go(it.frame)}
    />
  );
}

/** A value once it has stood still so many ms: a point that is being dragged asks for nothing. */
function useSettled<T>(v: T, ms: number): T {
  const [at, setAt] = useState(v);
  useEffect(() => {
    const t = setTimeout(() => setAt(v), ms);
    return () => clearTimeout(t);
  }, [v, ms]);
  return at;
}

const middle = (v: { x: number; y: number; w: number; h: number }): Point => ({ x: v.x + v.w / 2, y: v.y + v.h / 2 });
