/** `npm run bench`: the comparing engine beside git, on published histories or on one's own. See `--help`. */
import { build, bundle, root } from "./prepare.mjs";

/** Those that ask a server. */
const SERVED = new Set(["feel", "hostile", "keeping", "lists", "reads", "serving"]);

process.env.LENS_ROOT ??= root;
// What is asked of a server is asked of the pages as they are now.
await (SERVED.has(process.argv[2]) ? build() : bundle());
const { main } = await import("../dist/bench.mjs");
process.exitCode = await main(process.argv.slice(2));
