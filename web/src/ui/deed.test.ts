import { expect, test } from "vitest";
import { writeIds } from "./deed";

test("a write tried again is the same write; one that says something else, or comes after it, is another", () => {
  const ids = writeIds();
  const first = ids.of({ pain: 3, side: "left" });
  expect(ids.of({ pain: 3, side: "left" })).toBe(first);
  const other = ids.of({ pain: 4, side: "left" });
  expect(other).not.toBe(first);
  expect(ids.of({ pain: 3, side: "left" }), "said again after all").toBe(first);
  ids.done();
  expect(ids.of({ pain: 3, side: "left" })).not.toBe(first);
});
