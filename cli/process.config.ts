/**
 * Makes plain JavaScript of the server process and of the thread beside it (`dist/process/`). With what reads TypeScript in
 * it, a process would ask that about every import: a page is imported again with every request.
 */
import { fileURLToPath } from "node:url";
import { defineConfig } from "vite";

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  root: here(".."),
  publicDir: false,
  build: {
    ssr: true,
    target: "node20",
    minify: false,
    outDir: here("../dist/process"),
    rollupOptions: {
      input: { server: here("server.ts"), aside: here("aside/work.ts") },
      output: { entryFileNames: "[name].mjs", chunkFileNames: "[name].mjs" },
    },
  },
});
