import { describe, expect, it } from "vitest";
import type { Item } from "../session";
import { asked, hurtable, missing, nothing, open, report, reports } from "./answers";
import { cueOf } from "./cues";
import { length, once, reached, where, type Course } from "./course";
import {
  back,
  begin,
  cramped,
  hurts,
  leftBehind,
  next,
  now,
  over,
  pause,
  start,
  stopped,
  tick,
  tooMuch,
  turns,
  worked,
  type Play,
} from "./play";

const raise: Course = {
  sets: 2,
  repeats: 3,
  restS: 30,
  part: "repetition",
  beats: [
    { say: "up", s: 1, to: 100 },
    { say: "top", s: 2, to: 100 },
    { say: "down", s: 3, to: 0 },
  ],
};
const hold: Course = { sets: 1, repeats: 1, part: "hold", breaks: true, beats: [{ say: "hold", s: 30, to: 100 }] };

function item(
  id: string,
  courses: [side: "left" | "right" | "both", c: Course, amount: number][],
  more: Partial<Item> = {},
): Item {
  return {
    exercise: { id, name: id, faults: ["slips"] },
    slot: "own",
    release: false,
    done: false,
    ends: 5,
    asks: 5,
    sides: courses.map(([side, course, amount]) => ({
      side,
      course,
      legs: side === "both" ? ["left", "right"] : [side],
      prescriptions: side === "both" ? [`${id} l`, `${id} r`] : [`${id} ${side}`],
      dose: { sets: course.sets, amount, perDay: 1, timed: course.part === "hold" },
      exact: { kind: "hold", sets: course.sets },
    })),
    ...more,
  } as unknown as Item;
}

const raises = item("raises", [
  ["left", raise, 3],
  ["right", raise, 3],
]);
const holds = item("holds", [["both", hold, 30]]);
const press = item("press", [["right", { ...hold, part: "spot" }, 30]], { release: true });

/** Lets the clock run in steps of so many ms. */
function run(p: Play, items: readonly Item[], from: number, ms: number, step = 100, seen = true) {
  for (let t = from; t <= from + ms; t += step)
    p = p.item || p.phase === "end" ? tick(p, items, t, seen) : next(p, items, t);
  return p;
}

describe("where a set stands", () => {
  it("follows the beats by the clock", () => {
    expect(once(raise)).toBe(6);
    expect(length(raise)).toBe(18);
    expect(where(raise, 0.5)).toMatchObject({ n: 0, k: 0, at: 50, over: false });
    expect(where(raise, 2)).toMatchObject({ n: 0, k: 1, at: 100, left: 1 });
    expect(where(raise, 6)).toMatchObject({ n: 1, k: 0, at: 0 });
    expect(where(raise, 16.5)).toMatchObject({ n: 2, k: 2, at: 50, setLeft: 1.5 });
    expect(where(raise, 18)).toMatchObject({ n: 3, over: true });
    expect(where(hold, 12)).toMatchObject({ at: 40, setLeft: 18 });
  });
  it("counts only what is whole", () => {
    expect(reached(raise, 3, 17.9)).toBe(2);
    expect(reached(raise, 3, 18)).toBe(3);
    expect(reached(hold, 30, 12.99)).toBe(12);
    const round: Course = {
      sets: 1,
      repeats: 1,
      part: "round",
      beats: [
        { say: "press", s: 20, to: 100 },
        { say: "lift", s: 20, to: 100 },
      ],
    };
    expect(reached(round, 20, 20)).toBe(10);
  });
});

