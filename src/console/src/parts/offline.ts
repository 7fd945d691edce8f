/** What the page is made of so far, and what it shows: enough to open it again without a connection. */
export function keepForOffline(paths: readonly string[]) {
  const files = performance
    .getEntriesByType("resource")
    .map((r) => new URL(r.name))
    .filter((u) => u.origin === location.origin && u.pathname.startsWith("/assets/"))
    .map((u) => u.pathname);
  void worker().then((w) => w?.postMessage({ keep: ["/", ...paths, ...new Set(files)] }));
}

/** Whoever signs out leaves nothing in the browser that the next one could open. */
export const forgetOffline = () => void worker().then((w) => w?.postMessage({ forget: true }));

async function worker() {
  if (!("serviceWorker" in navigator) || !import.meta.env.PROD) return null;
  const registered = await navigator.serviceWorker.register("/sw.js");
  return registered.active ?? (await navigator.serviceWorker.ready).active;
}
