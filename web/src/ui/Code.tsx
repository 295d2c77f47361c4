/** A code to photograph, from its rows of modules. */
export function Code({ rows, label }: { rows: readonly string[]; label: string }) {
  const size = rows.length + 8;
  return (
    <svg viewBox={`-4 -4 ${size} ${size}`} className="w-48" role="img" aria-label={label}>
      <rect x={-4} y={-4} width={size} height={size} fill="var(--code-ground)" />
      <path
        fill="var(--code-ink)"
        d={rows.flatMap((row, y) => [...row].map((c, x) => (c === "1" ? `M${x} ${y}h1v1h-1z` : ""))).join("")}
      />
    </svg>
  );
}
