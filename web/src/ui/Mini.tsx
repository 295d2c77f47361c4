import type { Schemas } from "../api/client";

/** Twelve weeks at a glance: minutes run, the worst first steps of each week, and where doses went up or back. */
export function Mini({ weeks, wide }: { weeks: Schemas["MiniWeek"][]; wide?: boolean }) {
  if (!weeks.length) return null;
  const most = Math.max(1, ...weeks.map((w) => w.minutes));
  const [w, h] = wide ? [22, 44] : [9, 30];
  const worst = Math.max(-1, ...weeks.map((x) => x.morning));
  const last = weeks.at(-1);
  const says =
    `Twelve weeks: up to ${most > 1 ? most : 0} min run a week, ${last?.minutes ?? 0} this week` +
    (weeks.some((x) => x.down > 0) ? `; ${weeks.reduce((n, x) => n + x.down, 0)} moves back` : "") +
    (worst >= 0 ? `; worst first steps ${worst} of 10` : "");
  return (
    <svg role="img" aria-label={says} width={weeks.length * w} height={h + 24} className="block">
      <title>{says}</title>
      {weeks.map((x, i) => (
        <g key={x.from}>
          <rect
            x={i * w + 1}
            y={h - (x.minutes / most) * h}
            width={w - 2}
            height={Math.max(x.minutes ? 1 : 0, (x.minutes / most) * h)}
            fill="var(--ink)"
          />
          {x.morning >= 0 && (
            <rect
              x={i * w + 1}
              y={h + 3}
              width={w - 2}
              height={2 + x.morning}
              fill={x.morning >= 4 ? "var(--brick)" : x.morning >= 2 ? "var(--ochre)" : "var(--tide)"}
            />
          )}
          {x.down > 0 ? (
            <path d={`M${i * w + 1} ${h + 16}h${w - 2}l${1 - w / 2} 7z`} fill="var(--cinder)" />
          ) : (
            x.up > 0 && <path d={`M${i * w + 1} ${h + 23}h${w - 2}l${1 - w / 2} -7z`} fill="var(--tide)" />
          )}
        </g>
      ))}
      <line x1={0} x2={weeks.length * w} y1={h + 1} y2={h + 1} stroke="var(--line)" />
    </svg>
  );
}
