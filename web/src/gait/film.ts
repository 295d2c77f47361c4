import type { Schemas } from "../api/client";
import { snapshots } from "./snapshots";

export type Clip = Schemas["GaitClip"];
export type Mark = Schemas["GaitEvent"];
export type Still = Schemas["GaitStill"];
export type Point = Schemas["GaitPoint"];
export type Reading = Schemas["GaitReading"];
export type Figure = Schemas["GaitFigure"];
export type Simulated = Schemas["Film"];

/** A clip as the browser knows it. The file never leaves the browser. */
export interface Film {
  name: string;
  url: string;
  size: number; // bytes
  width: number;
  height: number;
  playFps: number; // frames a second as the file plays; 0 when it cannot be told
  frames: number;
  starts: number[]; // s in the file of each frame; NaN for one the file left out
  missing: number[];
  doubled: number; // frames that share their moment with another
  repeated: number; // frames that repeat the picture before them
  simulated?: Simulated;
}

/** Says what is wrong with a file and what to do. */
export class BadFile extends Error {}

const largest = 1.5e9; // bytes
const longest = 20_000; // frames

/** Reads the moments of every frame from the file's own index, without decoding. */
export async function open(
  source: Blob,
  name: string,
  simulated?: Simulated,
  progress: (words: string) => void = () => {},
): Promise<Film> {
  const mb = source.size / 1e6;
  if (source.size === 0) throw new BadFile(`“${name}” is empty. Choose another file.`);
  if (source.size > largest)
    throw new BadFile(
      `“${name}” has ${(mb / 1000).toFixed(1)} GB. Cut out the ten seconds you need (up to 1.5 GB) and open that.`,
    );
  const url = URL.createObjectURL(source);
  try {
    return await distinct(await index(source, url, name, simulated), progress);
  } catch (e) {
    URL.revokeObjectURL(url);
    if (e instanceof BadFile) throw e;
    throw new BadFile(`“${name}” is not a video this browser can read. Use an MP4, MOV or WebM clip.`);
  }
}

async function index(source: Blob, url: string, name: string, simulated?: Simulated): Promise<Film> {
  const { BlobSource, EncodedPacketSink, Input, MATROSKA, MP4, QTFF, WEBM } = await import("mediabunny");
  const input = new Input({ source: new BlobSource(source), formats: [MP4, QTFF, WEBM, MATROSKA] });
  const track = await input.getPrimaryVideoTrack();
  if (!track) throw new BadFile(`“${name}” has no picture in it, only sound or nothing. Choose the video file.`);
  const at: number[] = [];
  for await (const p of new EncodedPacketSink(track).packets(undefined, undefined, { metadataOnly: true })) {
    at.push(p.timestamp);
    if (at.length > longest)
      throw new BadFile(
        `“${name}” has more than ${longest.toLocaleString("en-GB")} frames. Cut out the ten seconds you need and open that.`,
      );
  }
  if (at.length < 2) throw new BadFile(`“${name}” has no frames to step through. Choose another clip.`);
  at.sort((a, b) => a - b);
  const { first, ...size } = await picture(url, name);
  // The player's clock may begin elsewhere than the file's index: the first picture sets it.
  const shift = first - (at[0] ?? 0);
  return { name, url, size: source.size, ...size, repeated: 0, ...slots(at.map((t) => t + shift)), simulated };
}

/** Puts frames into equal slots of the usual gap: a slot without a frame is a missing one, two in one
 * slot are a doubled one. */
export function slots(at: number[]): Pick<Film, "playFps" | "frames" | "starts" | "missing" | "doubled"> {
  const gaps = at.slice(1).map((t, i) => t - (at[i] ?? t));
  const usual = gaps.filter((g) => g > 1e-6).sort((a, b) => a - b);
  const gap = usual[usual.length >> 1] ?? 0;
  if (!gap || (usual.at(-1) ?? 0) > 50 * gap)
    return { playFps: 0, frames: at.length, starts: at, missing: [], doubled: 0 };
  const starts: number[] = [];
  let doubled = 0;
  for (const t of at) {
    const slot = Math.round((t - (at[0] ?? t)) / gap);
    if (starts[slot] !== undefined) doubled++;
    else starts[slot] = t;
  }
  const missing: number[] = [];
  for (let i = 0; i < starts.length; i++)
    if (starts[i] === undefined) {
      starts[i] = NaN;
      missing.push(i);
    }
  // A whole number when the gap is within a thousandth of one: files round their times.
  const fps = 1 / gap;
  const even = Math.abs(fps - Math.round(fps)) < 0.001 * fps ? Math.round(fps) : Math.round(fps * 1000) / 1000;
  return { playFps: even, frames: starts.length, starts, missing, doubled };
}

/** Leaves out frames that repeat the picture before them, as in a file converted from a lower rate: an
 * event may have happened anywhere since the last new picture. Two dozen frames tell whether to look at
 * all of them. */
async function distinct(film: Film, progress: (words: string) => void): Promise<Film> {
  const there = [...film.starts.keys()].filter((f) => !Number.isNaN(film.starts[f]));
  const from = Math.max(0, (there.length >> 1) - 12);
  if ((await repeats(film, there.slice(from, from + 24))).length < 6) return film;
  const twice = await repeats(film, there, (done) => progress(`Reading frame ${done} of ${there.length}`));
  const starts = [...film.starts];
  for (const f of twice) starts[f] = NaN;
  const missing = [...film.missing, ...twice].sort((a, b) => a - b);
  return { ...film, starts, missing, repeated: twice.length };
}

/** The frames that look like the one before: their difference is a fifth of what frames usually differ by,
 * because a file packed anew repeats a picture nearly, not exactly. */