describe("a session as it is played", () => {
  it("goes side by side, and what one leg works the other rests", () => {
    expect(turns(raises, false)).toEqual([
      { side: 0, set: 0, rest: 0, other: false },
      { side: 1, set: 0, rest: 6, other: true },
      { side: 0, set: 1, rest: 6, other: true },
      { side: 1, set: 1, rest: 6, other: true },
    ]);
    const one = item("one", [["left", raise, 3]]);
    expect(turns(one, false).map((x) => x.rest)).toEqual([0, 30]);
    const short = item("short", [
      ["left", { ...raise, repeats: 1, restS: 60 }, 1],
      ["right", { ...raise, repeats: 1, restS: 60 }, 1],
    ]);
    expect(turns(short, false)[2]?.rest).toBe(48); // 60 − the 6 s of changing and the 6 s of the right
    const extra = item("extra", [
      ["left", { ...raise, sets: 3 }, 3],
      ["right", raise, 3],
    ]);
    expect(turns(extra, false).map((x) => x.side)).toEqual([0, 1, 0, 1, 0]);
  });

  it("runs by the clock to its end, with one touch an exercise", () => {
    const all = [raises, holds];
    let p = next(begin("2026-05-04", "own", false), all, 0);
    expect(now(p)?.name).toBe("left");
    p = start(p, 0);
    p = run(p, all, 0, 200_000);
    expect(p.item?.exercise.id).toBe("holds");
    expect(p.phase).toBe("ready");
    p = run(start(p, 300_000), all, 300_000, 40_000);
    expect(p.phase).toBe("end");
    expect(p.done.map((d) => d.sides.map((s) => s.done))).toEqual([
      [
        [3, 3],
        [3, 3],
      ],
      [[30]],
    ]);
  });

  it("is as far as the clock, however seldom it is looked at", () => {
    const often = run(start(next(begin("d", "own", false), [raises], 0), 0), [raises], 0, 15_000, 10);
    let once = start(next(begin("d", "own", false), [raises], 0), 0);
    once = tick(once, [raises], 15_000, true);
    expect(once).toEqual(often);
    expect(worked(once, 15_000)).toBe(12);
  });

  it("begins no set before nobody's eyes", () => {
    let p = start(next(begin("d", "own", false), [raises], 0), 0);
    p = tick(p, [raises], 120_000, false);
    expect(p).toMatchObject({ phase: "rest", turn: 1, since: 21_000 });
    p = tick(p, [raises], 121_000, true);
    expect(p).toMatchObject({ phase: "lead", since: 121_000 });
  });

  it("stands still while it is paused, and goes on where it was", () => {
    let p = tick(start(next(begin("d", "own", false), [holds], 0), 0), [holds], 13_000, true);
    p = pause(p, 13_000);
    p = tick(p, [holds], 90_000, true);
    expect(worked(p, 90_000)).toBe(10);
    p = tick(start(p, 90_000), [holds], 98_000, true);
    expect(worked(p, 98_000)).toBe(15);
  });

  it("gathers a hold in two halves", () => {
    let p = { ...next(begin("d", "own", false), [holds], 0), halves: true };
    p = tick(start(p, 0), [holds], 18_500, true);
    expect(p).toMatchObject({ phase: "break", before: 15_000, since: 18_000 });
    p = tick(p, [holds], 26_000, true);
    expect(p.phase).toBe("lead");
    p = run(p, [holds], 26_000, 18_100);
    expect(p.done[0]?.sides[0]?.done).toEqual([30]);
  });

  it("fills in what was reached: stopped, cramped or too much", () => {
    const at = (s: number) =>
      tick(start(next(begin("d", "own", false), [raises], 0), 0), [raises], 3000 + 1000 * s, true);
    expect(stopped(at(13), [raises], 16_000).sides[0]?.done).toEqual([2]);
    const c = cramped(at(13), [raises], 16_000);
    expect(c.sides[0]).toMatchObject({ done: [2], cramp: 2 });
    expect(now(c)?.name).toBe("right");
    const after = run(c, [raises], 16_000, 100_000);
    expect(after.done[0]?.sides.map((s) => s.done)).toEqual([[2], [3, 3]]); // the cramped side is over for today
    expect(tooMuch(at(13), 16_000)).toMatchObject({ phase: "paused", before: 0, sides: [{ done: [2] }, { done: [] }] });
    expect(cramped(at(1), [raises], 4000).sides[0]).toMatchObject({ done: [1], cramp: 1 });
    const resting = stopped(at(13), [raises], 16_000); // of the left set; the right one is next
    expect(cramped(resting, [raises], 17_000)).toMatchObject({
      turn: resting.turn,
      sides: [
        { done: [2], cramp: 2 },
        { done: [], cramp: 0 },
      ],
    });
  });

  it("tells what hurt by itself, and ends both sides above the limit", () => {
    const at = tooMuch(tick(start(next(begin("d", "own", false), [raises], 0), 0), [raises], 16_000, true), 16_000);
    const little = hurts(at, 4, [raises], 17_000);
    expect(now(little?.then as Play)?.name).toBe("right");
    const much = hurts(at, 6, [raises], 17_000);
    expect(much?.then.phase).toBe("end");
    expect(report(much!.did, much!.side, "d", () => 6, null, [])).toMatchObject([
      { body: { prescription: "raises left", done: [2, 0], pain: 6, rpe: -1 } },
    ]);
    expect(reports(much!.then, nothing())).toEqual([]); // told, and the other side was not tried
    const pressed = tick(start(next(begin("d", "own", false), [press], 0), 0), [press], 16_000, true);
    const hard = hurts(tooMuch(pressed, 16_000), 8, [press], 17_000);
    expect(report(hard!.did, hard!.side, "d", () => 8, null, [])).toMatchObject([{ body: { done: [13], pain: 8 } }]);
  });

  it("goes back a set, or an exercise, and does it again", () => {
    let p = run(start(next(begin("d", "own", false), [holds, raises], 0), 0), [holds, raises], 0, 34_000);
    expect(p.item?.exercise.id).toBe("raises");
    p = back(p, 40_000);
    expect(p).toMatchObject({ phase: "ready", turn: 0, done: [] });
    expect(p.item?.exercise.id).toBe("holds");
    p = over(p, [holds, raises], 41_000, "no time");
    expect(p.done[0]?.skipped).toBe("no time");
  });

  it("asks how the pressure was before it goes on", () => {
    const p = run(start(next(begin("d", "own", false), [press], 0), 0), [press], 0, 40_000);
    expect(p.phase).toBe("ask");
  });

  it("leaves what was begun as far as it came", () => {
    let p = tick(start(next(begin("d", "own", false), [raises], 0), 0), [raises], 22_000, true);
    p = leftBehind(p);
    expect(p).toMatchObject({ phase: "end", item: null });
    expect(p.done[0]?.sides.map((s) => s.done)).toEqual([[3], []]);
    expect(leftBehind(next(begin("d", "own", false), [raises], 0)).done).toEqual([]);
  });

  it("tells each thing once", () => {
    const keys: string[] = [];
    let p = start(next(begin("d", "own", false), [raises], 0), 0);
    for (let t = 0; t < 22_000; t += 50) {
      p = tick(p, [raises], t, true);
      const key = cueOf(p, t)?.key ?? "";
      if (keys.at(-1) !== key) keys.push(key);
    }
    expect(new Set(keys).size).toBe(keys.length);
    expect(keys.filter((x) => x.includes(".lead."))).toHaveLength(3);
    expect(keys.filter((x) => x.startsWith("0.0.work."))).toHaveLength(9); // three repetitions of three beats
  });
});

