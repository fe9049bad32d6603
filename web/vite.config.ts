import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";

/** Tells the yard's worker which files it keeps: all there are, by names that change with them. */
function builtFiles(): Plugin {
  return {
    name: "built-files",
    enforce: "post",
    generateBundle(_, bundle) {
      const worker = bundle["sw.js"];
      if (worker?.type !== "chunk") return;
      const parts = Object.keys(bundle).filter((name) => name.startsWith("assets/"));
      const page = Object.values(bundle).find(
        (one) => one.type === "chunk" && one.name === "index",
      );
      const revision = page?.fileName ?? "";
      const files = [
        { url: "/index.html", revision },
        { url: "/mark.svg", revision },
        ...parts.map((name) => ({ url: `/${name}` })),
      ];
      worker.code = worker.code.replace(/\bBUILT_FILES\b/, JSON.stringify(files));
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), builtFiles()],
  // `make dev`: the server answers behind the screens.
  server: {
    port: 5173,
    strictPort: true,
    proxy: { "^/(api|_allauth|health)(/|$)": "http://localhost:8765" },
  },
  build: {
    target: "es2022",
    // Nothing inline: the content security policy allows only our own files.
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    chunkSizeWarningLimit: 1500,
    rollupOptions: {
      input: { index: "index.html", sw: "src/yard-worker.ts" },
      output: {
        // Where it lies says which pages it may keep.
        entryFileNames: ({ name }) => (name === "sw" ? "sw.js" : "assets/[name]-[hash].js"),
      },
    },
  },
  // Files that need a page say so in their first line: making one takes two seconds.
  test: {
    environment: "node",
    include: ["tests/**/*.test.ts?(x)"],
    // One of them waits for most of its time; else it would be one process on two cores.
    maxWorkers: 3,
    // A loaded machine is slow, not wrong.
    testTimeout: 60_000,
  },
});
