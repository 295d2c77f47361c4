import { scaleLinear } from "d3-scale";
import { between, type Bucket, type StripView } from "./lanes";

const kinds = [
  { id: "easy", name: "easy", fill: "var(--tide)" },
  { id: "long", name: "long", fill: "url(#strip-long)" },
  { id: "other", name: "not said", fill: "var(--quiet)" },
  { id: "quality", name: "quality", fill: "url(#strip-quality)" },
  { id: "hills", name: "hills", fill: "url(#strip-hills)" },
  { id: "race", name: "race", fill: "var(--cinder)" },
  { id: "back", name: "back to running", fill: "var(--line)" },
  { id: "bare", name: "bare", fill: "var(--ochre)" },
] as const;

const moves = [
  { id: "up", mark: "▲", tone: "var(--tide)" },
  { id: "return", mark: "↩", tone: "var(--tide)" },
  { id: "hold", mark: "■", tone: "var(--ochre)" },
  { id: "back", mark: "▼", tone: "var(--cinder)" },
  { id: "park", mark: "✚", tone: "var(--brick)" },
] as const;

const gutter = 28; // px, for the figures at the left
const mostPlaces = 4;

/** The lanes, drawn: each has its own scale from 0, the highest value written at its left. */
export function Lanes({
  buckets,
  places,
  spans,
  width,
  at,
  wide,
  onAt,
  onEnter,
}: {
  buckets: Bucket[];
  places: StripView["places"];
  spans: StripView["spans"];
  width: number;
  at: number;
  wide: boolean;
  onAt: (i: number) => void;
  onEnter: (i: number) => void;
}) {
  const x = scaleLinear([0, buckets.length], [gutter, width]);
  const col = x(1) - x(0);
  const bar = Math.max(1, col - (col > 4 ? 2 : 0));
  const shown = places.slice(0, mostPlaces);
  const present = kinds.filter((k) => buckets.some((b) => b.run[k.id]));
  const { lanes, mornings, moved, events, height } = layout(buckets, shown);
  const [running, calf, rails, bare] = lanes;
  const pointed = (e: { clientX: number; currentTarget: Element }) => {
    const left = e.currentTarget.getBoundingClientRect().left;
    return Math.min(buckets.length - 1, Math.max(0, Math.floor(x.invert(e.clientX - left))));
  };
  const rise = (l: { most: number; height: number }, n: number) => (l.most ? (n / l.most) * l.height : 0);
  return (
    // Pointing reads a column, as the arrow keys of what holds it do.
    <svg
      width={width}
      height={height}
      aria-hidden
      className="block cursor-pointer touch-pan-y text-[12px] select-none"
      onPointerMove={(e) => e.pointerType === "mouse" && onAt(pointed(e))}
      onClick={(e) => onEnter(pointed(e))}
    >
      <Hatches />
      {spans.map((s) => {
        const from = x(column(buckets, s.from, wide));
        const to = x(column(buckets, s.until, wide) + 1);
        return to <= gutter || from >= width ? null : (
          <g key={s.id}>
            <rect
              x={Math.max(gutter, from)}
              y={0}
              width={Math.min(width, to) - Math.max(gutter, from)}
              height={height - 20}
              fill="url(#strip-span)"
            />
            <text x={Math.max(gutter, from) + 2} y={height - 24} fill="var(--ink)">
              {spanNames[s.kind]}
            </text>
          </g>
        );
      })}
      <rect x={x(at)} y={0} width={Math.max(2, col)} height={height - 20} fill="var(--sunk)" />
      {lanes.map((l) => (
        <g key={l.name}>
          <text x={gutter} y={l.y - 6} fill="var(--quiet)">
            {l.name}
          </text>
          <text x={gutter - 4} y={l.y + 10} textAnchor="end" fill="var(--quiet)" className="fig">
            {short(l.most)}
          </text>
          <line x1={gutter} x2={width} y1={l.y + l.height} y2={l.y + l.height} stroke="var(--line)" />
        </g>
      ))}
      {buckets.map((b, i) => {
        let up = running ? running.y + running.height : 0;
        return (
          <g key={b.from}>
            {running &&
              present.map((k) => {
                const n = b.run[k.id];
                if (!n) return null;
                const h = rise(running, n);
                up -= h;
                return <rect key={k.id} x={x(i)} y={up} width={bar} height={h} fill={k.fill} />;
              })}
            {calf && b.calf > 0 && <Bar l={calf} n={b.calf} x={x(i)} w={bar} fill="var(--ink)" />}
            {rails && b.planned > 0 && (
              <Bar l={rails} n={b.planned} x={x(i)} w={bar} fill="var(--panel)" stroke="var(--line)" />
            )}
            {rails && b.done > 0 && <Bar l={rails} n={b.done} x={x(i)} w={bar} fill="var(--tide)" />}
            {bare && b.bare > 0 && <Bar l={bare} n={b.bare} x={x(i)} w={bar} fill="var(--ochre)" />}
            {mornings.map((m) => {
              const pain = b.worst.get(m.i);
              return pain === undefined ? null : (
                <Pain key={m.i} pain={pain} x={x(i)} y={m.y} w={bar} figure={col > 15} />
              );
            })}
            <Marks marks={marksOf(b)} x={x(i) + bar / 2} y={moved + 13} room={col} />
            <Marks marks={eventsOf(b)} x={x(i) + bar / 2} y={events + 13} room={col} />
          </g>
        );
      })}
      {mornings.map((m) => (
        <text key={m.i} x={gutter} y={m.y - 6} fill="var(--quiet)">
          {m.name}
        </text>
      ))}
      <text x={gutter} y={moved - 6} fill="var(--quiet)">
        Moves: ▲ up · ▼ back · ■ held · ✚ parked
      </text>
      <text x={gutter} y={events - 6} fill="var(--quiet)">
        ◇ screen · ⬣ warning sign · ⚑ race
      </text>
      <Axis buckets={buckets} x={x} y={height - 6} wide={wide} width={width} />
      <Legend present={present} x={gutter + 110} y={(running?.y ?? 20) - 6} most={width} />
    </svg>
  );
}

