import type { Schemas } from "../api/client";
import { fixed } from "./number";
import { amountIn, figureIn, shortIn } from "./units";

type Finding = Schemas["ScreenFinding"];

const tone: Record<string, string> = {
  clear: "var(--tide)",
  borderline: "var(--ochre)",
  short: "var(--cinder)",
  noted: "var(--quiet)",
};

/** Two bars from one centre line, left to the left: reference as a mark, error as a whisker. */
export function Bars({ left, right, name }: { left?: Finding; right?: Finding; name: string }) {
  const any = left ?? right;
  if (!any) return null;
  const top =
    Math.max(
      Math.abs(any.reference) * 1.6,
      (left?.value ?? 0) + (left?.band ?? 0),
      (right?.value ?? 0) + (right?.band ?? 0),
    ) || 1;
  const half = 240;
  const x = (v: number) => (Math.max(0, v) / top) * half;
  const bar = (f: Finding | undefined, dir: 1 | -1) =>
    f && (
      <g>
        <rect
          x={dir > 0 ? 260 : 260 - x(f.value)}
          y={14}
          width={x(f.value)}
          height={26}
          fill={tone[f.verdict]}
          fillOpacity={f.verdict === "borderline" ? 0.55 : 0.85}
        />
        <path
          d={`M${260 + dir * x(f.value - f.band)} 27H${260 + dir * x(f.value + f.band)}m0 -7v14M${260 + dir * x(f.value - f.band)} 20v14`}
          stroke="var(--ink)"
          strokeWidth={2}
          fill="none"
        />
      </g>
    );
  const mark = (dir: 1 | -1) => (
    <path d={`M${260 + dir * x(any.reference)} 6V48`} stroke="var(--ink)" strokeWidth={3} strokeDasharray="4 3" />
  );
  return (
    <svg
      viewBox="0 0 520 70"
      className="w-full"
      role="img"
      aria-label={`${name}: left ${fig(left)}, right ${fig(right)}, reference ${shortIn(any.unit, any.reference)}`}
    >
      <path d="M20 27H500" stroke="var(--line)" />
      {bar(left, -1)}
      {bar(right, 1)}
      {mark(-1)}
      {mark(1)}
      <path d="M260 4V50" stroke="var(--ink)" strokeWidth={2} />
      <g fontSize={13} fill="var(--quiet)" fontFamily="var(--font-sans)">
        <text x={20} y={66}>
          left
        </text>
        <text x={500} y={66} textAnchor="end">
          right
        </text>
        <text x={260 + x(any.reference)} y={66} textAnchor="middle">
          {any.better === "lower" ? "at most " : ""}
          {shortIn(any.unit, any.reference)}
        </text>
      </g>
    </svg>
  );
}

export function fig(f?: Finding): string {
  if (!f) return "not taken";
  if (f.word) return f.unit ? `${fixed(f.value, 1)}${f.unit} ${f.word}` : f.word;
  if (f.unit === "of 10") return `${Math.round(f.value)} of 10`;
  return (f.atLeast ? "at least " : "") + amountIn(f.unit, f.value, f.unit ? 1 : 0);
}

/** The figure's 95 % interval and smallest real change, as words; empty where a step is a step. */
export function errorOf(f: Finding): string {
  if (!f.half) return "";
  const decimals = (x: number) => (x >= 10 ? 0 : 1);
  return `± ${figureIn(f.unit, f.half, decimals(f.half))}, real change from ${amountIn(f.unit, f.mdc, decimals(f.mdc))}`;
}

/** A wedge that opens to an angle. */
export function Dial({ degrees, faint, label }: { degrees: number; faint?: number; label: string }) {
  const p = (d: number, r = 90) =>
    `${100 - r * Math.cos((d * Math.PI) / 180)} ${100 - r * Math.sin((d * Math.PI) / 180)}`;
  return (
    <svg viewBox="0 0 112 112" className="w-28" role="img" aria-label={label}>
      {faint !== undefined && <path d={`M100 100L10 100A90 90 0 0 1 ${p(faint)}Z`} fill="var(--line)" />}
      <path d={`M100 100L10 100A90 90 0 0 1 ${p(degrees)}Z`} fill="var(--tide)" fillOpacity={0.8} />
      {[0, 15, 30, 45, 60, 75, 90].map((d) => (
        <path key={d} d={`M${p(d, 90)}L${p(d, d % 30 ? 95 : 100)}`} stroke="var(--ink)" strokeWidth={1.5} />
      ))}
      <path d="M4 100H108" stroke="var(--ink)" strokeWidth={2} />
    </svg>
  );
}

