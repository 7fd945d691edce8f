import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// Logic and components without a browser; what needs one is driven in Chromium by the end-to-end tests.
export default defineConfig({
  plugins: [react()],
  // The machine may be busy with everything else that is tested: what fails, fails by what it shows.
  test: {
    testTimeout: 60_000,
    environment: "jsdom",
    setupFiles: ["tests/setup.ts"],
    include: ["tests/**/*.test.{ts,tsx}"],
  },
});