/** Where each lane stands, one below the other. */
function layout(buckets: Bucket[], shown: StripView["places"]) {
  const bars = [
    { name: "Running, min", height: 88, most: most(buckets, (b) => b.minutes) },
    { name: "Calf-load steps", height: 44, most: most(buckets, (b) => b.calf) },
    { name: "Rails done of those planned", height: 36, most: most(buckets, (b) => b.planned) },
    { name: "Bare, min", height: 28, most: most(buckets, (b) => b.bare) },
  ].filter((l, i) => i < 3 || l.most > 0);
  const place = (above: { height: number }[]) => above.reduce((y, l) => y + l.height + 24, 20);
  const rows = shown.map(() => ({ height: 18 }));
  const all = [...bars, ...rows, { height: 18 }, { height: 18 }];
  const y = (i: number) => place(all.slice(0, i));
  return {
    lanes: bars.map((l, i) => ({ ...l, y: y(i) })),
    mornings: shown.map((p, i) => ({ name: `First steps, ${p.name}`, y: y(bars.length + i), i })),
    moved: y(all.length - 2),
    events: y(all.length - 1),
    height: y(all.length) + 2,
  };
}

const spanNames = { easy: "easy", holiday: "away", ill: "ill" } as const;

/** The column a day stands in, before the first or after the last one too. */
const column = (buckets: Bucket[], day: string, wide: boolean) =>
  Math.floor(between(buckets[0]?.from ?? day, day) / (wide ? 7 : 1));

const most = (all: Bucket[], of: (b: Bucket) => number) => Math.max(0, ...all.map(of));
const short = (n: number) => (n >= 1000 ? `${(n / 1000).toFixed(n < 10_000 ? 1 : 0)}k` : String(Math.round(n)));

function Bar({
  l,
  n,
  x,
  w,
  ...look
}: {
  l: { y: number; height: number; most: number };
  n: number;
  x: number;
  w: number;
  fill: string;
  stroke?: string;
}) {
  const h = (n / Math.max(1, l.most)) * l.height;
  return <rect x={x} y={l.y + l.height - h} width={w} height={h} {...look} />;
}

