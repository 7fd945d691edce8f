import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// The service serves what is built here, fonts as files too: its content policy lets in nothing else.
export default defineConfig({
  plugins: [react()],
  build: {
    outDir: "../Service/bin/Release/net10.0/wwwroot",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 800,
  },
  server: { proxy: { "/api": "http://127.0.0.1:5080" } },
});
