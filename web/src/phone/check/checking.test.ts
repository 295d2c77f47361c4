import { describe, expect, it } from "vitest";
import { answer, back, begin, next, steps, told, whole, worst, type Offer } from "./checking";

const offer = (id: string, kind: string, more: object = {}, may = [true, true]) =>
  ({
    id,
    kind,
    sides: ["left", "right"].map((side, i) => ({ side, may: may[i], why: "" })),
    ...more,
  }) as unknown as Offer;
const check = (heels = [true, true]) => ({
  items: [
    offer("heels", "pain", {}, heels),
    offer("open", "hold"),
    offer("closed", "hold", { after: "open", atLeast: 30 }),
  ],
  last: [],
});
const at = (c: Parameters<typeof next>[0], all = steps(check())) => {
  const s = next(c, all);
  return s ? `${s.offer.id} ${s.side.side}` : "";
};

describe("a self-check", () => {
  const all = steps(check());
  const say = (c: Parameters<typeof next>[0], value: number, more = {}) => {
    const s = next(c, all);
    return s ? answer(c, s, [{ item: s.offer.id, side: s.side.side, value, ...more }]) : c;
  };

  it("stands where it follows from the answers, also when meanwhile something may not be done any more", () => {
    let c = say(begin("2026-05-04"), 4, { where: "arch" });
    expect(at(c)).toBe("heels right");
    expect(at(c, steps(check([false, false])))).toBe("open left");
    expect([told(c), worst(c)]).toEqual([true, 4]);
    c = say(say(say(c, 0), 12), 45); // the left leg was not steady
    expect(at(c)).toBe("closed right");
    expect(
      whole(c, all)
        .tries.filter((t) => t.skipped)
        .map((t) => `${t.item} ${t.side}`),
    ).toEqual(["closed left"]);
    expect(at(back(c, all))).toBe("open right");
    expect(at(say(back(c, all), 45, { hand: true }))).toBe(""); // held on opens nothing
  });

  it("holds one answer of each, and goes back to before the first", () => {
    const [first] = all;
    const c = say(begin("2026-05-04"), 3, { where: "arch" });
    expect(first && answer(c, first, [{ item: "heels", side: "left", value: 1 }]).tries).toHaveLength(1);
    expect(back(back({ ...c, begun: true }, all), all).begun).toBe(false);
    expect(told(back(c, all))).toBe(false);
  });
});
