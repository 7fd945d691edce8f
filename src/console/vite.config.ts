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

// The service serves what is built here, fonts as files too: its content policy lets in nothing else.
export default defineConfig({
  plugins: [react(), compressed],
  build: {
    outDir,
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 800,
  },
  server: { proxy: { "/api": "http://127.0.0.1:5080" } },
});
