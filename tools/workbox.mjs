// The parts of Workbox that the field worker uses, as one global.
export { clientsClaim, cacheNames } from "workbox-core";
export { registerRoute, setCatchHandler } from "workbox-routing";
export { CacheFirst, NetworkFirst } from "workbox-strategies";
export { CacheableResponsePlugin } from "workbox-cacheable-response";
