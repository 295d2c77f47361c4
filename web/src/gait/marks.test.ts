import { expect, test } from "vitest";
import { draws } from "../phone/fake";
import type { Clip } from "./film";
import { begun, newStill, next, type Change } from "./marks";

const clip = { frames: 100, marks: [], stills: [], captureFps: 120 } as unknown as Clip;

/** Any change that a bench may make of a clip as it stands. */
function drawn(draw: () => number, c: Clip): Change {
  const any = <T>(list: readonly T[]) => list[Math.floor(draw() * list.length)];
  const frame = Math.floor(draw() * 12);
  const mark = any(c.marks);
  const still = any(c.stills);
  const at = { x: draw() * 640, y: draw() * 480 };
  const side = draw() < 0.5 ? "left" : "right";
  switch (Math.floor(draw() * 7)) {
    case 0:
      return mark ? { do: "unmark", mark } : { do: "undo" };
    case 1:
      return { do: "still", still: newStill(frame, side, "touchdown") };
    case 2:
      return still ? { do: "point", still: still.id, spot: draw() < 0.5 ? "hip" : "knee", at } : { do: "undo" };
    case 3:
      return still && draw() < 0.3 ? { do: "drop", still: still.id } : { do: "set", part: { captureFps: frame + 1 } };
    case 4:
      return { do: "undo" };
    default:
      return { do: "mark", frame, side, kind: draw() < 0.5 ? "touchdown" : "toe_off", proposed: draw() < 0.2 };
  }
}

test("marks stand in order, one of a foot on a frame, and each undo brings back what stood before", () => {
  for (let life = 0; life < 100; life++) {
    const draw = draws(life);
    let s = begun(clip);
    const stood: Clip[] = []; // before each change that can be undone
    for (let i = 0; i < 60; i++) {
      const c = drawn(draw, s.clip);
      const before = s;
      s = next(s, c);
      if (c.do === "undo") expect(s.clip).toEqual(stood.pop() ?? before.clip);
      else if (s.past.length > before.past.length) stood.push(before.clip);
      else expect(c.do, "only a point that is dragged on is the same change").toBe("point");
      const frames = s.clip.marks.map((m) => m.frame);
      expect(frames).toEqual([...frames].sort((a, b) => a - b));
      const named = s.clip.marks.map((m) => `${m.side} ${m.frame}`);
      expect(new Set(named).size).toBe(named.length);
      expect(before.clip, "what stood is not written over").toEqual(structuredClone(before.clip));
    }
  }
});

test("marking a foot again on a frame with the other kind changes it; the other foot keeps its own", () => {
  const all: Change[] = [
    { do: "mark", frame: 5, side: "left", kind: "touchdown" },
    { do: "mark", frame: 5, side: "right", kind: "toe_off" },
    { do: "mark", frame: 5, side: "left", kind: "toe_off" },
  ];
  const s = all.reduce(next, begun(clip));
  expect(s.clip.marks).toEqual([
    { frame: 5, side: "right", kind: "toe_off" },
    { frame: 5, side: "left", kind: "toe_off" },
  ]);
});

test("a point that is dragged is undone in one", () => {
  const still = newStill(3, "left", "touchdown");
  let s = next(begun(clip), { do: "still", still });
  for (const x of [1, 2, 3]) s = next(s, { do: "point", still: still.id, spot: "hip", at: { x, y: 0 } });
  expect(s.clip.stills[0]?.points).toEqual({ hip: { x: 3, y: 0 } });
  s = next(s, { do: "undo" });
  expect(s.clip.stills[0]?.points).toEqual({});
});
