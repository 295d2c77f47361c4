// The worker of earlier releases stood before every page. The runner's page has its own now, phone-worker.js: this one
// serves what was kept until that one keeps the page, and then goes.
const OLD = "notchback-pages-1";
const go = () => caches.delete(OLD).then(() => self.registration.unregister());
const settle = async () => ((await (await caches.open("notchback-phone-1")).match("/phone")) ? go() : undefined);
self.addEventListener("install", (e) => e.waitUntil(self.skipWaiting()));
self.addEventListener("activate", (e) => e.waitUntil(settle()));
self.addEventListener("fetch", (e) => {
  const url = new URL(e.request.url);
  if (e.request.method !== "GET" || url.origin !== location.origin || url.pathname.startsWith("/api/")) return;
  const navigates = e.request.mode === "navigate";
  const phone = /^\/phone(\/|$)/.test(url.pathname);
  if (navigates) e.waitUntil(phone ? settle() : go());
  if (navigates && !phone) return;
  e.respondWith(
    fetch(e.request).catch(() => caches.match(navigates ? "/phone" : e.request).then((hit) => hit ?? Response.error())),
  );
});
