import type { PointerEvent } from "react";
import type { Film, Mark } from "./film";

export interface Proposal extends Mark {
  sure: boolean;
}

/** Contacts of one foot: from each touchdown to its toe-off; open ones to the next mark or the end. */
function contacts(marks: Mark[], side: string, end: number) {
  const mine = marks.filter((m) => m.side === side);
  return mine
    .map((m, i) => ({ m, next: mine[i + 1] }))
    .filter(({ m }) => m.kind === "touchdown")
    .map(({ m, next }) => ({
      from: m.frame,
      to: next?.kind === "toe_off" ? next.frame : null,
      end: next?.frame ?? end,
    }));
}

const word = { touchdown: "touchdown", toe_off: "toe-off" };

/** The clip as a rule: above, the whole of it; below, every frame around the one on show. Left marks hang
 * on the upper edge, right ones on the lower. Drag on it to scrub. */
export function Strip({
  film,
  frame,
  marks,
  proposals,
  current,
  loop,
  go,
}: {
  film: Film;
  frame: number;
  marks: Mark[];
  proposals: Proposal[];
  current: Proposal | null;
  loop: [number, number] | null;
  go: (frame: number) => void;
}) {
  const W = 1000;
  const x = (f: number) => (f / Math.max(1, film.frames - 1)) * W;
  const span = 60;
  const from = Math.max(0, Math.min(film.frames - 1 - span, frame - span / 2));
  const cell = W / (span + 1);
  const near = (f: number) => (f - from) * cell;
  const seen = (f: number) => f >= from && f <= from + span;
  // Pressing or dragging goes to the frame under the pointer.
  const scrub = (frameAt: (share: number) => number) => {
    const at = (e: PointerEvent<SVGSVGElement>) => {
      if (!(e.buttons & 1)) return;
      const r = e.currentTarget.getBoundingClientRect();
      go(frameAt(Math.max(0, Math.min(0.9999, (e.clientX - r.left) / r.width))));
    };
    return {
      onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        at(e);
      },
      onPointerMove: at,
    };
  };
  const bars = (y: { left: number; right: number }, h: number, place: (f: number) => number, edge: number) =>
    (["left", "right"] as const).flatMap((side) =>
      contacts(marks, side, edge).map((c) => (
        <rect
          key={side + c.from}
          x={Math.max(0, place(c.from))}
          y={y[side]}
          width={Math.max(2, Math.min(W, place(c.to ?? c.end)) - Math.max(0, place(c.from)))}
          height={h}
          fill="var(--ink)"
          fillOpacity={c.to === null ? 0.15 : 0.4}
        />
      )),
    );
  const flag = (m: Mark, proposed: boolean, here: boolean) => {
    const up = m.side === "left";
    const cx = near(m.frame) + cell / 2;
    const base = up ? 44 : 76;
    const d = up ? -1 : 1;
    // Touchdown points to the rule, toe-off away from it.
    const tip = m.kind === "touchdown" ? base : base + d * 20;
    const wide = m.kind === "touchdown" ? base + d * 20 : base;
    return (
      <path
        key={`${m.side}${m.kind}${m.frame}${proposed}`}
        d={`M${cx} ${tip}L${cx - 8} ${wide}H${cx + 8}z`}
        fill={proposed ? "var(--panel)" : "var(--ink)"}
        stroke={here ? "var(--cinder)" : "var(--ink)"}
        strokeWidth={here ? 4 : 2}
        strokeDasharray={proposed ? "4 2" : undefined}
      >
        <title>{`${m.side} ${word[m.kind]}, frame ${m.frame}${proposed ? ", proposed" : ""}`}</title>
      </path>
    );
  };
  return (
    <div className="mt-2 select-none">
      <svg
        viewBox={`0 0 ${W} 30`}
        preserveAspectRatio="none"
        className="block h-6 w-full cursor-ew-resize touch-none border border-line bg-sunk"
        role="slider"
        tabIndex={0}
        aria-label="Frame"
        aria-valuemin={0}
        aria-valuemax={film.frames - 1}
        aria-valuenow={frame}
        {...scrub((s) => Math.round(s * (film.frames - 1)))}
      >
        {loop && <rect x={x(loop[0])} y={0} width={x(loop[1]) - x(loop[0])} height={30} fill="var(--line)" />}
        {bars({ left: 3, right: 17 }, 10, x, film.frames)}
        {proposals.map((p) => (
          <rect
            key={`${p.side}${p.frame}`}
            x={x(p.frame) - 1}
            y={p.side === "left" ? 0 : 15}
            width={3}
            height={15}
            fill="var(--cinder)"
          />
        ))}
        <rect
          x={x(from)}
          y={0}
          width={x(from + span) - x(from)}
          height={30}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={2}
        />
        <rect x={x(frame) - 2} y={0} width={4} height={30} fill="var(--cinder)" />
      </svg>
      <svg
        viewBox={`0 0 ${W} 120`}
        className="mt-1 block w-full cursor-ew-resize touch-none border border-line bg-panel"
        role="img"
        aria-label={`Frames ${from} to ${from + span}: ${marks.filter((m) => seen(m.frame)).length} marks`}
        {...scrub((s) => from + Math.floor(s * (span + 1)))}
      >
        <rect x={near(frame)} y={0} width={cell} height={120} fill="var(--sunk)" />
        <rect x={0} y={46} width={W} height={28} fill="var(--sunk)" stroke="var(--line)" />
        {bars({ left: 46, right: 62 }, 12, near, from + span + 1)}
        <Ticks film={film} from={from} span={span} near={near} cell={cell} />
        {marks.filter((m) => seen(m.frame)).map((m) => flag(m, false, m.frame === frame))}
        {proposals.filter((m) => seen(m.frame)).map((m) => flag(m, true, m === current))}
        <path d={`M${near(frame) + cell / 2} 60m-9 -14h18l-9 14z`} fill="var(--cinder)" />
        <g fontSize={16} fill="var(--quiet)" fontFamily="var(--font-sans)">
          <text x={6} y={20}>
            left
          </text>
          <text x={6} y={112}>
            right
          </text>
        </g>
      </svg>
    </div>
  );
}

/** A tick a frame, a figure every ten; a frame that cannot be shown is crossed out. */
function Ticks({
  film,
  from,
  span,
  near,
  cell,
}: {
  film: Film;
  from: number;
  span: number;
  near: (f: number) => number;
  cell: number;
}) {
  return Array.from({ length: span + 1 }, (_, i) => from + i).map((f) => (
    <g key={f}>
      <path
        d={`M${near(f)} 46v${f % 10 ? 6 : 14}M${near(f)} 74v${f % 10 ? -6 : -14}`}
        stroke="var(--ink)"
        strokeWidth={f % 10 ? 1 : 2}
      />
      {f % 10 === 0 && (
        <text x={near(f) + 3} y={66} fontSize={14} fill="var(--ink)" fontFamily="var(--font-mono)">
          {f}
        </text>
      )}
      {Number.isNaN(film.starts[f]) && (
        <path
          d={`M${near(f) + 2} 48l${cell - 4} 24M${near(f) + cell - 2} 48l${-(cell - 4)} 24`}
          stroke="var(--brick)"
          strokeWidth={3}
        />
      )}
    </g>
  ));
}
