// The runner's page without signal: the page and its built files are kept here. Records never are: the page keeps those
// itself, with their expiry.
const KEEP = "notchback-phone-1";
const PATIENCE = 3000; // ms a weak signal is waited for before the kept page opens
self.addEventListener("install", (e) => e.waitUntil(self.skipWaiting()));
self.addEventListener("activate", (e) => e.waitUntil(self.clients.claim()));

// The page says which files it is made of, so that its first visit is enough to open it without signal.
self.addEventListener("message", (e) => {
  const { keep } = e.data;
  e.waitUntil(
    caches
      .open(KEEP)
      .then(async (c) => {
        // The page comes last: without the files it names it would open broken.
        const html = await fetch("/phone", { cache: "no-store" });
        if (!html.ok) return;
        const named = [...(await html.clone().text()).matchAll(/"(\/assets\/[^"]+)"/g)].map((m) => m[1]);
        for (const path of [...keep, ...named]) if (!(await c.match(path))) await c.add(path);
        await c.put("/phone", html);
        for (const old of await c.keys()) {
          const path = new URL(old.url).pathname;
          if (/^\/assets\/.*\.(js|css)$/.test(path) && ![...keep, ...named].includes(path)) await c.delete(old);
        }
      })
      .then(
        () => e.ports[0]?.postMessage("kept"),
        () => undefined,
      ),
  );
});

async function page(request) {
  const c = await caches.open(KEEP);
  const fresh = fetch(request);
  const late = new Promise((done) => setTimeout(done, PATIENCE));
  const answer = await Promise.race([fresh, late]).catch(() => undefined);
  if (answer?.ok) return answer;
  return (await c.match("/phone")) ?? answer ?? fresh;
}

async function file(request) {
  const c = await caches.open(KEEP);
  const hit = await c.match(request);
  if (hit && new URL(request.url).pathname.startsWith("/assets/")) return hit; // built files never change
  try {
    const answer = await fetch(request);
    if (answer.ok) await c.put(request, answer.clone());
    return answer;
  } catch {
    return hit ?? Response.error();
  }
}

self.addEventListener("fetch", (e) => {
  const url = new URL(e.request.url);
  if (e.request.method !== "GET" || url.origin !== location.origin || url.pathname.startsWith("/api/")) return;
  e.respondWith(e.request.mode === "navigate" ? page(e.request) : file(e.request));
});
