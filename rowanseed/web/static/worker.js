// Keeps the pages of the make that is worked on, and the shopping list, readable when the connection drops: pages are fetched from
// the network first and kept as they were seen last, the list also without having been looked at; styles, scripts and pictures of this version are kept too. Nothing is written from here.
const VERSION = new URL(self.location.href).searchParams.get("v") || "";
const KEPT = `rowanseed-${VERSION}`;
const PAGE = /^\/(shopping|makes\/\d+(\/(fit|cloth|lay|cut|sew|wear)(\/.*)?)?)$/;
const LIST = "/shopping";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => {
  event.waitUntil((async () => {
    const names = await caches.keys();
    await Promise.all(names.filter((name) => name.startsWith("rowanseed-") && name !== KEPT).map((name) => caches.delete(name)));
    await self.clients.claim();
  })());
});

// The list with all that it needs to be read: its scripts and styles may be of no page that was looked at.
async function keepList() {
  const page = await newest(new Request(LIST, { credentials: "same-origin" }));
  const needed = new Set((await page.text()).match(/\/static\/[\w./-]+(\?v=[\w.-]+)?/g) || []);
  await Promise.all([...needed].map((address) => once(new Request(address)).catch(() => null)));
}

self.addEventListener("message", (event) => {
  if (event.data === "keep the list") event.waitUntil(keepList().catch(() => null));
});

async function newest(request) {
  const kept = await caches.open(KEPT);
  try {
    const answer = await fetch(request);
    if (answer.ok && !answer.redirected) await kept.put(request, answer.clone());
    return answer;
  } catch (lost) {
    const seen = await kept.match(request, { ignoreVary: true });
    if (seen) return seen;
    throw lost;
  }
}

async function once(request) {
  const kept = await caches.open(KEPT);
  const seen = await kept.match(request);
  if (seen) return seen;
  const answer = await fetch(request);
  if (answer.ok) await kept.put(request, answer.clone());
  return answer;
}

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== self.location.origin) return;
  if (event.request.headers.get("HX-Request")) return;
  if (url.pathname.startsWith("/static/")) event.respondWith(once(event.request));
  else if (event.request.mode === "navigate" && PAGE.test(url.pathname)) event.respondWith(newest(event.request));
});
