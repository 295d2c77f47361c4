import { useCallback, useEffect, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import { arrows } from "../ui/arrows";
import { Player, type Film, type Point } from "./film";

export interface View {
  x: number;
  y: number;
  w: number;
  h: number;
}

export interface Dot {
  id: string;
  name: string;
  at: Point;
  set: boolean; // false: proposed
  below?: boolean; // its name stands below and before it, clear of its neighbours'
  move?: (to: Point) => void;
}

export const whole = (film: Film): View => ({ x: 0, y: 0, w: film.width, h: film.height });

/** Zooms a view about a point of the picture, kept inside it. */
export function zoomed(film: Film, v: View, by: number, about: Point): View {
  const w = Math.max(film.width / 12, Math.min(film.width, v.w / by));
  const h = (w * film.height) / film.width;
  const clamp = (lo: number, hi: number) => Math.max(0, Math.min(hi, lo));
  return {
    x: clamp(about.x - ((about.x - v.x) * w) / v.w, film.width - w),
    y: clamp(about.y - ((about.y - v.y) * h) / v.h, film.height - h),
    w,
    h,
  };
}

/** A player that draws into a canvas; frame is the one on show. */
export function usePlayer(film: Film, view: View, start = 0) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const player = useRef<Player | null>(null);
  const sight = useRef(view);
  const [frame, setFrame] = useState(-1);
  const paint = useCallback(() => {
    const c = canvas.current;
    const v = sight.current;
    if (c && player.current)
      c.getContext("2d")!.drawImage(player.current.video, v.x, v.y, v.w, v.h, 0, 0, c.width, c.height);
  }, []);
  useEffect(() => {
    sight.current = view;
    paint();
  }, [view, paint]);
  useEffect(() => {
    const p = new Player(film, (_, n) => {
      paint();
      setFrame(n);
    });
    player.current = p;
    p.go(start);
    return () => {
      p.close();
      player.current = null;
    };
    // A new film is a new player; where it starts matters once.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [film, paint]);
  return { canvas, player, frame };
}

/** One frame with what is drawn on it. Pointing at it gives the place in pixels of the picture. */
export function Stage({
  film,
  canvas,
  frame,
  view,
  onView,
  onPoint,
  dots = [],
  selected,
  lines = [],
  children,
}: {
  film: Film;
  canvas: React.RefObject<HTMLCanvasElement | null>;
  frame: number;
  view: View;
  onView?: (v: View) => void;
  onPoint?: (p: Point) => void;
  dots?: Dot[];
  selected?: string;
  lines?: { a: Point; b: Point; name: string }[];
  children?: ReactNode;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{ from: Point; view: View; moved: boolean; dot?: Dot } | null>(null);
  const place = (e: { clientX: number; clientY: number }): Point => {
    const r = svg.current!.getBoundingClientRect();
    return {
      x: view.x + ((e.clientX - r.left) / r.width) * view.w,
      y: view.y + ((e.clientY - r.top) / r.height) * view.h,
    };
  };
  const down = (e: PointerEvent, dot?: Dot) => {
    e.stopPropagation();
    svg.current!.setPointerCapture(e.pointerId);
    drag.current = { from: place(e), view, moved: false, dot };
  };
  const moveOn = (e: PointerEvent) => {
    const d = drag.current;
    if (!d) return;
    const r = svg.current!.getBoundingClientRect();
    const p = place(e);
    if (Math.hypot(p.x - d.from.x, p.y - d.from.y) > (4 * view.w) / r.width) d.moved = true;
    if (!d.moved) return;
    if (d.dot?.move) d.dot.move(p);
    else if (onView && view.w < film.width)
      onView(
        zoomed(film, { ...d.view, x: view.x - (p.x - d.from.x), y: view.y - (p.y - d.from.y) }, 1, {
          x: view.x,
          y: view.y,
        }),
      );
  };
  const up = (e: PointerEvent) => {
    const d = drag.current;
    drag.current = null;
    if (d && !d.moved && !d.dot) onPoint?.(place(e));
  };
  useEffect(() => {
    const el = svg.current;
    if (!el || !onView) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      onView(zoomed(film, view, e.deltaY < 0 ? 1.25 : 0.8, place(e)));
    };
    el.addEventListener("wheel", wheel, { passive: false });
    return () => el.removeEventListener("wheel", wheel);
  });
  const nudge = (e: KeyboardEvent, dot: Dot) => {
    const by = arrows[e.key];
    if (!by || !dot.move) return;
    e.preventDefault();
    e.stopPropagation();
    const k = e.shiftKey ? 0.25 : 1;
    dot.move({ x: dot.at.x + k * by.x, y: dot.at.y + k * by.y });
  };
  const unit = view.w / 100; // a hundredth of what is seen, so that marks keep their size
  const wide = Math.min(film.width, 1280);
  return (
    <div className="relative self-start border border-ink bg-ink">
      <canvas
        ref={canvas}
        width={wide}
        height={Math.round((wide * film.height) / film.width)}
        role="img"
        aria-label={`Frame ${frame} of ${film.frames - 1}, ${film.name}`}
        data-frame={frame}
        className="block w-full"
      />
      <svg
        ref={svg}
        viewBox={`${view.x} ${view.y} ${view.w} ${view.h}`}
        preserveAspectRatio="none"
        className={`absolute inset-0 size-full touch-none ${onPoint ? "cursor-crosshair" : ""}`}
        onPointerDown={(e) => down(e)}
        onPointerMove={moveOn}
        onPointerUp={up}
        aria-label="Picture"
      >
        <Drawn lines={lines} unit={unit} />
        {dots.map((d) => (
          <g
            key={d.id}
            tabIndex={d.move ? 0 : undefined}
            role={d.move ? "button" : undefined}
            aria-label={`${d.name}${d.set ? "" : ", proposed"}`}
            onPointerDown={(e) => d.move && down(e, d)}
            onKeyDown={(e) => nudge(e, d)}
            className={d.move ? "cursor-move" : ""}
          >
            <circle cx={d.at.x} cy={d.at.y} r={unit * 2.4} fill="transparent" />
            <path
              d={`M${d.at.x - unit * 1.6} ${d.at.y}h${unit * 3.2}M${d.at.x} ${d.at.y - unit * 1.6}v${unit * 3.2}`}
              stroke="var(--film-ink)"
              strokeWidth={unit * 0.7}
            />
            <path
              d={`M${d.at.x - unit * 1.6} ${d.at.y}h${unit * 3.2}M${d.at.x} ${d.at.y - unit * 1.6}v${unit * 3.2}`}
              stroke={d.set ? "var(--film-cinder)" : "var(--film-chalk)"}
              strokeWidth={unit * 0.3}
              strokeDasharray={d.set ? undefined : `${unit * 0.5} ${unit * 0.4}`}
            />
            <text
              x={d.at.x + (d.below ? -unit : unit) * 1.8}
              y={d.at.y + unit * (d.below ? 3 : -1.2)}
              textAnchor={d.below ? "end" : "start"}
              fontSize={unit * 2.3}
              fontWeight={d.id === selected ? 700 : 500}
              fill="var(--film-chalk)"
              stroke="var(--film-ink)"
              strokeWidth={unit * 0.5}
              paintOrder="stroke"
              fontFamily="var(--font-sans)"
            >
              {d.name}
            </text>
          </g>
        ))}
      </svg>
      {children}
    </div>
  );
}

/** Lines of the picture, dashed in chalk on ink, so that they show on any ground. */
function Drawn({ lines, unit }: { lines: { a: Point; b: Point; name: string }[]; unit: number }) {
  return lines.map((l) => {
    const d = `M${l.a.x} ${l.a.y}L${l.b.x} ${l.b.y}`;
    return (
      <g key={l.name} strokeWidth={unit * 0.4}>
        <path d={d} stroke="var(--film-ink)" strokeWidth={unit * 0.8} />
        <path d={d} stroke="var(--film-chalk)" strokeDasharray={`${unit} ${unit}`} />
      </g>
    );
  });
}