describe("what is asked at the end", () => {
  const did = (i: Item, done: number[][]) => ({
    item: i,
    short: false,
    skipped: "",
    sides: done.map((d) => ({ done: d, cramp: 0, discomfort: i.release ? 4 : null, told: false })),
  });
  const p: Play = {
    ...begin("2026-05-04", "own", false),
    phase: "end",
    done: [
      did(raises, [
        [3, 3],
        [3, 2],
      ]),
      did(holds, [[30]]),
      did(press, [[30]]),
    ],
  };
  const pains = (a = nothing()) => reports(p, a).map((r) => r.body as { prescription: string; pain: number });

  it("is unknown until it is answered", () => {
    expect(pains().map((b) => b.pain)).toEqual([-1, -1, -1, -1, 4]);
    expect(open(p, nothing())).toBe("pain and effort");
    expect(missing(p, nothing())).toBe("");
    expect(reports(p, nothing()).every((r) => (r.body as { rpe: number }).rpe === -1)).toBe(true);
  });

  it("counts for all until it is said which, and for nothing else then", () => {
    const a = { ...nothing(), pain: { left: 3, right: 0 }, effort: 6 };
    expect(pains(a).map((b) => [b.prescription, b.pain])).toEqual([
      ["raises left", 3],
      ["raises right", 0],
      ["holds l", 3],
      ["holds r", 0],
      ["press right", 4],
    ]);
    expect(pains({ ...a, which: { left: ["holds"], right: [] } }).map((b) => b.pain)).toEqual([0, 0, 3, 0, 4]);
    expect(open(p, a)).toBe("");
  });

  it("asks for both legs or for none", () => {
    expect(missing(p, { ...nothing(), pain: { left: 2, right: null } })).toContain("right");
    expect(asked(p)).toEqual(["left", "right"]);
    expect(hurtable(p, "left").map((i) => i.exercise.id)).toEqual(["raises", "holds"]);
  });

  it("tells no side twice, and nothing of what was not done", () => {
    const q = structuredClone(p);
    if (q.done[0]?.sides[0]) q.done[0].sides[0].told = true;
    if (q.done[1]?.sides[0]) q.done[1].sides[0].done = [];
    expect(reports(q, nothing()).map((r) => (r.body as { prescription: string }).prescription)).toEqual([
      "raises right",
      "press right",
    ]);
  });
});
