import type { Schemas } from "../api/client";

/** Twelve weeks at a glance: minutes run, and the worst first steps of each week. */
export function Mini({ weeks, wide }: { weeks: Schemas["MiniWeek"][]; wide?: boolean }) {
  if (!weeks.length) return null;
  const most = Math.max(1, ...weeks.map((w) => w.minutes));
  const [w, h] = wide ? [22, 44] : [9, 30];
  const worst = Math.max(-1, ...weeks.map((x) => x.morning));
  const last = weeks.at(-1);
  const says =
    `Twelve weeks: up to ${most > 1 ? most : 0} min run a week, ${last?.minutes ?? 0} this week` +
    (worst >= 0 ? `; worst first steps ${worst} of 10` : "");
  return (
    <svg role="img" aria-label={says} width={weeks.length * w} height={h + 14} className="block">
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
        </g>
      ))}
      <line x1={0} x2={weeks.length * w} y1={h + 1} y2={h + 1} stroke="var(--line)" />
    </svg>
  );
}