async function repeats(film: Film, frames: number[], progress: (done: number) => void = () => {}): Promise<number[]> {
  const seen = await snapshots(film, frames, { wide: 160, pixels: true, progress });
  const apart = frames.slice(1).map((f, i) => difference(seen.get(frames[i] ?? f) ?? "", seen.get(f) ?? ""));
  const usual = [...apart].sort((a, b) => a - b)[Math.floor(apart.length * 0.75)] ?? 0;
  return usual > 0 ? frames.slice(1).filter((_, i) => (apart[i] ?? usual) < 0.2 * usual) : [];
}

function difference(a: string, b: string): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += Math.abs(a.charCodeAt(i) - b.charCodeAt(i));
  return sum;
}

/** The picture's size, and the moment the player gives to the first frame. */
function picture(url: string, name: string): Promise<{ width: number; height: number; first: number }> {
  return new Promise((done, fail) => {
    const v = document.createElement("video");
    v.muted = true;
    v.preload = "auto";
    v.requestVideoFrameCallback((_, seen) =>
      done({ width: v.videoWidth, height: v.videoHeight, first: seen.mediaTime }),
    );
    v.onerror = () =>
      fail(
        new BadFile(
          `This browser cannot play “${name}”. Save it as H.264 MP4 (“most compatible” on a phone) and open that.`,
        ),
      );
    v.src = url;
  });
}

/** The frame there is at or after this one, in a direction. */
export function there(film: Film, frame: number, step = 1): number {
  const last = film.frames - 1;
  let f = Math.max(0, Math.min(last, frame));
  while (f > 0 && f < last && Number.isNaN(film.starts[f])) f += step;
  return f;
}

/** Shows exactly the frame that is asked for. Steps are shown one by one, in order; a jump drops what
 * was still to come. */
export class Player {
  readonly video = document.createElement("video");
  shown = -1;
  private want: number | null = null;
  private steps = 0;
  private running = false;
  private turn = 0; // of playing

  constructor(
    readonly film: Film,
    private draw: (video: HTMLVideoElement, frame: number) => void,
  ) {
    this.video.muted = true;
    this.video.playsInline = true;
    this.video.preload = "auto";
    this.video.src = film.url;
  }

  /** Goes to a frame. */
  go(frame: number) {
    this.want = there(this.film, frame);
    this.steps = 0;
    void this.run();
  }

  /** Goes on by so many frames, showing each. */
  step(by: number) {
    this.steps += by;
    void this.run();
  }

  /** Forgets the steps that were still to come, as when a held key is let go. */
  rest() {
    this.steps = 0;
  }

  /** Plays at a share of the file's own speed, round and round between two frames. */
  play(rate: number, from: number, to: number) {
    const v = this.video;
    const turn = ++this.turn;
    const back = () => {
      v.currentTime = (this.film.starts[from] ?? 0) + 1e-4;
      void v.play();
    };
    const beat = (_: number, seen: { mediaTime: number }) => {
      if (turn !== this.turn) return;
      this.shown = Math.max(0, Math.round((seen.mediaTime - (this.film.starts[0] ?? 0)) * (this.film.playFps || 30)));
      this.draw(v, this.shown);
      if (this.shown >= to) back();
      v.requestVideoFrameCallback(beat);
    };
    v.onended = back;
    v.playbackRate = Math.max(0.0625, Math.min(16, rate));
    v.requestVideoFrameCallback(beat);
    if (this.shown >= to || this.shown < from) v.currentTime = (this.film.starts[from] ?? 0) + 1e-4;
    void v.play();
  }

  /** Stops playing on the frame that is shown. */
  pause() {
    this.turn++;
    this.video.onended = null;
    this.video.pause();
    const at = this.shown;
    this.shown = -1;
    this.go(at);
  }

  close() {
    this.turn++;
    this.want = null;
    this.steps = 0;
    this.video.removeAttribute("src");
    this.video.load();
  }

  private async run() {
    if (this.running) return;
    this.running = true;
    try {
      for (;;) {
        let next = this.want;
        this.want = null;
        if (next === null && this.steps !== 0) {
          const by = Math.sign(this.steps);
          this.steps -= by;
          next = there(this.film, this.shown + by, by);
          if (next === this.shown) this.steps = 0;
        }
        if (next === null) return;
        if (next === this.shown) continue;
        await this.seek(next);
        this.shown = next;
        this.draw(this.video, next);
      }
    } finally {
      this.running = false;
    }
  }

  /** Seeks to the middle of a frame and waits until that frame is the one presented: the event of the
   * seek alone may still show the old one. */
  private seek(frame: number): Promise<void> {
    const { starts, playFps } = this.film;
    const start = starts[frame] ?? 0;
    let after = frame + 1;
    while (after < starts.length && Number.isNaN(starts[after] ?? 0)) after++;
    const end = starts[after] ?? start + 1 / (playFps || 30);
    const middle = start + Math.min(end - start, 1 / (playFps || 30)) / 2;
    const near = (end - start) / 2 + 1e-4;
    return new Promise((done) => {
      let late = 0;
      const over = () => {
        clearTimeout(late);
        done();
      };
      const look = (_: number, seen: { mediaTime: number }) => {
        if (Math.abs(seen.mediaTime - start) < near) over();
        else this.video.requestVideoFrameCallback(look);
      };
      this.video.requestVideoFrameCallback(look);
      // A frame that stands already is not presented again: ask again from a little beside. A file whose
      // moments disagree with its index is taken as it comes rather than waited for without end.
      let tries = 0;
      const again = () => {
        if (++tries > 4) return over();
        this.video.currentTime = middle + (end - start) * 0.2 * (Math.random() - 0.5);
        late = window.setTimeout(again, 700);
      };
      late = window.setTimeout(again, 700);
      this.video.currentTime = middle;
    });
  }
}
