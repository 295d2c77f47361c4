import { along, stages, type At, type View } from "./stages";

/** The stages on one rule. The gate is drawn as far as it is open, the left foot above, the right below; the marker stands where the
 * runner is, a ghost where a move would lead. */
export function StageRule({
  ladder,
  caps,
  at,
  now,
  to,
  most,
}: {
  ladder: View["ladder"];
  caps: Record<string, number>;
  at?: At | undefined;
  now?: At | undefined;
  to?: At | undefined;
  most: number;
}) {
  const width = 730;
  const x = (n: number) => 10 + (n / 6) * (width - 20);
  const left = caps.left ?? 5;
  const right = caps.right ?? 5;
  const open = (cap: number) =>
    cap < 0 ? "closed" : cap >= 5 ? "open to the end" : `open to stage ${cap}, ${stages[cap]}`;
  const says =
    `Stages 0 to 5. Gate, left foot ${open(left)}; right foot ${open(right)}.` +
    (now ? ` Now ${now.stage < 0 ? "resting" : `stage ${now.stage}, ${stages[now.stage]}`}.` : "");
  return (
    <svg viewBox={`0 0 ${width} 118`} role="img" aria-label={says} className="block w-full min-w-[40rem]">
      {(
        [
          ["left", left, 22],
          ["right", right, 84],
        ] as const
      ).map(([side, cap, y]) => (
        <g key={side}>
          <rect x={x(0)} y={y} width={x(6) - x(0)} height={10} fill="var(--sunk)" />
          <rect x={x(0)} y={y} width={x(cap + 1) - x(0)} height={10} fill="var(--tide)" />
          {cap < 5 && (
            <path d={`M${x(cap + 1)} ${y - 4}v18`} stroke="var(--brick)" strokeWidth={4}>
              <title>{`the gate, ${side}`}</title>
            </path>
          )}
          <text x={x(0)} y={side === "left" ? y - 6 : y + 24} fontSize={13} fill="var(--quiet)" fontFamily="inherit">
            gate, {side} foot
          </text>
        </g>
      ))}
      <line x1={x(0)} x2={x(6)} y1={58} y2={58} stroke="var(--ink)" strokeWidth={3} />
      {stages.map((name, i) => (
        <g key={name}>
          <line x1={x(i)} x2={x(i)} y1={40} y2={76} stroke="var(--ink)" strokeWidth={2} />
          {(ladder[i] ?? []).slice(1).map((s, k, all) => {
            const at = i + (k + 1) / (all.length + 1);
            return <line key={s} x1={x(at)} x2={x(at)} y1={52} y2={64} stroke="var(--ink)" />;
          })}
          <text x={x(i) + 5} y={50} fontSize={14.5} fill="var(--ink)" fontFamily="inherit">
            <tspan fontWeight={700}>{i}</tspan> {name}
          </text>
        </g>
      ))}
      <line x1={x(6)} x2={x(6)} y1={40} y2={76} stroke="var(--ink)" strokeWidth={2} />
      {to && at && (to.stage !== at.stage || to.step !== at.step || to.minutes !== at.minutes) && (
        <path d={`M${x(along(to, most, ladder))} 60l-9 14h18z`} fill="none" stroke="var(--cinder)" strokeWidth={2} />
      )}
      {now && now.stage >= 0 && <path d={`M${x(along(now, most, ladder))} 59l-10 16h20z`} fill="var(--cinder)" />}
    </svg>
  );
}
