import { afterEach, expect, test, vi } from "vitest";
import { Browser, draws, Server, type Tab } from "./fake";

const phones: Browser[] = [];
const phone = (server: Server) => {
  const b = new Browser(server);
  phones.push(b);
  return b;
};
afterEach(() => {
  for (const b of phones.splice(0)) b.quit();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

const log = (n: number) => ({ kind: "logs" as const, body: { n }, label: "Calf raises" });
const got = (s: Server) => s.got.map((g) => g.kind + JSON.stringify(g.body));

test("an entry waits without signal, and leaves when the server has it: warning signs first", async () => {
  const server = new Server();
  const t = await phone(server).tab("lark-1");
  await t.sync();
  server.down = true;
  await t.put([log(1)]);
  await t.put([{ kind: "mornings", body: { n: 2 }, label: "First steps" }]);
  await t.putSign({ n: 3 }, "Stop and call your coach");
  await expect(t.sync()).rejects.toThrow("no signal");
  expect(t.kept().entries).toHaveLength(3);
  expect(t.lockedHere(t.kept())).toEqual(["Stop and call your coach"]);
  server.down = false;
  await t.sync();
  expect(got(server)).toEqual(['signs{"n":3}', 'logs{"n":1}', 'mornings{"n":2}']);
  expect(t.kept().entries).toEqual([]);
  expect(t.lockedHere(t.kept()), "the server's word replaces the phone's").toEqual([]);
});

test("what is dated after the server's day waits for it, and holds nothing else back", async () => {
  const server = new Server();
  server.today = "2026-03-02";
  const t = await phone(server).tab("lark-1");
  const on = (day: string) => ({ kind: "mornings" as const, body: { on: day }, label: "First steps" });
  await t.put([on("2026-03-03"), on("2026-03-04"), on("2026-03-05"), on("2026-03-06"), on("2026-03-01")]);
  await expect(t.sync()).rejects.toThrow("after today");
  expect(got(server)).toEqual(['mornings{"on":"2026-03-01"}']);
  expect(t.kept().entries.filter((e) => e.refused)).toEqual([]);
  server.today = "2026-03-06";
  await t.sync();
  expect(server.got).toHaveLength(5);
});

test("what the server refuses, or cannot take now, holds nothing else back", async () => {
  const server = new Server();
  const t = await phone(server).tab("lark-1");
  await t.sync();
  server.down = true;
  await t.put([log(1), log(2), { kind: "runs", body: {}, label: "Run" }, log(3)]);
  const first = t.kept().entries[0];
  server.down = false;
  server.broken.add(first?.id ?? "");
  server.refuse.add("runs");
  await expect(t.sync()).rejects.toThrow("It broke.");
  expect(got(server)).toEqual(['logs{"n":2}', 'logs{"n":3}']);
  expect(t.kept().entries.map((e) => [e.kind, e.refused])).toEqual([
    ["logs", undefined],
    ["runs", "no runs"],
  ]);
  await t.dropRefused();
  server.broken.clear();
  await t.sync();
  expect(got(server)).toContain('logs{"n":1}');
  expect(t.kept().entries).toEqual([]);
});

test("a refused warning sign stays, and keeps the phone locked", async () => {
  const server = new Server();
  const t = await phone(server).tab("lark-1");
  await t.sync();
  server.refuse.add("signs");
  await t.putSign({}, "Stop");
  await t.sync();
  await t.dropRefused();
  await t.sync();
  expect(t.kept().entries[0]?.refused).toBe("no signs");
  expect(t.lockedHere(t.kept())).toEqual(["Stop"]);
});

test("an answer on its way when a sign is reported does not open the phone", async () => {
  const server = new Server();
  const t = await phone(server).tab("lark-1");
  await t.sync();
  let go = () => {};
  server.hold = new Promise((done) => (go = done));
  const early = t.sync(); // its answer was made before the sign
  await vi.waitFor(() => expect(server.asked).toHaveLength(2));
  await t.putSign({}, "Stop");
  const later = t.sync();
  for (let i = 0; i < 200; i++) await new Promise((r) => setTimeout(r)); // all that can happen before the early one arrives
  go();
  await early;
  await later;
  expect(server.got.map((g) => g.kind)).toEqual(["signs"]);
  expect(t.kept().bundle?.locks, "what is shown was made after it").toHaveLength(1);
});

test("a sign reported in another tab meanwhile keeps the phone locked, heard of or not", async () => {
  vi.stubGlobal("BroadcastChannel", undefined);
  const server = new Server();
  const browser = phone(server);
  const a = await browser.tab("lark-1");
  await a.sync();
  const b = await browser.tab();
  let go = () => {};
  server.hold = new Promise((done) => (go = done));
  const early = a.sync();
  await vi.waitFor(() => expect(server.asked).toHaveLength(2));
  await b.putSign({}, "Stop");
  go();
  await early;
  const c = await browser.tab();
  expect(c.lockedHere(c.kept())).toEqual(["Stop"]);
  expect(c.kept().entries).toHaveLength(1);
});

test("a full store keeps what is entered in the page, says so, and it is sent", async () => {
  const server = new Server();
  const t = await phone(server).tab("lark-1");
  await t.sync();
  server.down = true;
  const full = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
    throw new DOMException("no room", "QuotaExceededError");
  });
  await t.put([log(1)], { morning: "2026-11-26" });
  await t.putSign({}, "Stop");
  expect(t.kept().loose).toBe(true);
  expect(t.note(t.kept(), "morning")).toBe("2026-11-26");
  expect(t.lockedHere(t.kept())).toEqual(["Stop"]);
  await expect(t.sync()).rejects.toThrow("no signal");
  expect(t.kept().entries.map((e) => e.kind)).toEqual(["logs", "signs"]);
  await t.reload(); // another tab wrote something
  expect(t.kept().entries.map((e) => e.kind)).toEqual(["logs", "signs"]);
  expect(t.lockedHere(t.kept())).toEqual(["Stop"]);
  server.down = false;
  await t.sync();
  expect(server.got.map((g) => g.kind)).toEqual(["signs", "logs"]);
  full.mockRestore();
  await t.sync();
  expect(t.kept().loose).toBe(false);
});

