import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { readFileSync } from "node:fs";
import { defineConfig } from "vite";

const { info } = JSON.parse(readFileSync("src/api/openapi.json", "utf8")) as { info: { version: string } };

export default defineConfig({
  define: { __RELEASE__: JSON.stringify(info.version) },
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "dist",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 600,
    rollupOptions: { input: { desk: "index.html", phone: "phone.html" } }, // the coach's pages and the runner's
  },
  server: { proxy: { "/api": { target: "http://127.0.0.1:8080", changeOrigin: false } } },
});
