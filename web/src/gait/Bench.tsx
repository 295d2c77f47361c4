import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { Problem } from "../api/problem";
import { renew, rooms, stale } from "../api/rooms";
import { Button } from "../ui/Button";
import { useDeed } from "../ui/deed";
import { Failure } from "../ui/Notice";
import { Beside } from "../ui/reason";
import { Assist, labelOrder } from "./Assist";
import { Feet, Proposed, Transport } from "./Controls";
import { Figures } from "./Figures";
import { Notes, Setup } from "./Setup";
import { StartHere } from "./StartHere";
import { Keys } from "./Keys";
import { Lines, lineNames, type Line } from "./Lines";
import { Stage, usePlayer, whole, zoomed, type Dot } from "./Stage";
import { Stills, type Suggestion } from "./Stills";
import { Strip, type Proposal } from "./Strip";
import type { Clip, Film, Point, Still } from "./film";
import { follow, placeOf, type Label, type Track } from "./follow";
import { around, newStill, same, useMarks, type Kind, type Side } from "./marks";
import { snapshots } from "./snapshots";

type Room = Schemas["Gait"];

/** What a press on the picture sets. */
type Tool =
  | { is: "none" }
  | { is: "spot"; still: string; spot: string }
  | { is: "line"; of: Line; a: Point | null }
  | { is: "label"; side: Side; spot: string };

const none: Suggestion[] = [];

