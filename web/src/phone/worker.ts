import { loadAll } from "./later";

/** Has the worker keep this page and every file it has loaded. Once they are kept, the worker of earlier releases goes:
 * it stood before the coach's pages too. */
export async function keepOffline() {
  if (!("serviceWorker" in navigator)) return;
  try {
    const worker = await active(await navigator.serviceWorker.register("/phone-worker.js", { scope: "/phone" }));
    await Promise.all([loadAll(), document.fonts.ready]);
    const keep = performance
      .getEntriesByType("resource")
      .map((r) => new URL(r.name))
      .filter(
        (u) => u.origin === location.origin && !u.pathname.startsWith("/api/") && !u.pathname.endsWith("-worker.js"),
      )
      .map((u) => u.pathname);
    await new Promise((done) => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = done;
      worker.postMessage({ keep: [...new Set(keep)] }, [port2]);
    });
    for (const r of await navigator.serviceWorker.getRegistrations())
      if (new URL(r.scope).pathname === "/") await r.unregister();
    await caches.delete("notchback-pages-1");
  } catch {
    // Without a worker the page works with signal only; nothing is lost.
  }
}

/** The worker of a registration once it works; `navigator.serviceWorker.ready` may be that of earlier releases. */
async function active(r: ServiceWorkerRegistration): Promise<ServiceWorker> {
  const w = r.installing ?? r.waiting ?? r.active;
  if (!w) throw new Error("no worker");
  if (w.state !== "activated")
    await new Promise((done) => w.addEventListener("statechange", () => w.state === "activated" && done(w)));
  return w;
}
