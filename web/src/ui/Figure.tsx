import type { Schemas } from "../api/client";

/** A set-up drawn from the catalogue's figure parts: the body strong, the kit thin. */
export function Figure({
  shapes,
  label,
  className = "",
}: {
  shapes: Schemas["CatalogShape"][];
  label: string;
  className?: string;
}) {
  if (shapes.length === 0) return null;
  return (
    <svg viewBox="0 0 120 100" role="img" aria-label={`Set-up of ${label}`} className={className}>
      {shapes.map((s, i) =>
        s.r ? (
          <circle
            key={i}
            cx={s.points[0]?.x}
            cy={s.points[0]?.y}
            r={s.r}
            fill="none"
            stroke={s.kit ? "var(--quiet)" : "var(--ink)"}
            strokeWidth={s.kit ? 1.5 : 3}
          />
        ) : (
          <polyline
            key={i}
            points={s.points.map((p) => `${p.x},${p.y}`).join(" ")}
            fill="none"
            stroke={s.kit ? "var(--quiet)" : "var(--ink)"}
            strokeWidth={s.kit ? 1.5 : 3}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        ),
      )}
    </svg>
  );
}