/** One clip on the bench: step, mark, set points, read the numbers, keep them. */
export function Bench({
  runner,
  film,
  start,
  keptAs,
  room,
  back,
  startOver,
  signs,
  close,
  onCompare,
}: {
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
  const [asking, setAsking] = useState(false);
  const [keeping, setKeeping] = useState(keptAs);
  const { clip, past, send } = useMarks(runner, film, start, keeping);
  const [view, setView] = useState(() => whole(film));
  const { canvas, player, frame } = usePlayer(film, view);
  const [tool, setTool] = useState<Tool>({ is: "none" });
  const [loop, setLoop] = useState<[number, number] | null>(null);
  const [speed, setSpeed] = useState<number | null>(null);
  const [setup, setSetup] = useState(start.captureFps === 0);
  const [labels, setLabels] = useState<Label[]>([]);
  const [tracks, setTracks] = useState<Track[]>([]);
  const [proposals, setProposals] = useState<Proposal[]>([]);
  const [following, setFollowing] = useState<{ done: number; of: number; stop: AbortController } | null>(null);
  const queries = useQueryClient();
  const deed = useDeed(stale.runner(runner, "gait"));
  const assist = useDeed();

  const settled = useSettled(clip, 100);
  const reading = useQuery(rooms.reading(runner, settled));

  const still = clip.stills.find((s) => s.frame === frame) ?? null;
  const current = proposals.find((p) => p.frame >= frame) ?? proposals[0] ?? null;
  const spots = room.spots[clip.view] ?? [];
  const spotName = (id: string) => spots.find((s) => s.id === id)?.name ?? id;
  const go = (n: number) => player.current?.go(n);

  // The frame on the screen, also when the page has not yet heard of it.
  const onShow = () => player.current?.shown ?? frame;
  const mark = (side: Side, kind: Kind) => send({ do: "mark", frame: onShow(), side, kind });
  const settle = (p: Proposal) => {
    setProposals(proposals.filter((x) => x !== p));
    const next = proposals.find((x) => x !== p && x.frame >= p.frame) ?? proposals.find((x) => x !== p);
    if (next) go(next.frame);
  };
  const confirm = (p: Proposal) => {
    send({ do: "mark", frame: onShow(), side: p.side, kind: p.kind, proposed: true });
    settle(p);
  };
  const stops = [...new Set([...clip.marks, ...proposals].map((m) => m.frame))].sort((a, b) => a - b);
  const hop = (by: number) => {
    const to = by > 0 ? stops.find((f) => f > frame) : stops.filter((f) => f < frame).pop();
    if (to !== undefined) go(to);
  };
  useEffect(() => {
    const p = player.current;
    if (speed === null || !p) return;
    const fps = film.playFps || 30;
    p.play((speed * (clip.captureFps || fps)) / fps, ...(loop ?? [0, film.frames - 1]));
    return () => p.pause();
  }, [speed, loop, film, player, clip.captureFps]);

  const openStill = (s: Suggestion) => {
    const there = clip.stills.find((x) => x.frame === s.frame && x.side === s.side && x.at === s.at);
    const mine = there ?? newStill(s.frame, s.side, s.at);
    if (!there) send({ do: "still", still: mine });
    const missing = s.points.find((id) => !mine.points[id]);
    setTool(missing ? { is: "spot", still: mine.id, spot: missing } : { is: "none" });
    go(s.frame);
  };
  const asked = (s: Still) => spots.filter((x) => x.at.includes(s.at)).map((x) => x.id);
  const next = (s: Still, after: string) => {
    const ids = asked(s);
    const rest = [...ids.slice(ids.indexOf(after) + 1), ...ids].find((id) => id !== after && !s.points[id]);
    setTool(rest ? { is: "spot", still: s.id, spot: rest } : { is: "none" });
  };
  const point = (p: Point) => {
    switch (tool.is) {
      case "spot": {
        const s = clip.stills.find((x) => x.id === tool.still);
        if (!s) return;
        send({ do: "point", still: s.id, spot: tool.spot, at: p });
        next(s, tool.spot);
        return;
      }
      case "line":
        if (!tool.a) return setTool({ ...tool, a: p });
        if (tool.of === "scale") send({ do: "set", part: { scale: { a: tool.a, b: p, mm: clip.scale?.mm ?? 1000 } } });
        else send({ do: "set", part: { [tool.of]: { a: tool.a, b: p } } });
        return setTool({ is: "none" });
      case "label": {
        const rest = labels.filter((l) => l.frame === frame && !(l.side === tool.side && l.spot === tool.spot));
        setLabels([...rest, { side: tool.side, spot: tool.spot, frame, at: p }]);
        const order = labelOrder(clip);
        const i = order.findIndex((o) => o.side === tool.side && o.spot === tool.spot);
        const to = order[i + 1];
        setTool(to ? { is: "label", ...to } : { is: "none" });
      }
    }
  };

  useLayoutEffect(() => {
    const keys = (e: KeyboardEvent) => {
      const el = e.target as HTMLElement;
      if (e.altKey || e.ctrlKey || e.metaKey || el.closest("input, select, textarea, [role=radio], [role=dialog]"))
        return;
      const press: Record<string, () => void> = {
        ArrowRight: () => player.current?.step(e.shiftKey ? 10 : 1),
        ArrowLeft: () => player.current?.step(e.shiftKey ? -10 : -1),
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
        "+": () => setView(zoomed(film, view, 1.5, middle(view))),
        "-": () => setView(zoomed(film, view, 1 / 1.5, middle(view))),
        f: () => setView(whole(film)),
        c: () => point(middle(view)),
      };
      if (current && !el.closest("button, a, [role=button]")) press.Enter = () => confirm(current);
      const f = press[e.key];
      if (!f) return;
      e.preventDefault();
      f();
    };
    const release = () => player.current?.rest();
    window.addEventListener("keydown", keys);
    window.addEventListener("keyup", release);
    return () => {
      window.removeEventListener("keydown", keys);
      window.removeEventListener("keyup", release);
    };
  });

  const run = () =>
    assist.run(async () => {
      const stop = new AbortController();
      setFollowing({ done: 0, of: film.frames, stop });
      try {
        const found = await follow(film, labels, (done, of) => setFollowing({ done, of, stop }), stop.signal);
        setTracks(found);
        const body = {
          clip: { ...clip, marks: [] },
          tracks: found.filter((t) => t.spot === "heel" || t.spot === "toe"),
        };
        const got = await ask(api.POST("/api/runners/{runner}/gait/propose", { params: { path: { runner } }, body }));
        const open = got.filter(
          (p) => !clip.marks.some((m) => m.side === p.side && m.kind === p.kind && Math.abs(m.frame - p.frame) <= 3),
        );
        setProposals(open);
        if (open[0]) go(open[0].frame);
      } catch (e) {
        if ((e as Error).name !== "AbortError") throw e;
      } finally {
        setFollowing(null);
      }
    });

  const proposed = still
    ? asked(still).filter((id) => !still.points[id] && placeOf(tracks, still.side, id, frame))
    : [];
  const takeProposed = () => {
    if (!still) return;
    for (const id of proposed)
      send({ do: "point", still: still.id, spot: id, at: placeOf(tracks, still.side, id, frame)! });
    setTool({ is: "none" });
  };

  const dots: Dot[] = still
    ? [
        ...Object.entries(still.points).map(([id, at]) => ({
          id,
          name: spotName(id),
          at,
          set: true,
          below: id.startsWith("heel"),
          move: (to: Point) => send({ do: "point", still: still.id, spot: id, at: to }),
        })),
        ...proposed.map((id) => ({
          id,
          name: spotName(id),
          at: placeOf(tracks, still.side, id, frame)!,
          set: false,
          below: id === "heel",
        })),
      ]
    : [];
  const labelDots = labels
    .map((l) => {
      const at = tracks.length ? placeOf(tracks, l.side, l.spot, frame) : l.frame === frame ? l.at : null;
      return at && !still
        ? { id: l.side + l.spot, name: `${l.side} ${l.spot}`, at, set: false, below: l.spot === "heel" }
        : null;
    })
    .filter((d) => d !== null);
  const lines = (["scale", "level", "midline"] as const).flatMap((k) => {
    const l = clip[k];
    return l ? [{ a: l.a, b: l.b, name: lineNames[k] }] : [];
  });

  const keep = () =>
    deed.run(async (write) => {
      const wanted = clip.stills.filter((s) => s.keep);
      const pictures = await snapshots(
        film,
        wanted.map((s) => s.frame),
      );
      for (const s of wanted)
        await ask(
          api.PUT("/api/runners/{runner}/stills/{still}", {
            params: { path: { runner, still: s.id } },
            body: { picture: pictures.get(s.frame)! },
          }),
        );
      const id = write({ clip, keeping });
      const now = await ask(
        api.PUT("/api/runners/{runner}/screens/{screen}/clips/{clip}", {
          params: { path: { runner, screen: room.current, clip: id } },
          body: { clip, ...(keeping ? { replaces: keeping } : {}) },
        }),
      );
      setKeeping(id);
      queries.setQueryData(rooms.marks(runner, id).queryKey, clip);
      await renew(queries, rooms.gait(runner), now);
    });
  const keptAt = room.clips.find((c) => c.id === keeping)?.id ?? "";
  const keptClip = useQuery({ ...rooms.marks(runner, keptAt), enabled: !!keptAt }).data;
  const kept = keptClip && same(keptClip, clip);

  const r = reading.data;
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
    <>
      <Beside>
        {clip.captureFps === 0 ? (
          <p className="mb-3 border-l-4 border-ochre bg-ground px-4 py-2">
            Say at how many frames a second it was shot: the numbers wait for it.
          </p>
        ) : (
          reading.error && (
            <p role="alert" className="mb-3 border-l-4 border-brick bg-brick-ground px-4 py-2">
              {reading.error instanceof Problem
                ? (Object.values(reading.error.fields)[0] ?? reading.error.message)
                : "The numbers could not be read. Your marks are still here; try again."}
            </p>
          )
        )}
        <Figures reading={r} simulated={film.simulated} />
      </Beside>
      <div className="-mt-3 flex flex-wrap items-center gap-x-3 gap-y-1">
        <h1 className="min-w-0 flex-1 truncate text-2xl">{film.name}</h1>
        <Button onClick={() => onCompare(clip, keeping)}>Compare</Button>
        {room.current ? (
          <Button
            kind="main"
            disabled={
              deed.busy || kept || !clip.captureFps || !!reading.error || (!clip.marks.length && !clip.stills.length)
            }
            onClick={keep}
          >
            {kept ? "✓ Kept with today's screen" : keeping ? "Keep the changes" : "Keep with today's screen"}
          </Button>
        ) : (
          <StartHere room={room} runner={runner} ask={() => setAsking(true)} />
        )}
        <Button onClick={close}>Close</Button>
      </div>
      <Failure error={deed.error} />
      {asking && !room.signsAsked && signs}
      <p className="flex flex-wrap items-center gap-x-4">
        <Button kind="quiet" className="px-0! py-0!" aria-expanded={setup} onClick={() => setSetup(!setup)}>
          {clip.view === "side" ? `side view, faces ${clip.heading}` : "from behind"} ·{" "}
          {clip.captureFps ? `shot at ${clip.captureFps}` : "shot at ?"}, plays at {film.playFps || "?"} ·{" "}
          {clip.context.pace}, {clip.context.shod}
          {clip.context.tired ? ", tired" : ""}
          {clip.context.speedKmh ? `, ${clip.context.speedKmh} km/h` : ""}
        </Button>
      </p>
      {setup && (
        <Setup
          clip={clip}
          film={film}
          room={room}
          set={(part) => send({ do: "set", part })}
          done={() => setSetup(false)}
        />
      )}
      <Notes film={film} warnings={r?.warnings ?? []} />
      <div className="mt-1 grid grid-cols-[minmax(0,1fr)_10.5rem] gap-3">
        <Stage
          film={film}
          canvas={canvas}
          frame={frame}
          view={view}
          onView={setView}
          onPoint={tool.is === "none" ? undefined : point}
          dots={[...dots, ...labelDots]}
          selected={tool.is === "spot" ? tool.spot : undefined}
          lines={lines}
        >
          {say && (
            <p role="status" className="absolute top-0 right-0 bg-cinder px-3 py-1 font-semibold text-on-cinder">
              {say}
            </p>
          )}
        </Stage>
        <div className="space-y-1.5">
          <Feet marks={clip.marks} frame={frame} mark={mark} unmark={(m) => send({ do: "unmark", mark: m })} />
          <Button
            className="w-full justify-between! px-2!"
            disabled={!past.length}
            onClick={() => send({ do: "undo" })}
          >
            Undo <kbd className="fig text-sm opacity-70">u</kbd>
          </Button>
          <div className="grid grid-cols-3 gap-1">
            <Button
              className="px-0!"
              aria-label="+ zoom in"
              onClick={() => setView(zoomed(film, view, 1.5, middle(view)))}
            >
              +
            </Button>
            <Button
              className="px-0!"
              aria-label="− zoom out"
              onClick={() => setView(zoomed(film, view, 1 / 1.5, middle(view)))}
            >
              −
            </Button>
            <Button className="px-0!" aria-label="fit the picture" onClick={() => setView(whole(film))}>
              fit
            </Button>
          </div>
          {back && (
            <p role="status" className="text-sm text-quiet">
              Earlier marks are back.
              <Button kind="quiet" className="block px-0! py-0!" onClick={startOver}>
                Start over
              </Button>
            </p>
          )}
        </div>
      </div>
      <Strip film={film} frame={frame} marks={clip.marks} proposals={proposals} current={current} loop={loop} go={go} />
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
      {current && (
        <Proposed
          it={current}
          left={proposals.length}
          frame={frame}
          confirm={() => confirm(current)}
          leave={() => settle(current)}
          back={() => go(current.frame)}
        />
      )}
      <Stills
        clip={clip}
        frame={frame}
        suggestions={r?.suggestions ?? none}
        ready={!!r && settled === clip && !reading.isPlaceholderData}
        still={still}
        tool={tool.is === "spot" ? tool.spot : ""}
        spotName={spotName}
        asked={asked}
        open={openStill}
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
        labels={labels}
        tool={tool.is === "label" ? tool : null}
        following={following}
        error={assist.error}
        spotName={spotName}
        pick={(side, spot) => setTool({ is: "label", side, spot })}
        run={run}
      />
      <Keys />
    </>
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
