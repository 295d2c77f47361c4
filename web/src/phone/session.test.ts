import { expect, test } from "vitest";
import { asks, blank, hurting, logsOf, missing, sets, type Item, type Typed } from "./session";

const side = (s: "left" | "right", more: object = {}) => ({
  side: s,
  dose: { text: "2 × 8", sets: 2, amount: 8, unit: "repetitions", timed: false, perDay: 1 },
  short: { text: "1 × 8", sets: 1, amount: 8, unit: "repetitions", timed: false, perDay: 1 },
  prescriptions: [s + "-id"],
  exact: { kind: "repetitions", sets: 2, reps: 8 },
  exactShort: { kind: "repetitions", sets: 1, reps: 8 },
  ...more,
});
const item = (more: object = {}) =>
  ({
    exercise: { id: "one_floor", name: "One-leg raises, floor", trainsLegs: "one", faults: ["rushed"] },
    release: false,
    ends: 5,
    asks: 5,
    sides: [side("left"), side("right")],
    ...more,
  }) as unknown as Item;
const told = (done: string[], pain: number | null = 0, cramp = "") => ({ done, pain, cramp });
const typed = (part: Partial<Typed>): Typed => ({ ...blank(item()), odd: false, ...part });

test("it is kept when each side's work and pain are said, and whether anything is odd", () => {
  const good = typed({ told: [told(["8", "8"]), told(["8", ""])] });
  expect(missing(item(), good, 7200)).toBe("");
  expect(missing(item(), typed({ told: [told([]), told([" ", ""])] }), 7200)).toContain("Enter what you did");
  expect(missing(item(), { ...good, told: [told(["8"]), told(["8"], null)] }, 7200)).toContain("Tap the pain");
  expect(missing(item({ release: true }), { ...good, told: [told(["8"]), told(["8"], null)] }, 7200)).toContain(
    "discomfort",
  );
  expect(missing(item(), { ...good, odd: null }, 7200)).toContain("new or odd");
});

test.each(["8.5", "-1", "7201", "eight", "1e2", "0x10"])("a set of %s is refused with its text", (n) => {
  expect(missing(item(), typed({ told: [told([n]), told(["8"])] }), 7200)).toContain(`“${n}”`);
});

test.each(["7201", "-1", "x"])("a cramp at %s is refused", (n) => {
  expect(missing(item(), typed({ told: [told(["8"], 0, n), told(["8"])] }), 7200)).toContain("cramp");
});

test("the short version drops nothing that was typed before", () => {
  expect(sets(told(["8", "7"]), 1)).toEqual(["8", "7"]);
  expect(sets(told(["8", ""]), 1)).toEqual(["8"]);
  expect(sets(told([]), 2)).toEqual(["", ""]);
});

test("each prescription gets its log, with what was shown", () => {
  const t = typed({ told: [told(["8", "6"], 2, "5"), told(["8"], 3)], rpe: 7, faults: ["rushed"] });
  const logs = logsOf(item(), t, "2026-11-26", false).map((r) => r.body);
  expect(logs).toEqual([
    {
      prescription: "left-id",
      on: "2026-11-26",
      done: [8, 6],
      rpe: 7,
      pain: 2,
      crampAt: 5,
      faults: ["rushed"],
      shown: { exercise: "one_floor", dose: { kind: "repetitions", sets: 2, reps: 8 } },
    },
    expect.objectContaining({ prescription: "right-id", done: [8, 0], pain: 3, crampAt: 0 }),
  ]);
  const short = logsOf(item(), { ...t, rpe: null }, "2026-11-26", true)[1]?.body;
  expect(short).toMatchObject({ short: true, done: [8], rpe: -1, shown: { dose: { sets: 1 } } });
  const thrice = item({ sides: [side("left", { dose: { ...side("left").dose, perDay: 3 } })] });
  expect(logsOf(thrice, { ...t, times: 2 }, "2026-11-26", false)[0]?.body).toMatchObject({ times: 2 });
});

test("pain above what the core says ends an exercise, and asks the warning signs", () => {
  const at = (pain: number) => typed({ told: [told(["8"], pain), told(["8"])] });
  const two = item({ ends: 2 });
  expect([2, 3, 5, 6].map((n) => hurting(two, at(n)))).toEqual([false, true, true, true]);
  expect([2, 3, 5, 6].map((n) => asks(two, at(n)))).toEqual([false, false, false, true]);
});
