// The service worker of the field pages and of exercises that are taken along: days that a person
// keeps on this device, and the files that all these pages share. The address it is loaded by names those files (views/offline.py).
/* global workbox, SHARED, VERSION */
const { CacheFirst, NetworkFirst, CacheableResponsePlugin } = workbox;
const FILES = `field-files-${VERSION}`,
  PAGES = "field-pages";
// A page is asked for over the air for so long before the kept one is shown.
const PATIENCE_S = 3;
// So many pages of a day are fetched at once.
const AT_ONCE = 4;
const good = new CacheableResponsePlugin({ statuses: [200] });
// A redirect is somebody who is logged out: the kept page is worth more than the door.
const noDoor = {
  fetchDidSucceed: async ({ response }) => {
    if (response.redirected || response.type === "opaqueredirect") throw new Error("signed out");
    return response;
  },
};

addEventListener("install", (event) => {
  event.waitUntil(
    caches
      .open(FILES)
      .then((cache) => cache.addAll(SHARED))
      .then(() => skipWaiting()),
  );
});
addEventListener("activate", (event) => {
  const old = async () => {
    for (const name of await caches.keys())
      if (name.startsWith("field-files-") && name !== FILES) await caches.delete(name);
  };
  event.waitUntil(old().then(() => clients.claim()));
});

workbox.registerRoute(
  ({ url }) => SHARED.includes(url.pathname),
  new CacheFirst({ cacheName: FILES, plugins: [good] }),
);
const pages = new NetworkFirst({
  cacheName: PAGES,
  networkTimeoutSeconds: PATIENCE_S,
  plugins: [good, noDoor],
  // What is kept of a page is the page as it was without a question.
  matchOptions: { ignoreSearch: true },
});
const field = ({ url, request }) =>
  /^\/shoots\/\d+\/field\/.|^\/drill\/ahead\/$/.test(url.pathname) &&
  (request.mode === "navigate" || url.pathname.endsWith("ahead.json"));
workbox.registerRoute(field, async (given) => {
  try {
    return await pages.handle(given);
  } catch {
    // Signed out with nothing kept: the network's own answer; without one, words.
    try {
      return await fetch(given.request);
    } catch {
      return new Response(
        "<!doctype html><meta name=viewport content='width=device-width'><title>No network</title>" +
          "<p style='font:18px sans-serif;padding:20px'>No network, and this page is not kept on this device. " +
          "Go back, or keep the day while there is a network.",
        { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } },
      );
    }
  }
});

// A page asks for a day to be kept: every address of it, whole or not at all.
addEventListener("message", (event) => {
  const { keep, ahead, drop } = event.data || {};
  const [port] = event.ports;
  if (drop) {
    event.waitUntil(caches.delete(PAGES).then(() => port?.postMessage({ done: true })));
    return;
  }
  if (!keep) return;
  const all = async () => {
    const cache = await caches.open(PAGES);
    const fetched = [],
      left = [...keep];
    const some = async () => {
      for (let address = left.shift(); address; address = left.shift()) {
        const response = await fetch(address, { credentials: "same-origin", cache: "no-store" });
        if (!response.ok || response.redirected) throw new Error(`${response.status}`);
        fetched.push([address, response]);
        port?.postMessage({ kept: fetched.length, of: keep.length });
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, some));
    for (const [address, response] of fetched) await cache.put(address, response);
    // What the day was worked out to is at the page already, and belongs to it.
    const json = { headers: { "Content-Type": "application/json" } };
    await cache.put(ahead.address, new Response(ahead.text, json));
  };
  event.waitUntil(
    all()
      .then(() => port?.postMessage({ done: true }))
      .catch((error) => port?.postMessage({ failed: error.name === "QuotaExceededError" ? "full" : "network" })),
  );
});
