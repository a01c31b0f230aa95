// Keeps the bench at hand: a page of a run that has been opened opens again without a connection, and
// the scripts, styles and fonts that it needs. Everything else goes to the server as ever.

const KEPT = "bench";
const isBench = (path) => /^\/casts\/\d+\/runs\/\d+$/.test(path);

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

const fresh = async (request) => {
  const kept = await caches.open(KEPT);
  try {
    const answer = await fetch(request);
    if (answer.ok) await kept.put(request, answer.clone());
    return answer;
  } catch (error) {
    const before = await kept.match(request, { ignoreVary: true });
    if (before) return before;
    throw error;
  }
};

// Their addresses hold their fingerprints: what is kept is what it was.
const once = async (request) => (await caches.match(request, { ignoreVary: true })) ?? fetch(request);

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== location.origin) return;
  if (request.mode === "navigate" && isBench(pathname)) event.respondWith(fresh(request));
  else if (pathname.startsWith("/assets/")) event.respondWith(once(request));
});
