import { describe, expect, it } from "vitest";
import { between, bucketsOf, plus, sentence, type StripDay } from "./lanes";

const day = (on: string, part: Partial<StripDay> = {}): StripDay => ({ on, says: `${on} said`, ...part });

describe("the columns of the strip", () => {
  it("are days over a short time and weeks from Monday over a long one, the empty ones too", () => {
    expect(bucketsOf([], "2026-03-02", "2026-03-08").map((b) => b.from)).toHaveLength(7);
    const weeks = bucketsOf([], "2024-03-06", "2026-03-05"); // a Wednesday to a Thursday
    expect(weeks[0]?.from).toBe("2024-03-04");
    expect(weeks).toHaveLength(105);
    expect(weeks.every((b) => new Date(b.from).getUTCDay() === 1)).toBe(true);
  });

  it("hold the sum of their days and the worst of their mornings, and leave out what lies outside", () => {
    const all = [
      day("2026-03-01", { run: { easy: 99 } }),
      day("2026-03-02", { run: { easy: 30 }, calf: 5000, planned: 4, done: 3, mornings: [{ place: 0, pain: 2 }] }),
      day("2026-03-04", {
        run: { easy: 20, hills: 15 },
        mornings: [{ place: 0, pain: 4 }],
        moves: ["up", "up", "back"],
      }),
      day("2026-03-20", { stops: ["calf swollen"] }),
    ];
    const [week] = bucketsOf(all, "2026-03-02", "2026-08-02");
    expect([week?.minutes, week?.run["hills"], week?.done, week?.planned, week?.worst.get(0)]).toEqual([
      65, 15, 3, 4, 4,
    ]);
    const says = sentence(week!, [{ region: "heel_sole", side: "left", name: "left sole" }], true, (d) => d);
    expect(says).toBe(
      "Week of 2026-03-02: 65 min run; 5000 calf-load steps; 3 of 4 rails done; first steps left sole up to 4; 2 × up; 1 × back",
    );
  });

  it("say a day in the words of the server, and that nothing was told where nothing was", () => {
    const [one, two] = bucketsOf([day("2026-03-02")], "2026-03-02", "2026-03-03");
    expect(sentence(one!, [], false, (d) => d)).toBe("2026-03-02 said");
    expect(sentence(two!, [], false, (d) => d)).toBe("2026-03-03: nothing was told");
  });

  it("count days over a change of clocks", () => {
    expect(between("2026-03-28", plus("2026-03-28", 3))).toBe(3);
    expect(plus("2026-12-31", 1)).toBe("2027-01-01");
  });
});
