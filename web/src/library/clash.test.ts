import { expect, test } from "vitest";
import { draws } from "../phone/fake";
import { laid } from "./clash";
import type { CatalogRail } from "./Library";

const start = {
  id: "calf_own",
  name: "Calf",
  short: "Calf",
  perWeek: 3,
  trains: ["calf"],
  faults: ["rushed"],
  exercises: ["a", "b", "c"].map((id) => ({ id, name: id, doses: ["2 × 8"] })),
} as unknown as CatalogRail;

test("what one of two changed stands, and what both changed is asked, whichever it is", () => {
  const asked = new Set<string>();
  for (let i = 0; i < 400; i++) {
    const draw = draws(i);
    const edit = (): CatalogRail => ({
      ...start,
      name: draw() < 0.4 ? `Calf ${Math.floor(draw() * 2)}` : start.name,
      perWeek: draw() < 0.4 ? 2 + Math.floor(draw() * 3) : start.perWeek,
      trains: draw() < 0.4 ? ["calf", draw() < 0.5 ? "foot" : "hip"] : start.trains,
      exercises: start.exercises
        .filter(() => draw() < 0.85)
        .map((e) => (draw() < 0.3 ? { ...e, doses: [draw() < 0.5 ? "3 × 8" : "2 × 12"] } : e)),
    });
    const [mine, theirs] = [edit(), edit()];
    const { rail, both } = laid(start, mine, theirs);
    const theirsTaken = both.reduce((r, e) => e.take(r), rail);
    const entries: Record<string, (r: CatalogRail) => unknown> = {
      name: (r) => r.name,
      perWeek: (r) => r.perWeek,
      trains: (r) => r.trains.join(),
      ...Object.fromEntries(
        ["a", "b", "c"].map((id) => [id, (r: CatalogRail) => r.exercises.find((e) => e.id === id)?.doses.join()]),
      ),
    };
    for (const [key, get] of Object.entries(entries)) {
      const [s, m, t] = [get(start), get(mine), get(theirs)];
      const clash = m !== s && t !== s && m !== t;
      expect(
        both.some((e) => e.key === key),
        key,
      ).toBe(clash);
      expect(get(rail), `${key}, before anything is chosen`).toBe(clash || t === s ? m : t);
      expect(get(theirsTaken), `${key}, theirs chosen`).toBe(t === s ? m : t);
      if (clash) asked.add(key);
    }
  }
  expect([...asked].sort()).toEqual(["a", "b", "c", "name", "perWeek", "trains"]);
});
