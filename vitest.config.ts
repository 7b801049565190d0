import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

const alias = {
  "@": fileURLToPath(new URL("./src", import.meta.url)),
  "~": fileURLToPath(new URL(".", import.meta.url)),
};

/** As many files at a time as there are processors, and four at least: what waits for git, a disk or a page leaves room for others. */
const maxWorkers = Math.max(4, availableParallelism());

/**
 * A part of the tests. Files share what is loaded, which took longer than many of their tests; what a test changes it puts back. What is slow there is a matter of the machine: no test has a limit that it would notice on a
 * quiet one.
 */
const part = (name: string, include: string[], more: object = {}) => ({
  resolve: { alias },
  test: {
    ...{ name, include, testTimeout: 60_000, hookTimeout: 60_000, maxWorkers, isolate: false },
    sequence: { groupOrder: 1 },
    // What is waited for is waited for as long as a busy machine may need, not for the second that is usual.
    ...{ expect: { poll: { timeout: 50_000 } } },
    ...more,
  },
});

/** Where processes live for a minute, and what is called once is not worth compiling well. */
const BRIEF = { env: { LENS_BRIEF: "yes" } };

/** What starts servers, git and editors: seconds on a quiet machine, a minute and more on a busy one. */
const LONG = { testTimeout: 180_000, hookTimeout: 180_000 };

/** Pages last longest, and what they are made of is made beside what comes before them; what is short fills the gaps at the end. */
const PARTS = ["core", "browser", "server", "ui"];

/** Within a part files go by how long they took, and the first time by their size: this one is short to read, takes longest, and would be waited for alone. */
const LONGEST = "/tests/browser/everyone.test.ts";

class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const placeOf = ({ project, moduleId }: TestSpecification) =>
      2 * PARTS.indexOf(project.name) - Number(moduleId.endsWith(LONGEST));
    return (await super.sort(files)).sort((a, b) => placeOf(a) - placeOf(b));
  }
}

export default defineConfig({
  test: {
    sequence: { sequencer: LongestFirst },
    projects: [
      // It waits for nothing: more at a time than there are processors take them from each other.
      part("core", ["src/core/**/*.test.ts"], {
        ...{ pool: "threads", maxWorkers: Math.max(2, availableParallelism()), sequence: { groupOrder: 0 } },
        ...BRIEF,
      }),
      part("ui", ["src/ui/**/*.test.{ts,tsx}"], {
        ...{ environment: "happy-dom", setupFiles: ["src/ui/testing/setup.ts"], pool: "threads" },
      }),
      part("server", ["src/{app,cli,git,server,store}/**/*.test.ts", "demo/**/*.test.ts"], LONG),
      part("browser", ["tests/browser/**/*.test.{ts,tsx}"], {
        // A browser on a busy machine is tried once more, and the closing lines say so.
        ...{ retry: 1, globalSetup: ["tests/browser/common.ts"] },
        ...LONG,
        ...BRIEF,
      }),
    ],
    // What is made of each file for Node is kept: the next run begins where this one ended.
    experimental: { fsModuleCache: true },
    reporters: ["default", "./scripts/closing-line.mjs"],
  },
});
