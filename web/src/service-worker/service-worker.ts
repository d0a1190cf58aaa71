/// <reference lib="webworker" />
import { clientsClaim } from 'workbox-core';
import { cleanupOutdatedCaches, precacheAndRoute } from 'workbox-precaching';

declare const self: ServiceWorkerGlobalScope;
/** Every file of the application with its hash, written in by the build. */
declare const FILES: { url: string; revision: string | null }[];

// Pages and workers come from here with the headers they were served with: they stay isolated without a network.
precacheAndRoute(FILES);
cleanupOutdatedCaches();
// The first one serves at once; a newer one waits until it is asked for.
clientsClaim();

self.addEventListener('message', ({ data }: ExtendableMessageEvent) => {
  if ((data as { type?: string } | null)?.type === 'SKIP_WAITING') void self.skipWaiting();
});
