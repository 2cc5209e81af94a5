import { fileURLToPath } from "node:url"
import { defineConfig } from "vitest/config"

const alias = {
  "@": fileURLToPath(new URL("./src", import.meta.url)),
  "@demo": fileURLToPath(new URL("./demo", import.meta.url)),
}

export default defineConfig({
  resolve: { alias },
  test: {
    projects: [
      { resolve: { alias }, test: { name: "unit", include: ["src/**/*.test.ts"], testTimeout: 60_000 } },
      {
        resolve: { alias },
        test: {
          name: "server",
          globalSetup: ["tests/support/mariadb.ts"],
          setupFiles: ["tests/support/as-browser.ts"],
          include: ["tests/server/**/*.test.ts"],
          fileParallelism: false,
          // Files run one after the other, each with a school of its own: what they import is read once for all.
          isolate: false,
          testTimeout: 60_000,
          hookTimeout: 120_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: "browser",
          globalSetup: ["tests/support/browser-school.ts"],
          include: ["tests/browser/**/*.test.ts"],
          fileParallelism: false,
          testTimeout: 90_000,
          hookTimeout: 180_000,
          expect: { poll: { timeout: 20_000 } },
        },
      },
    ],
  },
})
