/** `npm run test:fast`: what needs no server and no browser, in less than a minute. */
import { install, run, tool } from "./prepare.mjs";

install();
process.env.LENS_FAST = "yes";
run(tool("vitest"), ["run", "--project", "core", "--project", "ui", ...process.argv.slice(2)]);
