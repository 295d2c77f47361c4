import { afterEach, expect, test } from "vitest";
import { readIn } from "./reader";
import { amountIn, shortIn, stored, typedIn, unitOf } from "./units";

const american = { length: "in", mass: "lb", distance: "mi" } as const;
afterEach(() => readIn(undefined));

// NIST SP 811 (2008), appendix B.8: 1 in = 2.54 cm, 1 lb = 0.453 592 37 kg, 1 mi = 1.609 344 km, all exact.
test("figures are read by the published factors", () => {
  readIn(american);
  expect([amountIn("cm", 25.4), amountIn("kg", 45.359237), amountIn("km", 42.195), amountIn("km/h", 16.09344)]).toEqual(
    ["10.00 in", "100.0 lb", "26.2 mi", "10.0 mph"],
  );
  expect([amountIn("°", 40), amountIn("mm", 12, 0), shortIn("cm", 30)]).toEqual(["40.0°", "12 mm", "11.81 in"]);
});

test("without a choice everything is read as it is stored", () => {
  for (const unit of ["cm", "kg", "km", "km/h", "mm", ""]) {
    expect(unitOf(unit)).toBe(unit);
    expect(stored(unit, "12,5 x")).toBe("12,5 x");
    expect(typedIn(unit, "12.5")).toBe("12.5");
  }
});

test("what is typed in the other unit comes back as it was typed, whatever the figure", () => {
  readIn(american);
  for (const unit of ["cm", "kg", "km", "km/h"])
    for (let n = 0; n <= 400; n += 0.25) {
      const text = String(n);
      expect(typedIn(unit, stored(unit, text))).toBe(text);
    }
});

test("a list is turned figure by figure, and what is no number stays", () => {
  readIn(american);
  expect(stored("kg", "10 12,5; x 20")).toBe("4.5359 5.6699; x 9.0718");
  expect(stored("cm", "")).toBe("");
});
