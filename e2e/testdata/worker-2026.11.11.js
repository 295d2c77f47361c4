// The runner's page without signal: pages and built files are kept, records never are (the page
// keeps those itself, with their expiry).
const KEEP = "notchback-pages-1";
self.addEventListener("install", (e) => e.waitUntil(self.skipWaiting()));
self.addEventListener("activate", (e) => e.waitUntil(self.clients.claim()));
// The page says which files it is made of, so that its first visit is enough to open it offline.
self.addEventListener("message", (e) => {
  const wanted = ["/phone", ...e.data.keep];
  e.waitUntil(
    caches.open(KEEP).then(async (c) => {
      for (const old of await c.keys()) {
        const path = new URL(old.url).pathname;
        if (/^\/assets\/.*\.(js|css)$/.test(path) && !e.data.keep.includes(path)) await c.delete(old);
      }
      for (const path of wanted) if (path === "/phone" || !(await c.match(path))) await c.add(path);
    }),
  );
});
self.addEventListener("fetch", (e) => {
  const url = new URL(e.request.url);
  if (e.request.method !== "GET" || url.origin !== location.origin || url.pathname.startsWith("/api/")) return;
  if (url.pathname.startsWith("/assets/")) {
    e.respondWith(
      caches.match(e.request).then(
        (hit) =>
          hit ||
          fetch(e.request).then((answer) => {
            const copy = answer.clone();
            if (answer.ok) e.waitUntil(caches.open(KEEP).then((c) => c.put(e.request, copy)));
            return answer;
          }),
      ),
    );
    return;
  }
  const key = e.request.mode === "navigate" ? "/phone" : e.request;
  e.respondWith(
    fetch(e.request)
      .then((answer) => {
        const copy = answer.clone();
        if (answer.ok && (e.request.mode !== "navigate" || url.pathname === "/phone"))
          e.waitUntil(caches.open(KEEP).then((c) => c.put(key, copy)));
        return answer;
      })
      .catch(() => caches.match(key).then((hit) => hit || Response.error())),
  );
});