test("a browser that keeps nothing sends at once", async () => {
  const server = new Server();
  const browser = phone(server);
  vi.stubGlobal("indexedDB", {
    open: () => {
      throw new Error("private");
    },
  });
  const t = await browser.tab("lark-1");
  await t.sync();
  await t.put([log(1)]);
  expect(t.kept().loose).toBe(true);
  await t.sync();
  expect(got(server)).toEqual(['logs{"n":1}']);
});

test("records of another release are not drawn by a new page; what is drawn stays while somebody types", async () => {
  const server = new Server();
  const browser = phone(server);
  const t = await browser.tab("lark-1");
  await t.sync();
  const shown = t.kept().bundle;
  server.release = "2099.1.1";
  await t.put([log(1)]);
  await t.sync();
  expect(got(server)).toEqual(['logs{"n":1}']);
  expect(t.kept().bundle).toEqual(shown);
  expect(t.kept().newer).toBe(true);
  const again = await browser.tab();
  expect(again.kept().bundle).toBeNull();
});

test("a wrong clock is put right by the server's", async () => {
  const server = new Server();
  server.clock = () => Date.now() + 3 * 3600_000;
  const t = await phone(server).tab("lark-1");
  await t.sync();
  expect(t.now() - Date.now()).toBeGreaterThan(2.9 * 3600_000);
  server.clock = () => Date.now() + 10_000; // on its way for a while is not wrong
  await t.sync();
  expect(Math.abs(t.now() - Date.now())).toBeLessThan(1000);
});

test("reports of a runner whose link has ended wait for the next one, and hold nobody else's back", async () => {
  const server = new Server();
  const browser = phone(server);
  const gull = await browser.tab("gull-1");
  await gull.sync();
  server.down = true;
  await gull.put([log(1)]);
  browser.quit();
  server.down = false;
  server.ended.add("gull-1");
  const lark = await browser.tab("lark-1");
  await lark.sync();
  await lark.put([log(2)]);
  await lark.sync();
  expect(server.got.map((g) => g.runner + JSON.stringify(g.body))).toEqual(['lark{"n":2}']);
  expect(lark.kept().entries.map((e) => e.runner)).toEqual(["gull"]);
  expect(lark.mine(lark.kept())).toEqual([]);
  browser.quit();
  await (await browser.tab("gull-2")).sync();
  expect(server.got.map((g) => g.runner + JSON.stringify(g.body))).toContain('gull{"n":1}');
});

test("two tabs send everything once", async () => {
  const server = new Server();
  const browser = phone(server);
  const a = await browser.tab("lark-1");
  await a.sync();
  const b = await browser.tab();
  server.down = true;
  await Promise.all([a.put([log(1)]), b.put([log(2)])]);
  await vi.waitFor(() => expect([a.kept().entries.length, b.kept().entries.length]).toEqual([2, 2]));
  server.down = false;
  await Promise.all([a.sync(), b.sync()]);
  expect(got(server).sort()).toEqual(['logs{"n":1}', 'logs{"n":2}']);
  await vi.waitFor(() => expect([a.kept().entries.length, b.kept().entries.length]).toEqual([0, 0]));
});

