import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const alias = {
  "@": fileURLToPath(new URL("./src", import.meta.url)),
  "~": fileURLToPath(new URL(".", import.meta.url)),
};

export default defineConfig({
  test: {
    projects: [
      {
        resolve: { alias },
        test: { name: "unit", include: ["src/**/*.test.{ts,tsx}", "demo/**/*.test.ts"], testTimeout: 60_000 },
      },
      {
        resolve: { alias },
        test: {
          name: "browser",
          include: ["tests/browser/**/*.test.{ts,tsx}"],
          testTimeout: 180_000,
          hookTimeout: 180_000,
          fileParallelism: false,
        },
      },
    ],
    reporters: ["default", "./scripts/closing-line.mjs"],
  },
});
