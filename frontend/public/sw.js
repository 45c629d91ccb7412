/**
 * Keeps the page and what it was told last, so that it opens without a network: the page's own files first from here,
 * everything else first from the server. What is kept is marked as such, with the time when it was heard.
 */
const SHELL = "hakari-shell";
const ANSWERS = "hakari-answers";
const PICTURES = "hakari-pictures";
const KEPT = "X-Hakari-Kept";
const MOST_ANSWERS = 200;
const MOST_PICTURES = 24;
/** The same answer is written again no more often than this. */
const AGAIN_MS = 20_000;
/** Longer than this nobody waits for a server when there is something to show. */
const PATIENCE_MS = 6000;

self.addEventListener("install", (event) => event.waitUntil(fillShell().then(() => self.skipWaiting())));
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("message", (event) => {
  if (event.data === "fill") event.waitUntil(fillShell().catch(() => undefined));
});

/** Fetch all files of the page that are not here yet, and drop those of earlier builds. */
async function fillShell() {
  const built = await (await fetch("/shell.json", { cache: "no-cache" })).json();
  const files = Object.values(built).flatMap((part) => [part.file, ...(part.css ?? []), ...(part.assets ?? [])]);
  const wanted = new Set(["/", "/icon.svg", "/manifest.webmanifest", ...files.map((file) => `/${file}`)]);
  wanted.delete("/index.html");
  const cache = await caches.open(SHELL);
  const held = new Set((await cache.keys()).map((request) => new URL(request.url).pathname));
  await Promise.all(
    [...wanted]
      .filter((path) => path === "/" || !held.has(path))
      .map(async (path) => {
        const file = await fetch(path, { cache: "no-cache" });
        if (file.ok && !file.redirected) await cache.put(path, file);
      }),
  );
  await Promise.all([...held].filter((path) => !wanted.has(path)).map((path) => cache.delete(path)));
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin) return;
  if (request.mode === "navigate") {
    // Pages of the server's own are not the application's.
    if (!/^\/(pair|display)\b/.test(pathname) && !pathname.startsWith("/api/")) event.respondWith(page(request));
  } else if (pathname.startsWith("/assets/")) event.respondWith(keptFirst(request, SHELL));
  else if (/^\/api\/photos\/[0-9a-f]+$/.test(pathname)) event.respondWith(keptFirst(request, PICTURES, MOST_PICTURES));
  else if (pathname.startsWith("/api/") && isKept(pathname)) event.respondWith(answer(request));
});

/** Answers that are worth keeping: not streams, files to download, or what must be current. */
const isKept = (path) =>
  !/\/(stream|reading|health|openapi\.json|pairing-codes)$|\.(pdf|csv|png|zip|svg|json)$|\/(archives|measurements|camera-frames)\b/.test(
    path,
  );

async function page(request) {
  try {
    return await fetch(request);
  } catch (away) {
    const kept = await caches.match("/", { cacheName: SHELL });
    if (kept) return kept;
    throw away;
  }
}

async function keptFirst(request, name, most) {
  const cache = await caches.open(name);
  const kept = await cache.match(request);
  if (kept) return kept;
  const answered = await fetch(request);
  if (answered.ok && !answered.redirected) {
    await cache.put(request, answered.clone());
    if (most) await forgetOldest(cache, most);
  }
  return answered;
}

const written = new Map();

async function answer(request) {
  const kept = await caches.match(request, { cacheName: ANSWERS });
  try {
    const answered = await fetch(request, kept ? { signal: AbortSignal.timeout(PATIENCE_MS) } : undefined);
    if (answered.status === 401 || answered.status === 403)
      await Promise.all([ANSWERS, PICTURES].map((name) => caches.delete(name)));
    else if (answered.ok) await keep(request, answered.clone());
    return answered;
  } catch (away) {
    if (kept) return kept;
    throw away;
  }
}

async function keep(request, answered) {
  const text = await answered.text();
  const before = written.get(request.url);
  if (before && before.text === text && Date.now() - before.at < AGAIN_MS) return;
  written.set(request.url, { text, at: Date.now() });
  const headers = new Headers(answered.headers);
  headers.set(KEPT, String(Date.now()));
  const cache = await caches.open(ANSWERS);
  await cache.put(request, new Response(text, { headers }));
  await forgetOldest(cache, MOST_ANSWERS);
}

async function forgetOldest(cache, most) {
  const keys = await cache.keys();
  await Promise.all(keys.slice(0, Math.max(0, keys.length - most)).map((key) => cache.delete(key)));
}
