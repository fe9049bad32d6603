import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
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
  },
  // Files that need a page say so in their first line: making one takes two seconds.
  test: { environment: "node", include: ["tests/**/*.test.ts?(x)"] },
});
