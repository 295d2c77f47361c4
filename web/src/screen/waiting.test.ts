import { beforeEach, expect, test, vi } from "vitest";
import { newId } from "../api/id";
import { keep, kept, type Waiting } from "./waiting";

beforeEach(() => {
  const all: Record<string, string> = {};
  const store = {
    getItem: (k: string) => all[k] ?? null,
    setItem: (k: string, v: string) => {
      all[k] = v;
    },
    removeItem: (k: string) => {
      delete all[k];
    },
  };
  vi.stubGlobal(
    "localStorage",
    new Proxy(store, {
      ownKeys: () => Object.keys(all),
      getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
    }),
  );
});

const trial = (value: number): Waiting => ({ id: newId(), body: { measure: "m", side: "left", value } });

test("trials are kept by screen, in the order they were entered, and two windows leave each other's alone", () => {
  vi.useFakeTimers();
  const [a, b, c] = [6, 6.5, 7].map((v) => {
    vi.advanceTimersByTime(1);
    return trial(v);
  }) as [Waiting, Waiting, Waiting];
  keep("one", [b], []);
  keep("one", [a, c], []); // another window, which never saw b
  keep("two", [trial(1)], []);
  expect(kept("one").map((w) => w.body.value)).toEqual([6, 6.5, 7]);
  keep("one", [c], [a, c]);
  expect(
    kept("one").map((w) => w.body.value),
    "b is the other's to forget",
  ).toEqual([6.5, 7]);
  keep("one", [{ ...c, why: "too much" }], [c]);
  expect(kept("one").map((w) => w.why)).toEqual([undefined, "too much"]);
  expect(kept("two")).toHaveLength(1);
  vi.useRealTimers();
});

test("what cannot be read is put away, the rest stays", () => {
  keep("one", [trial(6)], []);
  localStorage.setItem("trial one x", "{");
  expect(kept("one")).toHaveLength(1);
  expect(localStorage.getItem("trial one x")).toBeNull();
});
