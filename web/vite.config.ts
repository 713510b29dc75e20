import vue from "@vitejs/plugin-vue";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [vue()],
  // Tools for looking into a running page are no part of it.
  define: { __VUE_PROD_DEVTOOLS__: "false", __VUE_OPTIONS_API__: "true" },
  build: { target: "es2023", chunkSizeWarningLimit: 900 },
  // No clock of a busy machine fails a test.
  test: { testTimeout: 120_000, hookTimeout: 120_000 },
  server: { proxy: { "/api": "http://127.0.0.1:8460" } },
});
