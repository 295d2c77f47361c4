import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { vi } from "vitest";
import type { Bundle } from "./kept";

/** A server that holds what phones sent, by runner. Links name their runner up to the first dash. */
export class Server {
  down = false;
  release = __RELEASE__;
  clock = () => Date.now();
  refuse = new Set<string>(); // kinds
  broken = new Set<string>(); // ids that it cannot take now
  ended = new Set<string>(); // links
  got: { id: string; runner: string; kind: string; body: unknown }[] = [];
  asked: string[] = [];
  devices = new Map<string, string>(); // links by the device they were opened on
  codes = new Map<string, string>(); // links by short code
  spent = new Map<string, string>(); // devices by the short code that opened them
  endedDevices = new Set<string>();
  cookie = ""; // the link of a phone that says none
  today = "9999"; // what is dated later is not there yet
  earlier = false; // the release before the devices
  hold: Promise<void> | null = null; // the next page waits for it on its way
  state = ""; // names the record, which then is not sent again while it is the same

  fetch = async (path: string, init: RequestInit = {}): Promise<Response> => {
    if (this.down) throw new TypeError("no signal");
    const head = new Headers(init.headers);
    const [, cookie] = /^(.*?)_*$/.exec(head.get("Notchback-Link") ?? "") ?? [];
    const said = (typeof init.body === "string" ? JSON.parse(init.body) : null) as {
      code?: string;
      on?: string;
    } | null;
    const secret = head.get("Authorization")?.slice("Bearer ".length);
    const link = this.codes.get(said?.code ?? "") ?? (cookie || (secret ?? this.cookie));
    const runner = link.split("-")[0] ?? "";
    const [, device] = /^\/api\/phone\/devices\/(.*)/.exec(path) ?? [];
    this.asked.push(`${init.method ?? "GET"} ${path}`);
    const say = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
    if (!runner || this.ended.has(link)) return say(401, { detail: "This link has ended." });
    if (path === "/api/phone/offline") return say(200, { runner, state: this.stateOf(runner), days: {}, kinds: {} });
    if (this.state && new Headers(init.headers).get("If-None-Match") === `"${this.stateOf(runner)}"`)
      return new Response(null, { status: 304, headers: { Date: new Date(this.clock()).toUTCString() } });
    if (init.method !== "PUT") {
      const b = this.bundle(runner, link);
      const held = this.hold;
      this.hold = null;
      await held;
      return say(200, b);
    }
    if (device && link) {
      if (this.earlier) return say(404, {});
      if (said?.code && (this.spent.get(said.code) ?? device) !== device) return say(422, { detail: "It was used." });
      if (said?.code) this.spent.set(said.code, device);
      if (this.endedDevices.has(device) || (this.devices.get(device) ?? link) !== link) return say(409, {});
      this.devices.set(device, link);
      return say(200, { link: link.padEnd(36, "_") });
    }
    const [, , , ...rest] = path.split("/");
    const id = rest.pop() ?? "";
    const kind = rest.join("/");
    if (this.broken.has(id)) return say(500, { detail: "It broke." });
    if ((said?.on ?? "") > this.today) return say(425, { detail: "It is dated after today." });
    if (this.refuse.has(kind)) return say(422, { detail: "no " + kind });
    if (!this.got.some((g) => g.id === id))
      this.got.push({ id, runner, kind, body: JSON.parse(typeof init.body === "string" ? init.body : "null") });
    return say(200, {});
  };

  private stateOf = (runner: string) => this.state + this.got.filter((g) => g.runner === runner).length;

  bundle(runner: string, link: string): Bundle {
    const locks = this.got.filter((g) => g.runner === runner && g.kind === "signs").map((g) => g.id);
    return {
      runner,
      link: link.padEnd(36, "_"),
      ...(this.state ? { state: this.stateOf(runner) } : {}),
      release: this.release,
      timezone: "UTC",
      at: new Date(this.clock()).toISOString(),
      today: new Date(this.clock()).toISOString().slice(0, 10),
      locks,
    } as unknown as Bundle;
  }
}

/** A phone: what its browser keeps, and any number of tabs of the page. */
export class Browser {
  private local = new Map<string, string>();
  private tabs: { close: () => void }[] = [];
  constructor(public server: Server) {
    vi.stubGlobal("indexedDB", new IDBFactory());
    const local = this.local;
    vi.stubGlobal("localStorage", {
      getItem: (k: string) => local.get(k) ?? null,
      setItem: (k: string, v: string) => void (local.set(k, v), Object.assign(globalThis.localStorage, { [k]: v })),
      removeItem: (k: string) => {
        local.delete(k);
        delete (globalThis.localStorage as unknown as Record<string, unknown>)[k];
      },
    });
    vi.stubGlobal("navigator", { storage: { persisted: () => Promise.resolve(true) } });
    vi.stubGlobal("fetch", server.fetch);
  }

  /** Opens the page with a link in its address, or with none. */
  async tab(link = "") {
    const location = { hash: link ? "#" + link : "", pathname: "/phone" };
    vi.stubGlobal("location", location);
    vi.stubGlobal("history", { replaceState: () => (location.hash = "") });
    vi.resetModules();
    const kept = await import("./kept");
    const box = await import("./outbox");
    const opening = await import("./opening");
    await kept.open();
    this.tabs.push(kept);
    return { ...kept, ...box, ...opening };
  }

  /** Closes every tab; what is kept stays. */
  quit() {
    for (const t of this.tabs) t.close();
    this.tabs = [];
  }
}
export type Tab = Awaited<ReturnType<Browser["tab"]>>;

/** Numbers between 0 and 1, the same for a seed every time. */
export function draws(seed: number) {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
