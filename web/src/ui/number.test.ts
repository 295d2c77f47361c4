import { describe, expect, test } from "vitest";
import { draws } from "../phone/fake";
import { fixed, parse, parseCount, parseList, withUnit, write } from "./number";

describe("parse", () => {
  test.each([
    ["7", 7],
    [" 7.5 ", 7.5],
    ["7,5", 7.5],
    ["-3", -3],
    ["−3,25", -3.25],
    ["–3", -3],
    ["0", 0],
    [".5", 0.5],
    [",5", 0.5],
    ["5.", 5],
  ])("%j is %d", (text, n) => expect(parse(text)).toBe(n));
  test.each([
    "",
    " ",
    "seven",
    "7cm",
    "1e2",
    "0x10",
    "1,000.5",
    "1.2.3",
    "1,2,3",
    "--3",
    "3-",
    "+",
    "-",
    ".",
    "NaN",
    "Infinity",
    "7 8",
  ])("%j is no number", (text) => expect(parse(text)).toBeNull());
  test("what is written is read as the same number", () => {
    const draw = draws(14);
    for (let i = 0; i < 2000; i++) {
      const decimals = Math.floor(draw() * 4);
      const n = Number(((draw() - 0.5) * 10 ** Math.floor(draw() * 5)).toFixed(decimals));
      expect(parse(write(n, decimals))).toBeCloseTo(n, 10);
      expect(parse(fixed(n, decimals))).toBeCloseTo(n, 10);
      expect(parse(write(n, decimals).replace(".", ","))).toBeCloseTo(n, 10);
    }
  });
});

test("a count is whole and not negative", () => {
  expect(["12", " 0 ", "1.5", "-1", "1,5", "", "1e2"].map(parseCount)).toEqual([12, 0, null, null, null, null, null]);
});

test("in a list a comma belongs to a number", () => {
  expect(parseList("2,5 4; 6.5\n 10")).toEqual([2.5, 4, 6.5, 10]);
  expect(parseList("4, 6"), "one after a number is no harm").toEqual([4, 6]);
  expect(parseList("4 x")).toEqual([4, null]);
});

test("figures are written without needless noughts, and nothing is minus nought", () => {
  expect([7, 7.5, 7.04, -3.26, -0.01, 0, 1200].map((n) => write(n))).toEqual([
    "7",
    "7.5",
    "7",
    "−3.3",
    "0",
    "0",
    "1200",
  ]);
  expect([10, 100].map((n) => write(n, 0))).toEqual(["10", "100"]);
  expect([7, -0.004, -2.5].map((n) => fixed(n, 2))).toEqual(["7.00", "0.00", "−2.50"]);
  expect([withUnit("7", "cm"), withUnit("7", "°"), withUnit("7", "")]).toEqual(["7 cm", "7°", "7"]);
});
