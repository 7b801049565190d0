/** `npm test`: lint, types and every test. Installs what is missing, Chromium included where that is allowed. */
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { build, check, install, root, run, stop, tool } from "./prepare.mjs";

/** Where Chromium is looked for. Debian's build without windows comes first: it draws the same pages at two thirds of the cost. */
const SHELL = "/usr/bin/chromium-headless-shell";
const places = [SHELL, "/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

/**
 * Programs of other people that are tried as they are: editors for the language server, a mail program and git's own for letters and series. Where they
 * cannot be had those tests are skipped, and say so; clients of the protocols are tried everywhere.
 */
const others = {
  "/usr/bin/nvim": ["neovim"],
  "/usr/bin/emacs": ["emacs-nox", "elpa-eglot"],
  "/usr/bin/neomutt": ["neomutt"],
  "/usr/lib/git-core/git-send-email": ["git-email"],
};

/** Asks Debian for what is missing, where that is allowed; what cannot be had is left. */
function fetchMissing() {
  const wanted = process.env.LENS_CHROMIUM ? others : { [SHELL]: ["chromium-headless-shell"], ...others };
  const packages = Object.entries(wanted).flatMap(([place, of]) => (existsSync(place) ? [] : of));
  if (packages.length === 0 || process.getuid?.() !== 0 || spawnSync("apt-get", ["--version"]).status !== 0) return;
  process.stderr.write(`Installing ${packages.join(", ")} to try them …\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  const apt = (...words) => spawnSync("apt-get", [...words, "-qq"], { env, stdio: "ignore", timeout: 300_000 });
  const get = (...names) => apt("install", "-y", "--no-install-recommends", ...names);
  if (get(...packages).status === 0) return;
  apt("update");
  // One that is not known here keeps none of the others away.
  for (const one of packages) get(one);
  if (!places.some((place) => existsSync(place))) get("chromium");
}

function chromium() {
  const found = [process.env.LENS_CHROMIUM, ...places].find((place) => place && existsSync(place));
  return (
    found ??
    stop(
      "The browser tests need Chromium, and none was found. Install it (on Debian: `sudo apt-get install chromium`) or name it in LENS_CHROMIUM.",
    )
  );
}

install();
fetchMissing();
process.env.LENS_CHROMIUM = chromium();
const checked = check();
await build();
await checked;
process.env.LENS_ROOT = root;
run(tool("vitest"), ["run", ...process.argv.slice(2)]);
