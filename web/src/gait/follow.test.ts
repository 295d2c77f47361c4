import { expect, test } from "vitest";
import { draws } from "../phone/fake";
import { find, placeOf } from "./follow";

type Colour = [number, number, number];
const orange: Colour = [230, 110, 30];
const blue: Colour = [40, 80, 200];

/** A picture of discs on a grey ground, their edges mixed with it. */
function picture(discs: { x: number; y: number; r: number; colour: Colour }[], noise: () => number): ImageData {
  const [width, height] = [160, 120];
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const c: Colour = [120, 124, 118];
      for (const d of discs) {
        const inside = Math.max(0, Math.min(1, d.r + 0.5 - Math.hypot(x + 0.5 - d.x, y + 0.5 - d.y)));
        for (let k = 0; k < 3; k++) c[k] = (c[k] ?? 0) * (1 - inside) + (d.colour[k] ?? 0) * inside;
      }
      for (let k = 0; k < 3; k++) data[4 * (y * width + x) + k] = (c[k] ?? 0) + 12 * (noise() - 0.5);
    }
  return { width, height, data, colorSpace: "srgb" };
}

test("a piece of tape is found within half a pixel, wherever it stands near", () => {
  const draw = draws(3);
  for (let i = 0; i < 60; i++) {
    const at = { x: 30 + draw() * 100, y: 30 + draw() * 60 };
    const near = { x: at.x + 20 * (draw() - 0.5), y: at.y + 20 * (draw() - 0.5) };
    const got = find(picture([{ ...at, r: 5, colour: orange }], draw), orange, near, 20, 40);
    expect(got, `at ${at.x}, ${at.y}`).not.toBeNull();
    expect(Math.hypot((got?.at.x ?? 0) - at.x, (got?.at.y ?? 0) - at.y)).toBeLessThan(0.5);
  }
});

test("another colour is not taken for it, nor what is out of reach", () => {
  const draw = draws(4);
  const other = picture([{ x: 80, y: 60, r: 5, colour: blue }], draw);
  expect(find(other, orange, { x: 80, y: 60 }, 20, 40)).toBeNull();
  const far = picture([{ x: 140, y: 60, r: 5, colour: orange }], draw);
  expect(find(far, orange, { x: 40, y: 60 }, 20, 40)).toBeNull();
});

test("of two pieces of one colour the nearer is taken", () => {
  const draw = draws(5);
  const two = picture(
    [
      { x: 60, y: 60, r: 5, colour: orange },
      { x: 95, y: 60, r: 5, colour: orange },
    ],
    draw,
  );
  expect(find(two, orange, { x: 64, y: 60 }, 40, 40)?.at.x).toBeCloseTo(60, 0);
  expect(find(two, orange, { x: 90, y: 60 }, 40, 40)?.at.x).toBeCloseTo(95, 0);
});

test("a place is that of its own frame, foot and spot", () => {
  const tracks = [
    { side: "left" as const, spot: "heel", frames: [3, 5], x: [1, 2], y: [10, 20] },
    { side: "right" as const, spot: "heel", frames: [3], x: [9], y: [90] },
  ];
  expect(placeOf(tracks, "left", "heel", 5)).toEqual({ x: 2, y: 20 });
  expect(placeOf(tracks, "right", "heel", 3)).toEqual({ x: 9, y: 90 });
  expect([placeOf(tracks, "left", "heel", 4), placeOf(tracks, "left", "toe", 3)]).toEqual([null, null]);
});
