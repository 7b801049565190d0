/** `npm test`: lint, types and every test. Installs what is missing, Chromium included where that is allowed. */
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { beside, build, install, root, run, stop, tool } from "./prepare.mjs";

const places = [process.env.LENS_CHROMIUM, "/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

function chromium() {
  const found = places.find((place) => place && existsSync(place));
  if (found) return found;
  const apt = spawnSync("apt-get", ["--version"]).status === 0;
  if (apt && process.getuid?.() === 0) {
    process.stderr.write("Installing Chromium for the browser tests …\n");
    const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
    run("apt-get", ["update", "-qq"], { env });
    run("apt-get", ["install", "-y", "-qq", "--no-install-recommends", "chromium"], { env });
    if (existsSync("/usr/bin/chromium")) return "/usr/bin/chromium";
  }
  return stop(
    "The browser tests need Chromium, and none was found. Install it (on Debian: `sudo apt-get install chromium`) or name it in LENS_CHROMIUM.",
  );
}

/**
 * Programs of other people that are tried as they are: editors for the language server, a mail program and git's own for letters and series. Where they
 * cannot be had those tests are skipped, and say so; clients of the protocols are tried everywhere.
 */
function others() {
  const missing = {
    "/usr/bin/nvim": ["neovim"],
    "/usr/bin/emacs": ["emacs-nox", "elpa-eglot"],
    "/usr/bin/neomutt": ["neomutt"],
    "/usr/lib/git-core/git-send-email": ["git-email"],
  };
  const packages = Object.entries(missing).flatMap(([place, of]) => (existsSync(place) ? [] : of));
  if (packages.length === 0 || process.getuid?.() !== 0 || spawnSync("apt-get", ["--version"]).status !== 0) return;
  process.stderr.write(`Installing ${packages.join(", ")} to try them …\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  spawnSync("apt-get", ["install", "-y", "-qq", "--no-install-recommends", ...packages], { env, stdio: "ignore" });
}

install();
process.env.LENS_CHROMIUM = chromium();
others();
run(tool("biome"), ["check", "."]);
run(tool("depcruise"), ["--config", ".dependency-cruiser.cjs", "src", "demo", "bench"]);
const types = beside(tool("tsc"), ["--noEmit"]);
await build();
await types;
process.env.LENS_ROOT = root;
run(tool("vitest"), ["run", ...process.argv.slice(2)]);
