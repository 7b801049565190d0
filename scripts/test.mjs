/** `npm test`: lint, types and every test. Installs what is missing, Chromium included where that is allowed. */
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { build, install, root, run, stop, tool } from "./prepare.mjs";

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

/** Editors in which the language server is tried. Where they cannot be had those two tests are skipped, and say so; a client of the protocol is tried everywhere. */
function editors() {
  const missing = { nvim: ["neovim"], emacs: ["emacs-nox", "elpa-eglot"] };
  const packages = Object.entries(missing).flatMap(([name, of]) => (existsSync(`/usr/bin/${name}`) ? [] : of));
  if (packages.length === 0 || process.getuid?.() !== 0 || spawnSync("apt-get", ["--version"]).status !== 0) return;
  process.stderr.write(`Installing ${packages.join(", ")} for the tests of editors …\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  spawnSync("apt-get", ["install", "-y", "-qq", "--no-install-recommends", ...packages], { env, stdio: "ignore" });
}

install();
process.env.LENS_CHROMIUM = chromium();
editors();
run(tool("biome"), ["check", "."]);
run(tool("depcruise"), ["--config", ".dependency-cruiser.cjs", "src", "demo", "bench"]);
await build();
run(tool("tsc"), ["--noEmit"]);
process.env.LENS_ROOT = root;
run(tool("vitest"), ["run", ...process.argv.slice(2)]);