/** First steps: taller and darker the more they hurt, with the figure where there is room for it. */
function Pain({ pain, x, y, w, figure }: { pain: number; x: number; y: number; w: number; figure: boolean }) {
  const h = 2 + (pain / 10) * 16;
  return (
    <>
      <rect
        x={x}
        y={y + 18 - h}
        width={w}
        height={h}
        fill={pain >= 4 ? "var(--brick)" : pain >= 2 ? "var(--ochre)" : "var(--tide)"}
      />
      {figure && (
        <text x={x + w / 2} y={y + 15 - h} textAnchor="middle" fill="var(--ink)" className="fig">
          {pain}
        </text>
      )}
    </>
  );
}

interface Mark {
  mark: string;
  tone: string;
}

function marksOf(b: Bucket): Mark[] {
  return moves.filter((m) => b.moves[m.id]);
}

function eventsOf(b: Bucket): Mark[] {
  const any = (of: (d: Bucket["days"][number]) => unknown[] | undefined) => b.days.some((d) => of(d)?.length);
  return [
    ...(any((d) => d.stops) ? [{ mark: "⬣", tone: "var(--brick)" }] : []),
    ...(any((d) => d.races) ? [{ mark: "⚑", tone: "var(--cinder)" }] : []),
    ...(any((d) => d.screens) ? [{ mark: "◇", tone: "var(--tide)" }] : []),
  ];
}

/** The marks of a column: the most protective where there is room for one alone. */
function Marks({ marks, x, y, room }: { marks: Mark[]; x: number; y: number; room: number }) {
  const fit = room > 26 ? marks : marks.slice(-1);
  const from = x - ((fit.length - 1) * 11) / 2;
  return fit.map((m, i) => (
    <text key={m.mark} x={from + i * 11} y={y} textAnchor="middle" fill={m.tone}>
      {m.mark}
    </text>
  ));
}

function Axis({
  buckets,
  x,
  y,
  wide,
  width,
}: {
  buckets: Bucket[];
  x: (i: number) => number;
  y: number;
  wide: boolean;
  width: number;
}) {
  const every = Math.max(1, Math.ceil((buckets.length * 62) / width));
  return buckets.map((b, i) => {
    if (i % every || x(i) > width - 44) return null;
    const d = new Date(b.from + "T12:00:00");
    return (
      <text key={b.from} x={x(i)} y={y} fill="var(--quiet)">
        {d.toLocaleDateString(
          "en-GB",
          wide && buckets.length > 60 ? { month: "short", year: "2-digit" } : { day: "numeric", month: "short" },
        )}
      </text>
    );
  });
}

function Legend({
  present,
  x,
  y,
  most,
}: {
  present: readonly (typeof kinds)[number][];
  x: number;
  y: number;
  most: number;
}) {
  let at = x;
  return present.map((k) => {
    const here = at;
    at += 22 + k.name.length * 7;
    return here + 60 > most ? null : (
      <g key={k.id}>
        <rect x={here} y={y - 9} width={11} height={11} fill={k.fill} stroke="var(--ink)" strokeWidth={0.5} />
        <text x={here + 15} y={y} fill="var(--quiet)">
          {k.name}
        </text>
      </g>
    );
  });
}

/** Kinds are told apart by pattern, not by colour alone. */
function Hatches() {
  const line = (id: string, colour: string, d: string) => (
    <pattern id={id} width="6" height="6" patternUnits="userSpaceOnUse">
      <rect width="6" height="6" fill="var(--panel)" />
      <path d={d} stroke={colour} strokeWidth="2" />
    </pattern>
  );
  return (
    <defs>
      {line("strip-long", "var(--tide)", "M0 3H6")}
      {line("strip-quality", "var(--cinder)", "M0 6L6 0")}
      <pattern id="strip-span" width="8" height="8" patternUnits="userSpaceOnUse">
        <path d="M0 8L8 0" stroke="var(--line)" strokeWidth="1" />
      </pattern>
      {line("strip-hills", "var(--ink)", "M0 0L6 6")}
    </defs>
  );
}
