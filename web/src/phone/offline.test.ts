import { expect, test } from "vitest";
import type { Bundle } from "./kept";
import { said, stands, withoutSignal, type Here, type Offline, type Said } from "./offline";
import cases from "./testdata/offline.json";

// Drawn from runners of the core, and compared with it there.
test.each(cases.map((c, i) => [i, c] as const))("case %i is answered as the core's own comparison does", (_, c) => {
  const side = c.side as unknown as Offline["days"][string][string];
  const all = c.said.map((s): Said => ({
    ...s,
    prescription: "prescriptions" in s ? s.prescriptions?.[0] : undefined,
  }));
  expect(stands(side, all).at ?? -2).toBe(c.at);
});

test("of what was reported, numbers of mornings and sessions are told", () => {
  expect(
    said([
      { kind: "mornings", body: { region: "calf", side: "left", pain: 4 } },
      { kind: "mornings", body: { region: "whole_person", side: "both", pain: 0, quiet: true } },
      { kind: "logs", body: { prescription: "p", pain: 6, done: [8] } },
      { kind: "runs", body: { minutes: 30 } },
    ]),
  ).toEqual([
    { pain: 4, region: "calf", side: "left" },
    { pain: 6, prescription: "p" },
  ]);
});

const side = (id: string, name: "left" | "right") => ({ side: name, dose: { text: "3 × 8" }, prescriptions: [id] });
const item = (id: string, alone: boolean, sides = [side(id, "left")]) => ({
  rail: id,
  name: id,
  exercise: { id, name: id },
  slot: "own",
  alone,
  done: false,
  mind: [],
  sides,
});
const session = {
  on: "2026-03-02",
  items: [item("raise", false, [side("raise-l", "left"), side("raise-r", "right")]), item("yoga", true)],
  kept: [],
  seconds: 600,
  race: "",
};
const bundle = { state: "7", askAfterH: 24, aloneAfterH: 72 } as unknown as Bundle;
const high = { region: "calf", side: "left", atLeast: 4, why: "a very bad morning" };
const table = {
  state: "7",
  runner: "r",
  kinds: { floor: { ...item("floor", false, []), rail: "raise", name: "raise" } },
  days: {
    "2026-03-02": {
      "raise-l": {
        rows: ["raise-l"],
        once: false,
        against: [{ ...high, atLeast: 2 }],
        unless: [{ ...high, atLeast: 2, why: "well above usual" }],
        instead: [
          { unless: [high], does: [{ kind: "floor", mind: ["slowly"], seconds: 60, ...side("raise-l", "left") }] },
        ],
      },
      "raise-r": { rows: ["raise-r"], once: false, against: [], unless: [], instead: [] },
      yoga: { rows: ["yoga"], once: false, against: [], unless: [], instead: [] },
    },
  },
} as unknown as Offline;
const quiet: Here = { all: [], table, hours: 1, asked: false, done: () => false };
const look = (here: Partial<Here>) => {
  const s = withoutSignal(bundle, session as never, { ...quiet, ...here });
  return {
    shown: s.items.map((i) => `${i.exercise.id} ${i.sides.map((x) => x.side).join("+")}`),
    kept: s.kept.map((k) => `${k.name} ${k.side}: ${k.why.join()}`),
    ask: s.ask,
  };
};
const calf = (pain: number, of = "left"): Said => ({ pain, region: "calf", side: of });

test("nothing told, and contact of late: the session as it is", () => {
  expect(look({}).shown).toEqual(["raise left+right", "yoga left"]);
});

test("what is told takes away one side, or lowers it; both legs are each leg", () => {
  expect(look({ all: [calf(1)] }).shown).toEqual(["raise left+right", "yoga left"]);
  expect(look({ all: [calf(2)] }).shown).toEqual(["floor left", "raise right", "yoga left"]);
  expect(look({ all: [calf(3, "both")] }).shown).toEqual(["floor left", "raise right", "yoga left"]);
  expect(look({ all: [calf(9, "right")] }).shown).toEqual(["raise left+right", "yoga left"]);
  expect(look({ all: [calf(4)] })).toMatchObject({
    shown: ["raise right", "yoga left"],
    kept: ["raise left: well above usual"],
  });
});

test("one side less of the same exercise stands beside the other, once", () => {
  const day = table.days["2026-03-02"];
  const left = day?.["raise-l"];
  const does = left?.instead[0]?.does[0];
  if (!day || !left || !does) throw new Error("the table has a row");
  const kinds = { raise: { ...table.kinds["floor"], exercise: { id: "raise", name: "raise" }, rail: "raise" } };
  const same = {
    ...table,
    kinds,
    days: {
      "2026-03-02": { ...day, "raise-l": { ...left, instead: [{ unless: [], does: [{ ...does, kind: "raise" }] }] } },
    },
  } as unknown as Offline;
  expect(look({ table: same, all: [calf(3)] }).shown).toEqual(["raise left+right", "yoga left"]);
});

test("what was done stays to be seen as done", () => {
  const done = (id: string) => (x: string) => x === id;
  const all = [calf(3), { pain: 0, prescription: "raise-l" }];
  expect(look({ all, done: done("raise") }).shown[0]).toBe("raise left+right");
  expect(look({ all, done: done("floor") }).shown[0]).toBe("floor left");
  expect(look({ all }).kept).toEqual(["raise left: a very bad morning"]);
});

test("without its table whatever hurts takes away what may not be done alone", () => {
  for (const t of [undefined, { ...table, state: "6" }]) {
    expect(look({ table: t, all: [calf(0)] }).shown).toEqual(["raise left+right", "yoga left"]);
    expect(look({ table: t, all: [calf(1, "right")] }).shown).toEqual(["yoga left"]);
  }
});

test("a day without contact asks for marks and signs; three days leave what may be done alone", () => {
  expect(look({ hours: 23.9 }).ask).toBe(false);
  expect(look({ hours: 24 })).toMatchObject({ shown: ["yoga left"], ask: true });
  expect(look({ hours: 71.9, asked: true })).toMatchObject({ shown: ["raise left+right", "yoga left"], ask: false });
  expect(look({ hours: 72, asked: true })).toMatchObject({ shown: ["yoga left"], ask: false });
});
