import { afterEach, expect, test, vi } from "vitest";
import { Browser, Server } from "./fake";
import samples from "./testdata/earlier.json";

const phones: Browser[] = [];
afterEach(() => {
  for (const b of phones.splice(0)) b.quit();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

type Sample = Record<string, string>;
const waiting = (s: Sample) => JSON.parse(s.outbox ?? "[]") as { body: unknown; refused?: string }[];

function phoneOf(server: Server, sample: Sample) {
  const b = new Browser(server);
  phones.push(b);
  for (const [k, v] of Object.entries(sample)) localStorage.setItem(k, v);
  return b;
}

test.each(Object.entries(samples))("what release %s kept is moved over and sent", async (_, sample: Sample) => {
  const server = new Server();
  server.down = true;
  const b = phoneOf(server, sample);
  const t = await b.tab();
  expect(t.kept().link).toBe("lark-1");
  expect(t.mine(t.kept()).map((e) => e.body)).toEqual(waiting(sample).map((e) => e.body));
  expect(t.lockedHere(t.kept())).toEqual(JSON.parse(sample.locked ?? "[]"));
  expect(t.note(t.kept(), "morning")).toBe(sample.morning);
  expect(t.note(t.kept(), "done 2026-11-25 one_floor")).toBe(sample["done 2026-11-25 one_floor"]);
  expect(t.note(t.kept(), "intake draft")).toEqual(JSON.parse(sample["intake draft"] ?? "null") ?? undefined);
  expect(localStorage.getItem("theme"), "what is not the phone page's stays").toBe(sample.theme ?? null);
  expect(localStorage.getItem("outbox")).toBeNull();
  server.down = false;
  await t.sync();
  expect(server.got.map((g) => [g.runner, g.kind])).toContainEqual(["lark", "signs"]);
  const sent = waiting(sample).filter((e) => !e.refused);
  expect(server.got).toHaveLength(sent.length);
  expect(t.kept().entries.map((e) => e.refused)).toEqual(waiting(sample).flatMap((e) => e.refused ?? []));
});

test("moving over that breaks off loses nothing, and doubles nothing when it is done again", async () => {
  const server = new Server();
  server.down = true;
  const sample: Sample = samples["2026.11.11"];
  const b = phoneOf(server, sample);
  const full = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
    throw new DOMException("no room", "QuotaExceededError");
  });
  const held = await b.tab(); // it goes on from memory
  expect(held.kept()).toMatchObject({ link: "lark-1", runner: "lark", loose: true });
  expect(held.kept().entries).toHaveLength(4);
  expect(held.lockedHere(held.kept())).toHaveLength(1);
  expect(JSON.parse(localStorage.getItem("outbox") ?? "")).toHaveLength(4);
  b.quit();
  full.mockRestore();
  const remove = localStorage.removeItem;
  vi.stubGlobal("localStorage", { ...localStorage, removeItem: () => undefined }); // it ends before it cleans up
  await b.tab();
  b.quit();
  vi.stubGlobal("localStorage", { ...localStorage, removeItem: remove });
  const t = await b.tab();
  expect(t.kept().entries.map((e) => e.id)).toHaveLength(4);
  expect(new Set(t.kept().entries.map((e) => e.id)).size).toBe(4);
});

test("a session is kept whole or not at all, with its mark", async () => {
  const server = new Server();
  const b = phoneOf(server, {});
  const t = await b.tab("lark-1");
  await t.sync();
  server.down = true;
  const put = IDBObjectStore.prototype.put;
  let n = 0;
  vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(function (this: IDBObjectStore, ...a) {
    if (++n === 2) throw new DOMException("the battery is dead", "AbortError");
    return put.apply(this, a);
  });
  const both = ["left", "right"].map((side) => ({ kind: "logs" as const, body: { side }, label: "Calf raises" }));
  await t.put(both, { "done 2026-11-25 x": "1" });
  vi.restoreAllMocks();
  b.quit();
  const again = await b.tab();
  expect(again.kept().entries).toEqual([]);
  expect(again.note(again.kept(), "done 2026-11-25 x")).toBeUndefined();
});

test("marks of sessions go after some days, others stay", async () => {
  const server = new Server();
  const t = await phoneOf(server, {}).tab("lark-1");
  await t.sync();
  await t.put([], {
    "done 2020-01-01 old": "1",
    [`done ${new Date().toISOString().slice(0, 10)} new`]: "1",
    morning: "2020-01-01",
  });
  await t.sync();
  const names = [...t.kept().notes.keys()].map((k) => k.split(" ").pop());
  expect(names.filter((n) => n !== "contact").sort()).toEqual(["morning", "new"]);
});
