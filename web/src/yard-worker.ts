/**
 * The yard's pages without a network: the application's files are kept in the browser, and where
 * nobody answers an address of the yard opens from there. Data are not: kits and taps have places of
 * their own. Its scope is the yard alone; no other page passes through it.
 */

import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";
import { NetworkOnly } from "workbox-strategies";

/** The files as they were built, put here by the build. */
declare const BUILT_FILES: { url: string; revision?: string }[];

/** How long the server is waited for before what is kept opens, seconds. */
const PATIENCE_S = 4;

cleanupOutdatedCaches();
precacheAndRoute(BUILT_FILES);

// The server's own page first: it brings the newest files, and the cookie that requests need.
const fromServer = new NetworkOnly({ networkTimeoutSeconds: PATIENCE_S });
registerRoute(
  new NavigationRoute(async (options) => {
    try {
      return await fromServer.handle(options);
    } catch {
      return (await matchPrecache("/index.html")) ?? Response.error();
    }
  }),
);
