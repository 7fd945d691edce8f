/**
 * Keeps what the page shows and is made of, so that it opens again without a connection. A script or a font that comes
 * late is kept as it comes. Answers with what ends it.
 */
export function keepForOffline(paths: readonly string[]) {
  const kept = new Set<string>();
  const keep = (more: readonly string[]) => void worker().then((w) => w?.postMessage({ keep: more }));
  keep(["/", ...paths]);
  const files = new PerformanceObserver((list) => {
    const come = list.getEntries().map((r) => new URL(r.name));
    const own = come.filter((u) => u.origin === location.origin && u.pathname.startsWith("/assets/"));
    const more = own.map((u) => u.pathname).filter((path) => !kept.has(path));
    more.forEach((path) => kept.add(path));
    if (more.length) keep(more);
  });
  files.observe({ type: "resource", buffered: true });
  return () => files.disconnect();
}

/** Whoever signs out leaves nothing in the browser that the next one could open. */
export const forgetOffline = () => void worker().then((w) => w?.postMessage({ forget: true }));

async function worker() {
  if (!("serviceWorker" in navigator) || !import.meta.env.PROD) return null;
  const registered = await navigator.serviceWorker.register("/sw.js");
  return registered.active ?? (await navigator.serviceWorker.ready).active;
}
