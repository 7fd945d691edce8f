import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// Logic and components without a browser; what needs one is driven in Chromium by the end-to-end tests.
export default defineConfig({
  plugins: [react()],
  test: { environment: "jsdom", setupFiles: ["tests/setup.ts"], include: ["tests/**/*.test.{ts,tsx}"] },
});
