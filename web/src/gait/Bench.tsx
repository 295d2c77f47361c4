import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useMemo, useState } from "react";
import { api, ask, newId, type Schemas } from "../api/client";
import { Context } from "../screen/Context";
import { Button, Check, Failure, Field, Pick, useDeed } from "../ui/basics";
import { Beside } from "../ui/reason";
import { Figures } from "./Figures";
import { Stage, usePlayer, whole, zoomed, type Dot } from "./Stage";
import { Strip, type Proposal } from "./Strip";
import type { Clip, Film, Point, Reading, Still } from "./film";
import { follow, placeOf, type Label, type Track } from "./follow";
import { newStill, useMarks, type Kind, type Side } from "./marks";
import { snapshots } from "./snapshots";

type Room = Schemas["Gait"];
type Suggestion = Schemas["GaitSuggestion"];

export const moments: Record<Still["at"], string> = {
  touchdown: "landing",
  mid_stance: "mid-stance",
  toe_off: "toe-off",
  mid_flight: "mid-flight",
};

/** What a press on the picture sets. */
type Tool =
  | { is: "none" }
  | { is: "spot"; still: string; spot: string }
  | { is: "line"; of: "scale" | "level" | "midline"; a: Point | null }
  | { is: "label"; side: Side; spot: string };

