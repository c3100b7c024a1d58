// The service worker of the field pages and of exercises that are taken along: days that a person
// keeps on this device, and the files that all these pages share. The address it is loaded by names
// those files (views/offline.py). Pages are kept for each person: another one's open for nobody else.
/* global workbox, SHARED, VERSION */
const { CacheFirst, NetworkFirst, CacheableResponsePlugin } = workbox;
const FILES = `field-files-${VERSION}`,
  WHO = "field-person",
  HEADER = "X-Fotonomy-Person";
const pagesOf = (person) => `field-pages-${person}`,
  statesOf = (person) => `field-kept-${person}`;
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
    // Pages that an older version kept are of nobody in particular.
    for (const name of await caches.keys())
      if ((name.startsWith("field-files-") && name !== FILES) || name === "field-pages") await caches.delete(name);
  };
  event.waitUntil(old().then(() => clients.claim()));
});

// Who is logged in on this device, as the last page said; empty for nobody.
const asText = (text, type = "text/plain") => new Response(text, { headers: { "Content-Type": type } });
const setWho = async (person) => (await caches.open(WHO)).put("/who", asText(person));
// What pages say is heard in its order, and before anything is shown.
let said = Promise.resolve();
const whoIsIn = async () => {
  await said;
  return (await (await caches.open(WHO)).match("/who"))?.text() || "";
};

workbox.registerRoute(
  ({ url }) => SHARED.includes(url.pathname),
  new CacheFirst({ cacheName: FILES, plugins: [good] }),
);

const strategies = new Map();
const pages = (person) => {
  if (!strategies.has(person)) {
    // What the server made for somebody else is not kept as this person's.
    const own = {
      cacheWillUpdate: async ({ response }) => (response.headers.get(HEADER) === person ? response : null),
    };
    strategies.set(
      person,
      new NetworkFirst({
        cacheName: pagesOf(person),
        networkTimeoutSeconds: PATIENCE_S,
        plugins: [good, own, noDoor],
        // What is kept of a page is the page as it was without a question.
        matchOptions: { ignoreSearch: true },
      }),
    );
  }
  return strategies.get(person);
};
const notKept = () =>
  new Response(
    "<!doctype html><meta name=viewport content='width=device-width'><title>No network</title>" +
      "<p style='font:18px sans-serif;padding:20px'>No network, and this page is not kept on this device " +
      "for whoever is logged in here. Go back, or keep the day while there is a network.",
    { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } },
  );
const field = ({ url, request }) =>
  /^\/shoots\/\d+\/field\/.|^\/drill\/ahead\/$/.test(url.pathname) &&
  (request.mode === "navigate" || url.pathname.endsWith("ahead.json"));
workbox.registerRoute(field, async (given) => {
  const person = await whoIsIn();
  try {
    if (!person) throw new Error("nobody");
    return await pages(person).handle(given);
  } catch {
    // Signed out, or nothing kept: the network's own answer; without one, words.
    return fetch(given.request).catch(notKept);
  }
});

// The menu's Field: the day at hand, by the rule of the server, among those that are kept.
workbox.registerRoute(
  ({ url, request }) => /^\/shoots\/\d+\/field\/$/.test(url.pathname) && request.mode === "navigate",
  async ({ request, url }) => {
    try {
      return await fetch(request);
    } catch {
      const address = await dayAtHand(url.pathname, await whoIsIn());
      return address ? Response.redirect(address, 302) : notKept();
    }
  },
);
const dayAtHand = async (start, person) => {
  if (!person) return null;
  const cache = await caches.open(pagesOf(person)),
    days = [];
  for (const { url } of await cache.keys()) {
    const { pathname } = new URL(url);
    if (!pathname.startsWith(`${start}day/`) || !pathname.endsWith("/ahead.json")) continue;
    const { date } = await (await cache.match(url)).json();
    days.push({ date, address: pathname.replace("ahead.json", "") });
  }
  days.sort((one, two) => (one.date < two.date ? -1 : 1));
  const now = new Date();
  const today = new Date(now.getTime() - now.getTimezoneOffset() * 60000).toISOString().slice(0, 10);
  return (days.find(({ date }) => date >= today) || days[0])?.address;
};

// A day is worked out and kept whole or not at all, also when its page was left meanwhile. How far it
// is stands beside it, for whichever page asks.
const IN_LINE_TRIES = 60;
const keepDay = async (address, person) => {
  const states = await caches.open(statesOf(person));
  const note = (state) =>
    states.put(address, asText(JSON.stringify({ ...state, at: new Date().toISOString() }), "application/json"));
  await note({ state: "begun" });
  try {
    const got = async (from) => {
      let response = await fetch(from, { credentials: "same-origin", cache: "no-store" });
      // Others are at long work: it stands in line, and says so by being begun still.
      for (let tries = 0; response.status === 503 && tries < IN_LINE_TRIES; tries += 1) {
        await new Promise((resolve) => setTimeout(resolve, 1000 * Number(response.headers.get("Retry-After") || 5)));
        response = await fetch(from, { credentials: "same-origin", cache: "no-store" });
      }
      if (!response.ok || response.redirected) throw new Error(`${response.status}`);
      if (response.headers.get(HEADER) !== person) throw new Error("somebody else is logged in");
      return response;
    };
    const ahead = await got(address);
    const { keep } = await ahead.clone().json();
    const fetched = [],
      left = [...keep];
    const some = async () => {
      for (let at = left.shift(); at; at = left.shift()) {
        fetched.push([at, await got(at)]);
        await note({ state: "begun", kept: fetched.length, of: keep.length });
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, some));
    const cache = await caches.open(pagesOf(person));
    for (const [at, response] of fetched) await cache.put(at, response);
    // What the day was worked out to belongs to it.
    await cache.put(address, ahead);
    await note({ state: "kept" });
  } catch (error) {
    await note({ state: "failed", why: error.name === "QuotaExceededError" ? "full" : "network" });
  }
};

addEventListener("message", (event) => {
  const { person, keep } = event.data || {};
  if (typeof person !== "string") return;
  said = said.then(() => setWho(person)).catch(() => null);
  event.waitUntil(said);
  if (keep && person) event.waitUntil(keepDay(keep, person));
});
