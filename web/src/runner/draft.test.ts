import { describe, expect, test } from "vitest";
import { Problem } from "../api/problem";
import { draws } from "../phone/fake";
import { draftOf, figure, profileOf, type Profile } from "./draft";
import { merge, type Sheet } from "./merge";

function profile(draw: () => number): Profile {
  const any = <T>(...list: T[]) => list[Math.floor(draw() * list.length)] as T;
  const n = (most: number, step = 1) => Math.round((draw() * most) / step) * step;
  return {
    birthDate: "1985-05-05",
    sex: any("", "female", "male"),
    heightCm: n(190),
    massKg: n(90, 0.5),
    legMm: n(900),
    footMm: n(270),
    footWidthMm: n(100),
    bigToeMm: n(60),
    weeklySessions: n(6),
    weeklyMinutes: 1 + n(300),
    weeklyKm: n(60, 0.5),
    longestRunKm: n(30, 0.5),
    sittingHours: n(10),
    standingHours: n(10),
    sessionMinutes: n(40),
    goal: "distance",
    goalWords: any("", "the causeway"),
    notRunning: draw() < 0.2,
    surfaces: any<string[]>([], ["road", "grass"]),
    history: { injuries: any("", "ankle"), prescribed: "", sprain: draw() < 0.5 },
    runs:
      draw() < 0.5
        ? []
        : [
            { weekday: 2, minutes: 40, quality: "easy" },
            { weekday: 2, minutes: 20, quality: "quality", time: "evening" },
          ],
    minutesByDay: Array.from({ length: 7 }, () => n(30)),
    equipment: {
      dumbbellsKg: any<number[]>([], [2.5, 4]),
      platesMm: any<number[]>([], [5, 10]),
      rollersCm: [],
      bands: any<string[]>([], ["light"]),
      stepCm: n(20),
      strap: draw() < 0.5,
      roll: false,
      softBall: false,
      firmBall: draw() < 0.5,
    },
    shoes:
      draw() < 0.5
        ? []
        : [
            {
              name: "Reed",
              massG: 240,
              heelMm: 30,
              forefootMm: 22,
              technologies: n(3),
              lengthwise: n(2.5, 0.5),
              twisting: n(2.5, 0.5),
              flexed: true,
              widthMm: 90,
              km: n(400),
              worn: "daily",
            },
          ],
    races: draw() < 0.5 ? [] : [{ on: "2026-12-20", km: 21.1, name: "Causeway", minor: false }],
    structural: draw() < 0.5 ? [] : [{ measure: "ankle.bend", side: "left", word: "bone" }],
    symptoms:
      draw() < 0.5 ? [] : [{ region: "heel_sole", side: "left", worst: n(10), baseline: n(5), when: ["morning"] }],
    cautions: any<string[]>([], ["bmi"]),
    guardianConsent: false,
    cautionNotes: {},
    touch: { left: true, right: false },
    heavyAllowed: "",
    approaches: any<Record<string, string>>({}, { pain: "none" }),
  } as unknown as Profile;
}

test("what was recorded stands in the form, and is sent as it was", () => {
  for (let i = 0; i < 300; i++) {
    const p = profile(draws(i));
    expect(profileOf(draftOf(p))).toEqual(p);
  }
});

describe("figure", () => {
  test("a comma is a point, and nothing typed is nothing known", () => {
    expect([figure("mass", "70,5"), figure("mass", " 70.5 "), figure("mass", "")]).toEqual([70.5, 70.5, 0]);
    expect(figure("mass", "-3"), "what cannot be is refused by the server, with its limits").toBe(-3);
  });
  test.each(["seventy", "1e2", "0x10", "7 0"])("%j is refused by its field", (text) => {
    const refused = (() => {
      try {
        return figure("profile.massKg", text);
      } catch (e) {
        return e;
      }
    })();
    expect(refused).toBeInstanceOf(Problem);
    expect((refused as Problem).fields).toEqual({ "profile.massKg": "is not a number" });
  });
  test("half a session is none", () => expect(() => figure("weekly", "1.5", true)).toThrow("whole number"));
});

test("two editors of one intake: nothing typed is lost, nothing saved is undone, and what both changed is asked", () => {
  const keys = ["massKg", "footMm", "legMm"] as const;
  const asked = new Set<string>();
  for (let i = 0; i < 300; i++) {
    const draw = draws(i);
    const base: Sheet = { name: "Lark", zone: "UTC", draft: draftOf(profile(draws(1000 + i))) };
    const edit = (s: Sheet): Sheet => {
      const figures = { ...s.draft.figures };
      for (const k of keys) if (draw() < 0.5) figures[k] = String(Math.floor(draw() * 3) + 500);
      return {
        ...s,
        name: draw() < 0.3 ? `Lark ${Math.floor(draw() * 2)}` : s.name,
        draft: { ...s.draft, figures, cautions: draw() < 0.3 ? [draw() < 0.5 ? "bmi" : "clot"] : s.draft.cautions },
      };
    };
    const [mine, theirs] = [edit(base), edit(base)];
    let met = merge(base, mine, theirs);
    const of = (s: Sheet) =>
      ({
        name: s.name,
        cautions: s.draft.cautions.join(),
        ...Object.fromEntries(keys.map((k) => [`figures.${k}`, s.draft.figures[k]])),
      }) as Record<string, string | undefined>;
    const check = (choose: Record<string, "mine" | "theirs">) => {
      const [b, m, t, now] = [of(base), of(mine), of(theirs), of(met.sheet)];
      for (const k of Object.keys(b)) {
        const both = m[k] !== b[k] && t[k] !== b[k] && m[k] !== t[k];
        expect(
          met.rows.some((r) => r.key === k),
          k,
        ).toBe(both);
        const want = both ? (choose[k] === "theirs" ? t[k] : m[k]) : t[k] !== b[k] ? t[k] : m[k];
        expect(now[k], k).toBe(want);
        if (both) asked.add(k);
      }
    };
    check({});
    const choice: Record<string, "mine" | "theirs"> = {};
    for (const r of met.rows) {
      choice[r.key] = draw() < 0.5 ? "mine" : "theirs";
      met = met.choose(r.key, choice[r.key] ?? "mine", met.sheet);
    }
    check(choice);
    expect(met.rows.every((r) => r.chosen)).toBe(true);
  }
  expect([...asked].sort()).toEqual(["cautions", "figures.footMm", "figures.legMm", "figures.massKg", "name"]);
});