const none: Suggestion[] = [];
const lineNames = { scale: "Known length", level: "Level line", midline: "Middle of the belt" };
const rates = ["30", "60", "120", "240"];

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
  onCompare: (clip: Clip) => void;
}) {
  const [asking, setAsking] = useState(false);
  const [keeping, setKeeping] = useState(keptAs);
  const { clip, past, notice, send } = useMarks(runner, film, start, keeping);
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
  const [repeats, setRepeats] = useState(0);
  const queries = useQueryClient();
  const deed = useDeed();
  const assist = useDeed();

  const reading = useQuery({
    queryKey: ["clip", runner, clip],
    queryFn: () => ask(api.POST("/api/runners/{runner}/gait/read", { params: { path: { runner } }, body: clip })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 5000,
  });

  useEffect(() => {
    const stop = new AbortController();
    void repeated(film, stop.signal).then(setRepeats);
    return () => stop.abort();
  }, [film]);

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
    deed.run(async () => {
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
      const id = newId();
      const now = await ask(
        api.PUT("/api/runners/{runner}/screens/{screen}/clips/{clip}", {
          params: { path: { runner, screen: room.current, clip: id } },
          body: { clip, ...(keeping ? { replaces: keeping } : {}) },
        }),
      );
      setKeeping(id);
      queries.setQueryData(["gait", runner], now);
      await queries.invalidateQueries({
        predicate: (k) => !["gait", "clip", "reference", "films"].includes(String(k.queryKey[0])),
      });
    });
  const keptClip = room.clips.find((c) => c.id === keeping);
  const kept = keptClip && same(keptClip.clip, clip);

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
        <Failure error={reading.error} />
        <Figures reading={r as Reading | undefined} simulated={film.simulated} />
      </Beside>
      <div className="-mt-3 flex flex-wrap items-center gap-x-3 gap-y-1">
        <h1 className="min-w-0 flex-1 truncate text-2xl">{film.name}</h1>
        <Button onClick={() => onCompare(clip)}>Compare</Button>
        {room.current ? (
          <Button
            kind="main"
            disabled={deed.busy || kept || !!reading.error || (!clip.marks.length && !clip.stills.length)}
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
      {setup && <Setup clip={clip} film={film} room={room} set={(part) => send({ do: "set", part })} />}
      <Notes film={film} repeats={repeats} warnings={r?.warnings ?? []} notice={notice} />
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
          {(["left", "right"] as const).map((side) => (
            <div key={side} role="group" aria-label={`Mark the ${side} foot`}>
              <p className="text-sm font-semibold">{side === "left" ? "Left foot" : "Right foot"}</p>
              {(["touchdown", "toe_off"] as const).map((kind) => {
                const here = clip.marks.find((m) => m.frame === frame && m.side === side && m.kind === kind);
                return (
                  <button
                    key={kind}
                    type="button"
                    aria-pressed={!!here}
                    onClick={() => (here ? send({ do: "unmark", mark: here }) : mark(side, kind))}
                    className={`mb-1 flex min-h-11 w-full items-center justify-between rounded-sq border px-2 ${here ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
                  >
                    <span>
                      <span aria-hidden>{kind === "touchdown" ? "▼ " : "▲ "}</span>
                      {kind === "touchdown" ? "Touchdown" : "Toe-off"}
                    </span>
                    <kbd className="fig text-sm opacity-70">
                      {{ touchdown: { left: "a", right: "k" }, toe_off: { left: "s", right: "l" } }[kind][side]}
                    </kbd>
                  </button>
                );
              })}
            </div>
          ))}
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
      <div className="mt-1 flex flex-wrap items-center gap-1.5">
        <Button aria-label="Mark before" className="px-2.5!" onClick={() => hop(-1)}>
          ⇤
        </Button>
        <Button aria-label="−10 frames" className="px-2.5!" onClick={() => player.current?.step(-10)}>
          −10
        </Button>
        <Button aria-label="−1 frame" className="px-2.5!" onClick={() => player.current?.step(-1)}>
          −1
        </Button>
        <span className="fig min-w-28 text-center text-lg" data-at={frame}>
          {Math.max(0, frame)} / {film.frames - 1}
        </span>
        <Button aria-label="+1 frame" className="px-2.5!" onClick={() => player.current?.step(1)}>
          +1
        </Button>
        <Button aria-label="+10 frames" className="px-2.5!" onClick={() => player.current?.step(10)}>
          +10
        </Button>
        <Button aria-label="Next mark" className="px-2.5!" onClick={() => hop(1)}>
          ⇥
        </Button>
        <span className="ml-auto flex gap-1">
          {[1, 0.25, 0.05].map((x) => (
            <Button
              key={x}
              aria-pressed={speed === x}
              className="px-2.5!"
              onClick={() => setSpeed(speed === x ? null : x)}
            >
              {speed === x ? "■" : "▷"} {x === 1 ? "1×" : x === 0.25 ? "¼" : "1/20"}
              <span className="sr-only"> of real speed</span>
            </Button>
          ))}
          <Button
            aria-pressed={!!loop}
            className="px-2.5!"
            onClick={() => setLoop(loop ? null : around(stops, frame, film))}
          >
            {loop ? "Whole clip" : "Loop"}
          </Button>
        </span>
      </div>
      {current && (
        <section
          aria-label="Proposal"
          className="mt-2 flex flex-wrap items-center gap-3 border-l-4 border-cinder bg-panel px-4 py-2"
        >
          <p>
            <strong>
              Proposed: {current.side} {current.kind === "touchdown" ? "touchdown" : "toe-off"}, frame {current.frame}
            </strong>{" "}
            {!current.sure && <span className="text-ochre">the tape was out of sight near it</span>}
            <span className="block text-sm text-quiet">
              Look; step to the right frame if it is another. {proposals.length} left. Nothing counts before you confirm
              it.
            </span>
          </p>
          <Button kind="main" disabled={Math.abs(frame - current.frame) > 12} onClick={() => confirm(current)}>
            Confirm at {Math.max(0, frame)}
          </Button>
          <Button onClick={() => settle(current)}>Leave it out</Button>
          <Button kind="quiet" onClick={() => go(current.frame)}>
            Back to it
          </Button>
        </section>
      )}
      <Stills
        clip={clip}
        frame={frame}
        suggestions={r?.suggestions ?? none}
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
      <section aria-label="Lines" className="mt-3 flex flex-wrap items-end gap-2">
        {(["scale", "level", ...(clip.view === "rear" ? (["midline"] as const) : [])] as const).map((k) => (
          <Button
            key={k}
            aria-pressed={tool.is === "line" && tool.of === k}
            onClick={() =>
              setTool(tool.is === "line" && tool.of === k ? { is: "none" } : { is: "line", of: k, a: null })
            }
          >
            {clip[k] ? "✓ " : ""}
            {lineNames[k]}
          </Button>
        ))}
        {clip.scale && (
          <Field
            label="It is"
            unit="mm"
            className="w-36"
            inputMode="decimal"
            defaultValue={clip.scale.mm}
            onChange={(e) => {
              const mm = Number(e.target.value.replace(",", "."));
              if (mm > 0) send({ do: "set", part: { scale: { ...clip.scale!, mm } } });
            }}
          />
        )}
        <span className="text-sm text-quiet">
          A known length gives centimetres; the level line takes a tilted camera out.
        </span>
      </section>
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
    </>
  );
}

const middle = (v: { x: number; y: number; w: number; h: number }): Point => ({ x: v.x + v.w / 2, y: v.y + v.h / 2 });

const same = (a: Clip, b: Clip) => {
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
function around(stops: number[], frame: number, film: Film): [number, number] {
  const a = stops.filter((f) => f <= frame).pop();
  const b = stops.find((f) => f > frame);
  const second = Math.round(film.playFps || 30);
  return [Math.max(0, (a ?? frame - second) - 3), Math.min(film.frames - 1, (b ?? frame + second) + 3)];
}

/** The order tape is pointed at: both shoes first, for the events; then the side nearest the camera. */
function labelOrder(clip: Clip): { side: Side; spot: string }[] {
  const near: Side = clip.heading === "left" ? "left" : "right";
  const far: Side = near === "left" ? "right" : "left";
  return [
    ...["heel", "toe"].map((spot) => ({ side: near, spot })),
    ...["heel", "toe"].map((spot) => ({ side: far, spot })),
    ...["ankle", "knee", "hip", "shoulder", "ear"].map((spot) => ({ side: near, spot })),
  ];
}

/** How many of two dozen frames repeat the picture before them: a file converted from a lower rate. */
async function repeated(film: Film, signal: AbortSignal): Promise<number> {
  const from = Math.max(0, (film.frames >> 1) - 12);
  const frames = Array.from({ length: Math.min(24, film.frames - 1) }, (_, i) => from + i);
  const small = await snapshots(film, frames, { wide: 160, pixels: true, signal }).catch(
    () => new Map<number, string>(),
  );
  let n = 0;
  for (let i = 1; i < frames.length; i++) {
    const a = small.get(frames[i - 1]);
    const b = small.get(frames[i]);
    if (a !== undefined && a === b) n++;
  }
  return n;
}

function Notes({
  film,
  repeats,
  warnings,
  notice,
}: {
  film: Film;
  repeats: number;
  warnings: string[];
  notice: string;
}) {
  const notes = [
    ...(film.missing.length
      ? [`The file leaves out ${film.missing.length} of its ${film.frames} frames; they are crossed out on the rule.`]
      : []),
    ...(film.doubled ? [`${film.doubled} frames share their moment with another; one of each pair is shown.`] : []),
    ...(repeats >= 6
      ? [
          `${repeats} of 24 frames repeat the picture before them: the file was converted from a lower rate. State the rate it was really shot at.`,
        ]
      : []),
    ...(film.playFps
      ? []
      : ["The file does not say how fast it plays. State the rate it was shot at; frames are counted one by one."]),
    ...warnings,
  ];
  return (
    <>
      {notice && (
        <p role="alert" className="my-1 border-l-4 border-brick bg-brick-ground px-4 py-1.5">
          {notice}
        </p>
      )}
      {notes.map((n) => (
        <p key={n} className="my-1 border-l-4 border-ochre bg-panel px-4 py-1 text-sm">
          {n}
        </p>
      ))}
    </>
  );
}

function Setup({ clip, film, room, set }: { clip: Clip; film: Film; room: Room; set: (part: Partial<Clip>) => void }) {
  const [other, setOther] = useState(clip.captureFps > 0 && !rates.includes(String(clip.captureFps)));
  return (
    <section aria-label="How it was filmed" className="my-2 border border-line bg-panel px-4 py-3">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <div>
          <p className="text-[0.9rem] font-medium">Shot at, frames a second</p>
          <div className="mt-1 flex items-end gap-1">
            <Pick
              label="Shot at"
              value={other ? "other" : String(clip.captureFps)}
              options={[...rates.map((r) => ({ id: r, name: r })), { id: "other", name: "other" }]}
              onChange={(v) => {
                setOther(v === "other");
                if (v !== "other") set({ captureFps: Number(v) });
              }}
            />
            {other && (
              <input
                aria-label="Frames a second"
                inputMode="decimal"
                defaultValue={clip.captureFps || ""}
                onChange={(e) => set({ captureFps: Number(e.target.value.replace(",", ".")) || 0 })}
                className="fig min-h-11 w-24 rounded-sq border border-line bg-ground px-2"
              />
            )}
          </div>
        </div>
        <Pick
          label="View"
          value={clip.view}
          options={[
            { id: "side", name: "side" },
            { id: "rear", name: "from behind" },
          ]}
          onChange={(v) => set({ view: v as Clip["view"], stills: [] })}
        />
        {clip.view === "side" && (
          <Pick
            label="Faces"
            value={clip.heading}
            options={[
              { id: "left", name: "faces left" },
              { id: "right", name: "faces right" },
            ]}
            onChange={(v) => set({ heading: v as Clip["heading"] })}
          />
        )}
      </div>
      <p className="mt-2 text-sm text-quiet">
        The file plays {film.playFps || "at an unknown rate of"} frames a second. A slow-motion file was shot at more:
        {clip.captureFps > 0 && film.playFps > 0 && clip.captureFps !== film.playFps
          ? ` at ${clip.captureFps} it is slowed ${(clip.captureFps / film.playFps).toFixed(1)} times.`
          : " the camera's settings tell."}
      </p>
      <Context how={clip.context} onChange={(context) => set({ context })} last={room.contexts} />
    </section>
  );
}

function Stills({
  clip,
  frame,
  suggestions,
  still,
  tool,
  spotName,
  asked,
  open,
  pick,
  keep,
  drop,
  proposed,
  takeProposed,
}: {
  clip: Clip;
  frame: number;
  suggestions: Suggestion[];
  still: Still | null;
  tool: string;
  spotName: (id: string) => string;
  asked: (s: Still) => string[];
  open: (s: Suggestion) => void;
  pick: (id: string) => void;
  keep: (on: boolean) => void;
  drop: () => void;
  proposed: number;
  takeProposed: () => void;
}) {
  const [all, setAll] = useState(false);
  const list = useMemo(() => {
    // The first two of each kind and side first; more steps make the angles surer.
    const n: Record<string, number> = {};
    return suggestions.filter((s) => {
      const k = s.side + s.at;
      n[k] = (n[k] ?? 0) + 1;
      const mine = clip.stills.some((x) => x.frame === s.frame && x.side === s.side && x.at === s.at);
      return all || mine || n[k] <= 1;
    });
  }, [suggestions, clip.stills, all]);
  return (
    <section aria-label="Stills" className="mt-3">
      <h2 className="text-xl">Points on stills</h2>
      {!suggestions.length && (
        <p className="text-quiet">
          Mark a touchdown and its toe-off first: the stills worth measuring are then listed here.
        </p>
      )}
      {(["left", "right"] as const).map((side) => {
        const mine = list.filter((s) => s.side === side);
        if (!mine.length) return null;
        return (
          <div key={side} className="mt-1 flex flex-wrap items-center gap-1">
            <span className="w-12 text-sm text-quiet">{side}</span>
            {mine.map((s) => {
              const x = clip.stills.find((k) => k.frame === s.frame && k.side === s.side && k.at === s.at);
              const have = x ? s.points.filter((id) => x.points[id]).length : 0;
              return (
                <button
                  key={s.at + s.frame}
                  type="button"
                  aria-pressed={s.frame === frame}
                  onClick={() => open(s)}
                  className={`min-h-11 rounded-sq border px-2 text-[0.95rem] ${s.frame === frame ? "border-ink bg-ink text-panel" : "border-line bg-panel"}`}
                >
                  {have === s.points.length ? "✓ " : ""}
                  {moments[s.at]} <span className="fig text-sm">{s.frame}</span>{" "}
                  <span className="fig text-sm opacity-70">
                    {have}/{s.points.length}
                  </span>
                </button>
              );
            })}
          </div>
        );
      })}
      {list.length < suggestions.length && (
        <Button kind="quiet" className="px-0!" onClick={() => setAll(true)}>
          {suggestions.length - list.length} more stills: each makes the angles surer
        </Button>
      )}
      {still && (
        <div className="mt-2 flex flex-wrap items-center gap-1.5 border border-line bg-panel px-3 py-2">
          {asked(still).map((id) => (
            <button
              key={id}
              type="button"
              aria-pressed={tool === id}
              onClick={() => pick(id)}
              className={`min-h-11 rounded-sq border px-2 text-[0.95rem] ${tool === id ? "border-cinder bg-cinder text-on-cinder" : "border-line bg-ground"}`}
            >
              {still.points[id] ? "✓ " : ""}
              {spotName(id)}
            </button>
          ))}
          {proposed > 0 && (
            <Button kind="main" onClick={takeProposed}>
              Confirm {proposed} followed points
            </Button>
          )}
          <span className="ml-auto flex items-center gap-3">
            <Check checked={still.keep} onChange={keep}>
              keep this picture
            </Check>
            <Button kind="quiet" className="px-0!" onClick={drop}>
              Drop this still
            </Button>
          </span>
        </div>
      )}
    </section>
  );
}

function Assist({
  clip,
  labels,
  tool,
  following,
  error,
  spotName,
  pick,
  run,
}: {
  clip: Clip;
  labels: Label[];
  tool: { side: Side; spot: string } | null;
  following: { done: number; of: number; stop: AbortController } | null;
  error: unknown;
  spotName: (id: string) => string;
  pick: (side: Side, spot: string) => void;
  run: () => void;
}) {
  if (clip.view !== "side") return null;
  const order = labelOrder(clip);
  const has = (side: Side, spot: string) => labels.some((l) => l.side === side && l.spot === spot);
  const ready = (["left", "right"] as const).some((s) => has(s, "heel") && has(s, "toe"));
  return (
    <section aria-label="Follow the tape" className="mt-4">
      <h2 className="text-xl">Follow the tape</h2>
      <p className="text-sm text-quiet">
        Bright tape, low at the very back and the very tip of each shoe, a colour of its own for each piece. Point at
        each piece on one frame where all are seen; they are followed through the clip and marks are proposed. You
        confirm each.
      </p>
      <div className="mt-1 flex flex-wrap gap-1">
        {order.map(({ side, spot }) => (
          <button
            key={side + spot}
            type="button"
            aria-pressed={tool?.side === side && tool.spot === spot}
            onClick={() => pick(side, spot)}
            className={`min-h-11 rounded-sq border px-2 text-[0.95rem] ${tool?.side === side && tool.spot === spot ? "border-cinder bg-cinder text-on-cinder" : "border-line bg-panel"}`}
          >
            {has(side, spot) ? "✓ " : ""}
            {side} {spotName(spot)}
          </button>
        ))}
      </div>
      <Failure error={error} />
      {following ? (
        <p role="status" className="mt-2 flex items-center gap-3">
          <progress value={following.done} max={following.of} className="h-3 w-64 accent-cinder" />
          <span className="fig">
            {following.done} of {following.of} frames
          </span>
          <Button onClick={() => following.stop.abort()}>Stop</Button>
        </p>
      ) : (
        <Button className="mt-2" kind={ready ? "main" : "plain"} disabled={!ready} onClick={run}>
          Follow and propose marks
        </Button>
      )}
    </section>
  );
}

/** Clips are kept with a screen; here one is begun when none is open. */
function StartHere({ room, runner, ask: askSigns }: { room: Room; runner: string; ask: () => void }) {
  const deed = useDeed();
  const queries = useQueryClient();
  if (room.locked)
    return <p className="text-brick">A warning sign is open ({room.locked}): nothing is kept until it is cleared.</p>;
  if (!room.signsAsked)
    return (
      <Button kind="main" onClick={askSigns}>
        Ask the warning signs to keep it
      </Button>
    );
  return (
    <>
      <Button
        kind="main"
        disabled={deed.busy}
        onClick={() =>
          deed.run(async () => {
            await ask(
              api.PUT("/api/runners/{runner}/screens/{screen}", {
                params: { path: { runner, screen: newId() } },
                body: { kind: "gait", stations: [] },
              }),
            );
            await queries.invalidateQueries({
              predicate: (k) => !["clip", "reference", "films"].includes(String(k.queryKey[0])),
            });
          })
        }
      >
        Start a gait screen to keep it
      </Button>
      <Failure error={deed.error} />
    </>
  );
}
