import { Player, type Film, type Point } from "./film";

/** One piece of tape the coach pointed at, on the frame it was pointed at. */
export interface Label {
  side: "left" | "right";
  spot: string;
  frame: number;
  at: Point;
}

export interface Track {
  side: "left" | "right";
  spot: string;
  frames: number[];
  x: number[];
  y: number[];
}

type Colour = [number, number, number];

interface Live {
  label: Label;
  track: Track;
  colour: Colour;
  at: Point;
  speed: Point; // pixels a frame
  lost: number; // frames since it was seen
  usual: number; // how far in colour it is from its label, as it goes
}

/** How far in colour a pixel may be from the tape and still be tape. */
const likeness = 95;

/** Finds the tape near where it should be: the middle of the pixels of its colour, the more like it the
 * heavier. Null when nothing there is that like it: behind the other leg, no other piece is taken for it. */
export function find(
  pixels: ImageData,
  colour: Colour,
  near: Point,
  reach: number,
  unlike: number,
): { at: Point; off: number } | null {
  const { width, height, data } = pixels;
  let best = likeness;
  let seed: Point | null = null;
  const x0 = Math.max(0, Math.floor(near.x - reach));
  const x1 = Math.min(width - 1, Math.ceil(near.x + reach));
  const y0 = Math.max(0, Math.floor(near.y - reach));
  const y1 = Math.min(height - 1, Math.ceil(near.y + reach));
  const off = (x: number, y: number) => {
    const i = 4 * (y * width + x);
    const at = (k: number) => (data[i + k] ?? 0) - (colour[k] ?? 0);
    return Math.hypot(at(0), at(1), at(2));
  };
  for (let y = y0; y <= y1; y++)
    for (let x = x0; x <= x1; x++) {
      const d = off(x, y) + 0.35 * Math.hypot(x - near.x, y - near.y);
      if (d < best) {
        best = d;
        seed = { x, y };
      }
    }
  if (!seed || off(seed.x, seed.y) > unlike) return null;
  // The middle of what is like it around the seed, then around that middle.
  let middle = seed;
  for (const r of [11, 8]) {
    let sum = 0;
    let sx = 0;
    let sy = 0;
    const mx = Math.round(middle.x);
    const my = Math.round(middle.y);
    for (let y = Math.max(0, my - r); y <= Math.min(height - 1, my + r); y++)
      for (let x = Math.max(0, mx - r); x <= Math.min(width - 1, mx + r); x++) {
        const w = likeness - off(x, y);
        if (w > 0) {
          sum += w;
          sx += w * x;
          sy += w * y;
        }
      }
    if (sum <= 0) return null;
    middle = { x: sx / sum, y: sy / sum };
  }
  return { at: { x: middle.x + 0.5, y: middle.y + 0.5 }, off: off(seed.x, seed.y) };
}

/** The colour of the tape at a point: the mean of the nine pixels there. */
function colourAt(pixels: ImageData, at: Point): Colour {
  const c: Colour = [0, 0, 0];
  let n = 0;
  for (let dy = -1; dy <= 1; dy++)
    for (let dx = -1; dx <= 1; dx++) {
      const i = 4 * (Math.round(at.y - 0.5 + dy) * pixels.width + Math.round(at.x - 0.5 + dx));
      for (let k = 0; k < 3; k++) c[k] = (c[k] ?? 0) + (pixels.data[i + k] ?? 0);
      n++;
    }
  return [c[0] / n, c[1] / n, c[2] / n];
}

/** Follows the labelled tape from its frame to both ends of the clip. Gives what it found; nothing is
 * marked by it. */
export async function follow(
  film: Film,
  labels: Label[],
  progress: (done: number, of: number) => void,
  signal: AbortSignal,
): Promise<Track[]> {
  const canvas = document.createElement("canvas");
  canvas.width = film.width;
  canvas.height = film.height;
  const pen = canvas.getContext("2d", { willReadFrequently: true })!;
  let arrived: (frame: number) => void = () => {};
  const player = new Player(film, (video, frame) => {
    pen.drawImage(video, 0, 0, film.width, film.height);
    arrived(frame);
  });
  const show = (frame: number) =>
    new Promise<ImageData>((done) => {
      arrived = (f) => f === frame && done(pen.getImageData(0, 0, film.width, film.height));
      player.shown = -1;
      player.go(frame);
    });
  const found = new Map<Label, Map<number, Point>>(labels.map((l) => [l, new Map()]));
  const frames = [...film.starts.keys()].filter((f) => !Number.isNaN(film.starts[f]));
  // A shoe swings through at up to six metres a second: about 1400 pixels a second on a picture of 640.
  const reach = Math.max(12, Math.min(90, ((film.width / 640) * 1700) / (film.playFps || 30)));
  let done = 0;
  try {
    const start = labels[0]?.frame ?? 0;
    const first = await show(start);
    for (const direction of [1, -1]) {
      const live: Live[] = labels.map((l) => ({
        label: l,
        track: { side: l.side, spot: l.spot, frames: [], x: [], y: [] },
        colour: colourAt(first, l.at),
        at: l.at,
        speed: { x: 0, y: 0 },
        lost: 0,
        usual: 25,
      }));
      const way = direction > 0 ? frames.filter((f) => f >= start) : frames.filter((f) => f < start).reverse();
      let before = start;
      for (const frame of way) {
        if (signal.aborted) throw new DOMException("given up", "AbortError");
        const pixels = await show(frame);
        const by = Math.abs(frame - before);
        for (const t of live) {
          const guess = { x: t.at.x + t.speed.x * by, y: t.at.y + t.speed.y * by };
          const got = find(
            pixels,
            t.colour,
            guess,
            Math.min(140, reach * (1 + t.lost * 0.5)),
            Math.max(40, 2 * t.usual),
          );
          if (!got) {
            t.lost += by;
            t.at = guess;
            if (t.lost > 3) t.speed = { x: t.speed.x * 0.7, y: t.speed.y * 0.7 };
            continue;
          }
          const seen = got.at;
          t.usual = 0.85 * t.usual + 0.15 * got.off;
          if (by > 0) {
            const since = by + t.lost;
            const from = found.get(t.label)?.get(before);
            if (from) t.speed = { x: (seen.x - from.x) / since, y: (seen.y - from.y) / since };
            else if (t.lost > 0) t.speed = { x: 0, y: 0 };
          }
          t.at = seen;
          t.lost = 0;
          found.get(t.label)?.set(frame, seen);
        }
        before = frame;
        progress(++done, frames.length);
      }
    }
  } finally {
    player.close();
  }
  return labels.map((l) => {
    const at = [...(found.get(l) ?? [])].sort((a, b) => a[0] - b[0]);
    const round = (v: number) => Math.round(v * 10) / 10;
    return {
      side: l.side,
      spot: l.spot,
      frames: at.map(([f]) => f),
      x: at.map(([, p]) => round(p.x)),
      y: at.map(([, p]) => round(p.y)),
    };
  });
}

/** Where a followed piece of tape was on a frame. */
export function placeOf(tracks: Track[], side: string, spot: string, frame: number): Point | null {
  const t = tracks.find((x) => x.side === side && x.spot === spot);
  const i = t?.frames.indexOf(frame) ?? -1;
  const [x, y] = [t?.x[i], t?.y[i]];
  return x !== undefined && y !== undefined ? { x, y } : null;
}
