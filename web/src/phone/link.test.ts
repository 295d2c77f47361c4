import { openDB } from "idb";
import { afterEach, expect, test, vi } from "vitest";
import { Browser, Server } from "./fake";

const phones: Browser[] = [];
afterEach(() => {
  for (const b of phones.splice(0)) b.quit();
  vi.unstubAllGlobals();
});

function phone(server = new Server()) {
  const b = new Browser(server);
  phones.push(b);
  return { server, b };
}
const morning = { kind: "mornings" as const, body: {}, label: "First steps" };

test("a link opened here is known by its id, and its secret stands nowhere any more", async () => {
  const { server, b } = phone();
  server.down = true;
  const t = await b.tab("lark-1");
  expect(location.hash, "the address is cleaned once the link is kept").toBe("");
  await t.put([morning]);
  await expect(t.sync()).rejects.toThrow();
  server.down = false;
  await t.sync();
  expect(t.kept().link).toBe("lark-1".padEnd(36, "_"));
  expect(server.got).toHaveLength(1);
  await t.put([morning]);
  server.down = true;
  await expect(t.sync()).rejects.toThrow();
  server.down = false;
  b.quit();
  const again = await b.tab();
  await again.sync();
  expect(again.kept().entries).toEqual([]);
  expect(server.got).toHaveLength(2);
  expect(server.asked.filter((x) => x.includes("/devices/"))).toHaveLength(1);
});

test("the same link tapped again without signal changes nothing; another's shows nothing before it is known", async () => {
  const { server, b } = phone();
  await (await b.tab("lark-1")).sync();
  b.quit();
  server.down = true;
  let t = await b.tab("lark-1");
  expect([t.kept().runner, t.kept().bundle?.runner]).toEqual(["lark", "lark"]);
  b.quit();
  t = await b.tab("gull-1");
  expect([t.kept().runner, t.kept().bundle]).toEqual(["", null]);
  server.down = false;
  b.quit();
  t = await b.tab("lark-1");
  await t.sync();
  expect(t.kept().runner).toBe("lark");
});

test("tapped again it is the same device; one that was ended is opened as another", async () => {
  const { server, b } = phone();
  for (let i = 0; i < 3; i++) {
    await (await b.tab("lark-1")).sync();
    b.quit();
  }
  expect([...server.devices.values()]).toEqual(["lark-1"]);
  for (const d of server.devices.keys()) server.endedDevices.add(d);
  await (await b.tab("lark-1")).sync();
  expect([...server.devices.values()]).toEqual(["lark-1", "lark-1"]);
});

test("a report of a link that was never opened here goes under its secret, of one that was under its id", async () => {
  const { server, b } = phone();
  const lark = await b.tab("lark-1");
  await lark.sync();
  server.down = true;
  await lark.put([morning]);
  b.quit();
  server.down = false;
  const gull = await b.tab("gull-1");
  await gull.sync();
  expect(server.got.map((g) => g.runner)).toEqual(["lark"]);
  expect(gull.kept().entries).toEqual([]);
});

test("with a server of the release before, the link's secret is said", async () => {
  const { server, b } = phone();
  server.earlier = true;
  const t = await b.tab("lark-1");
  await t.put([morning]);
  await t.sync();
  expect([t.kept().link, t.kept().runner]).toEqual(["lark-1", "lark"]);
  expect(server.got).toHaveLength(1);
  server.earlier = false;
  await t.sync();
  expect(t.kept().link).toBe("lark-1".padEnd(36, "_"));
});

test("a short code opens the link, also where nothing can be stored", async () => {
  const { server, b } = phone();
  server.codes.set("ABCD-EFGH", "lark-1");
  const full = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
    throw new DOMException("no room", "QuotaExceededError");
  });
  const t = await b.tab();
  await expect(t.openLink({ code: "WRONG" })).rejects.toThrow();
  await t.openLink({ code: "ABCD-EFGH" });
  await t.sync();
  expect([t.kept().link, t.kept().runner]).toEqual(["lark-1".padEnd(36, "_"), "lark"]);
  full.mockRestore();
});

test("where the link has ended, a short code opens another; its answer may be lost", async () => {
  const { server, b } = phone();
  const t = await b.tab("lark-1");
  await t.sync();
  server.ended.add("lark-1");
  await expect(t.sync()).rejects.toThrow("has ended");
  server.codes.set("ABCD-EFGH", "lark-2");
  const fetch = server.fetch;
  vi.stubGlobal("fetch", async (path: string, init: RequestInit) => {
    await fetch(path, init);
    throw new TypeError("no signal");
  });
  await expect(t.openLink({ code: "ABCD-EFGH" })).rejects.toThrow("no signal");
  vi.stubGlobal("fetch", fetch);
  await t.openLink({ code: "ABCD-EFGH" });
  await t.sync();
  expect([t.kept().link, t.kept().runner]).toEqual(["lark-2".padEnd(36, "_"), "lark"]);
});

test("a page that holds nothing finds the link of its cookie", async () => {
  const { server, b } = phone();
  server.cookie = "lark-1";
  const t = await b.tab();
  await t.findLink();
  await t.sync();
  expect(t.kept().runner).toBe("lark");
});

test("what release 2026.11.13 kept under the link's secret goes on, and is sent once", async () => {
  const { server, b } = phone();
  const shape = { entries: { keyPath: "id" }, bundles: undefined, notes: undefined, page: undefined };
  const d = await openDB("notchback-phone", 1, {
    upgrade(x) {
      for (const [name, options] of Object.entries(shape)) x.createObjectStore(name, options);
    },
  });
  await d.put("page", "lark-1", "link");
  await d.put("page", "lark", "runner");
  await d.put("bundles", { ...server.bundle("lark", "lark-1"), release: "2026.11.13" }, "lark");
  await d.put("entries", { ...morning, id: "a", n: 1, runner: "lark", link: "lark-1" });
  await d.put("entries", { ...morning, id: "b", n: 2, runner: "gull", link: "gull-1" });
  await d.put("notes", ["Stop and call your coach"], ["lark", "locked"]);
  d.close();
  server.down = true;
  const t = await b.tab("lark-1"); // tapped again, in a basement
  expect([t.kept().link, t.kept().runner, t.lockedHere(t.kept())]).toEqual([
    "lark-1",
    "lark",
    ["Stop and call your coach"],
  ]);
  server.down = false;
  await t.sync();
  await t.sync();
  expect(server.got.map((g) => [g.id, g.runner])).toEqual([
    ["a", "lark"],
    ["b", "gull"],
  ]);
  expect(t.kept()).toMatchObject({ link: "lark-1".padEnd(36, "_"), entries: [] });
});