// Whatever happens to a phone, each report arrives once, at the runner whose page it was entered on.
test.each(Array.from({ length: 60 }, (_, seed) => seed))(
  "nothing is lost, doubled or crossed, seed %i",
  async (seed) => {
    const draw = draws(seed);
    const some = (n: number) => Math.floor(draw() * n);
    const server = new Server();
    const browser = phone(server);
    const links = ["lark-1", "lark-2", "gull-1"];
    const wanted: string[] = []; // runner and number
    const quiet = (t: Tab) => t.sync().catch(() => undefined);
    let tabs = [await browser.tab(links[0])];
    await quiet(tabs[0]!);
    for (let n = 0; n < 40; n++) {
      const t = tabs[some(tabs.length)]!;
      switch (some(8)) {
        case 0:
        case 1:
        case 2: {
          const { runner } = t.kept();
          if (!runner) break; // nothing can be entered before it is known whose page this is
          const kind = (["logs", "mornings", "runs"] as const)[some(3)]!;
          if (some(4) === 0) await t.putSign({ n }, "Stop");
          else await t.put([{ kind, body: { n }, label: "x" }]);
          wanted.push(`${runner} ${n}`);
          break;
        }
        case 3:
          server.down = !server.down;
          break;
        case 4:
          server.broken = new Set(
            t
              .kept()
              .entries.filter(() => some(3) === 0)
              .map((e) => e.id),
          );
          break;
        case 5:
          await Promise.all(tabs.map(quiet));
          break;
        case 6: // the page is closed and opened again, sometimes with a link
          browser.quit();
          tabs = [await browser.tab(some(2) ? links[some(3)] : "")];
          break;
        case 7:
          if (tabs.length < 2) tabs.push(await browser.tab());
      }
    }
    server.down = false;
    server.broken.clear();
    for (const link of links) {
      browser.quit();
      tabs = [await browser.tab(link)];
      await tabs[0]!.sync();
    }
    expect(server.got.map((g) => `${g.runner} ${(g.body as { n: number }).n}`).sort()).toEqual(wanted.sort());
    expect(tabs[0]!.kept().entries).toEqual([]);
  },
);

test("a page that is the same is not sent again; what it goes by without signal comes once", async () => {
  const server = new Server();
  server.state = "a";
  const t = await phone(server).tab("lark-1");
  await t.sync();
  await t.sync();
  expect(server.asked.filter((x) => x.endsWith("/offline"))).toHaveLength(1);
  expect(t.note<{ state: string }>(t.kept(), "offline")?.state).toBe("a0");
  await t.put([log(1)]);
  await t.sync();
  expect(t.kept().bundle?.state).toBe("a1");
  expect(t.note<{ state: string }>(t.kept(), "offline")?.state).toBe("a1");
});

test("contact is counted by the server's clock, also where nothing is new", async () => {
  const server = new Server();
  server.state = "a";
  const t = await phone(server).tab("lark-1");
  await t.sync();
  const real = Date.now();
  vi.spyOn(Date, "now").mockImplementation(() => real + 30 * 3_600_000);
  expect(t.hoursAlone()).toBeCloseTo(30, 1);
  server.clock = () => real + 30 * 3_600_000;
  await t.sync();
  expect(t.hoursAlone()).toBeLessThan(0.01);
});

test("what was told counts until a session that knows of it is here, sent or not", async () => {
  const server = new Server();
  const t = await phone(server).tab("lark-1");
  await t.sync();
  const mark = { region: "calf", side: "left", pain: 6 };
  await t.put([{ kind: "mornings", body: mark, label: "First steps" }]);
  expect(t.toldHere(t.kept())).toEqual([mark]);
  const real = server.fetch;
  vi.stubGlobal("fetch", (path: string, init?: RequestInit) => {
    if (init?.method !== "PUT") return Promise.reject(new TypeError("no signal"));
    return real(path, init);
  });
  await expect(t.sync()).rejects.toThrow("no signal");
  expect(t.kept().entries, "the server has it").toEqual([]);
  expect(t.toldHere(t.kept()), "the session shown does not know of it").toEqual([mark]);
  vi.stubGlobal("fetch", real);
  await t.sync();
  expect(t.toldHere(t.kept())).toEqual([]);
});
