import react from "@vitejs/plugin-react";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants } from "node:zlib";
import { defineConfig, type Plugin } from "vite";

const outDir = "../Service/bin/Release/net10.0/wwwroot";

/** Compresses every script and style once, as small as it gets: the service sends them so (RFC 7932). */
const compressed: Plugin = {
  name: "compressed",
  apply: "build",
  closeBundle() {
    const folder = join(outDir, "assets");
    for (const name of readdirSync(folder).filter((n) => /\.(js|css)$/.test(n))) {
      const params = { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY };
      writeFileSync(join(folder, `${name}.br`), brotliCompressSync(readFileSync(join(folder, name)), { params }));
    }
  },
};

/** Lists the scripts of the first page beside the one that every page has, so that the service can announce them. */
const firstPage: Plugin = {
  name: "first page",
  apply: "build",
  generateBundle(_, bundle) {
    const chunks = Object.values(bundle).filter((c) => c.type === "chunk");
    const within = (name: string, found = new Set<string>()): Set<string> => {
      const chunk = chunks.find((c) => c.fileName === name);
      if (!chunk || found.has(name)) return found;
      found.add(name);
      chunk.imports.forEach((i) => within(i, found));
      return found;
    };
    const entry = chunks.find((c) => c.isEntry);
    const today = chunks.find((c) => c.facadeModuleId?.endsWith("/today/TodayRoute.tsx"));
    if (!entry || !today) throw new Error("The first page has no script of its own.");
    const every = within(entry.fileName);
    const own = [...within(today.fileName)].filter((name) => !every.has(name));
    this.emitFile({ type: "asset", fileName: "first-page.txt", source: own.map((name) => `/${name}\n`).join("") });
  },
};

// The service serves what is built here, fonts as files too: its content policy lets in nothing else.
export default defineConfig({
  plugins: [react(), firstPage, compressed],
  build: {
    outDir,
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 800,
  },
  server: { proxy: { "/api": "http://127.0.0.1:5080" } },
});