type RailView = Schemas["RailView"];

/** A rail: exact doses as notches; left on the upper edge, right on the lower. The filled marker is
 * today's dose, the outlined one the proposal, dots are the last moves. */
export function Rail({ rail }: { rail: RailView }) {
  const n = Math.max(rail.notches.length, 2);
  const w = 800;
  const x = (i: number) => 24 + (i * (w - 48)) / (n - 1);
  const starts = rail.notches.map((k, i) => i === 0 || rail.notches[i - 1]?.exercise !== k.exercise);
  const labels = rail.notches.map((k, i) => ({ k, i })).filter(({ i }) => starts[i]);
  return (
    <svg
      viewBox={`0 0 ${w} 132`}
      className="w-full"
      role="img"
      aria-label={`${rail.name}: ${rail.sides.map((s) => `${s.side} at ${s.text}${s.below ? ", below the first notch" : ""}${s.toText !== s.text ? `, proposed ${s.toText}` : ""}`).join("; ")}`}
    >
      <rect x={8} y={52} width={w - 16} height={28} fill="var(--sunk)" stroke="var(--line)" />
      {rail.notches.map((k, i) => (
        <path
          key={i}
          d={`M${x(i)} 52v${starts[i] ? 14 : 8}M${x(i)} 80v${starts[i] ? -14 : -8}`}
          stroke={k.barred ? "var(--line)" : "var(--ink)"}
          strokeWidth={starts[i] ? 2.5 : 1}
        />
      ))}
      {labels.map(({ i }, j) => (
        <text key={i} x={x(i) + 3} y={70} fontSize={11} fill="var(--quiet)" fontFamily="var(--font-mono)">
          {j + 1}
        </text>
      ))}
      {rail.sides.map((s) => {
        const up = s.side === "left";
        const edge = up ? 50 : 82;
        const d = up ? -1 : 1;
        const at = x(Math.max(s.at, 0));
        const anchor = at < 140 ? "start" : at > w - 140 ? "end" : "middle"; // a long label stays inside
        const moves = s.toAt !== s.at || s.toText !== s.text;
        return (
          <g key={s.side}>
            {s.trail.map((t, i) =>
              t.at < 0 || t.at === s.at ? null : (
                <g key={i}>
                  <circle cx={x(t.at)} cy={edge + d * 5} r={3.5} fill="none" stroke="var(--quiet)" strokeWidth={1.5} />
                </g>
              ),
            )}
            {moves && s.toAt >= 0 && (
              <g>
                <path
                  d={`M${x(s.toAt)} ${edge}l-9 ${d * 18}h18z`}
                  fill="var(--panel)"
                  stroke="var(--cinder)"
                  strokeWidth={2}
                  strokeDasharray="4 2"
                />
                {Math.abs(x(s.toAt) - x(s.at)) > 24 && (
                  <path
                    d={`M${x(s.at) + (s.toAt > s.at ? 11 : -11)} ${edge + d * 13}H${x(s.toAt) + (s.toAt > s.at ? -13 : 13)}`}
                    stroke="var(--cinder)"
                    strokeWidth={2}
                  />
                )}
              </g>
            )}
            {s.at >= 0 && !s.prescription.parked && (
              <path d={`M${x(s.at) - (s.below ? 12 : 0)} ${edge}l-9 ${d * 18}h18z`} fill="var(--cinder)" />
            )}
            <text
              x={{ start: Math.max(at - 20, 2), middle: at, end: Math.min(at + 20, w - 2) }[anchor]}
              y={up ? 22 : 120}
              textAnchor={anchor}
              fontSize={14}
              fontWeight={600}
              fill="var(--ink)"
              fontFamily="var(--font-sans)"
            >
              {s.side === "both" ? "whole runner" : s.side}
              {s.prescription.parked ? " parked" : s.below ? " · below the first notch" : ""}
              {s.trail[0] ? ` · moved ${s.trail[0].on.slice(8)}.${s.trail[0].on.slice(5, 7)}.` : ""}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
