// Keeps one thing: the run sheet that somebody has open, so that it opens again without a connection. Everything else
// goes to the service as though this were not here. What is kept is dropped when its reader signs out.
const KEPT = "run-sheet";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("message", (event) => {
  const { keep, forget } = event.data;
  if (forget) event.waitUntil(caches.delete(KEPT));
  if (keep) event.waitUntil(keepAll(keep));
});

async function keepAll(paths) {
  const cache = await caches.open(KEPT);
  await Promise.all(
    paths.map(async (path) => {
      const held = path.startsWith("/assets/") && (await cache.match(path));
      if (held) return;
      const answer = await fetch(path, { credentials: "same-origin" });
      if (answer.ok) await cache.put(path, answer);
    }),
  );
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin) return;
  const path = request.mode === "navigate" ? "/" : pathname;
  if (path === "/" || path.startsWith("/assets/") || mayBeKept(path))
    event.respondWith(fromServiceFirst(request, path));
});

const mayBeKept = (path) => path === "/api/v1/session" || /^\/api\/v1\/changes\/[^/]+$/.test(path);

// Asked so that nothing is made by asking: only keepAll opens what is kept.
const kept = (path) => caches.match(path, { cacheName: KEPT });

/** The service's answer; without a connection, what was kept of it. */
async function fromServiceFirst(request, path) {
  // A file whose name holds its digest is the same for good.
  const held = path.startsWith("/assets/") ? await kept(path) : undefined;
  if (held) return held;
  try {
    const answer = await fetch(request);
    if (answer.ok && mayBeKept(path) && (await kept(path))) await (await caches.open(KEPT)).put(path, answer.clone());
    return answer;
  } catch (lost) {
    const before = await kept(path);
    if (before) return before;
    throw lost;
  }
}
