import type { Track, Label } from "./follow";
import { placeOf } from "./follow";
import type { Clip, Point, Still } from "./film";
import type { Change } from "./marks";
import { lineNames } from "./Lines";
import type { Dot } from "./Stage";

/** The points drawn on a still: those that are set, and those that are proposed. */
export function dotsOf(
  still: Still,
  proposed: string[],
  tracks: Track[],
  name: (spot: string) => string,
  send: (c: Change) => void,
): Dot[] {
  const set = Object.entries(still.points).map(([id, at]) => ({
    id,
    name: name(id),
    at,
    set: true,
    below: id.startsWith("heel"),
    move: (to: Point) => send({ do: "point", still: still.id, spot: id, at: to }),
  }));
  const open = proposed.flatMap((id) => {
    const at = placeOf(tracks, still.side, id, still.frame);
    return at ? [{ id, name: name(id), at, set: false, below: id === "heel" }] : [];
  });
  return [...set, ...open];
}

/** The points of the tape on a frame: where they were pressed, or have been followed to. */
export const labelsOn = (frame: number, labels: Label[], tracks: Track[]): Dot[] =>
  labels.flatMap((l) => {
    const at = tracks.length ? placeOf(tracks, l.side, l.spot, frame) : l.frame === frame ? l.at : null;
    return at ? [{ id: l.side + l.spot, name: `${l.side} ${l.spot}`, at, set: false, below: l.spot === "heel" }] : [];
  });

export const linesOf = (clip: Clip) =>
  (["scale", "level", "midline"] as const).flatMap((k) => {
    const l = clip[k];
    return l ? [{ a: l.a, b: l.b, name: lineNames[k] }] : [];
  });
