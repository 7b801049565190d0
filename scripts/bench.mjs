/** `npm run bench`: the comparing engine beside git, on published histories or on one's own. See `--help`. */
import { bundle, root } from "./prepare.mjs";

process.env.LENS_ROOT ??= root;
await bundle();
const { main } = await import("../dist/bench.mjs");
process.exitCode = await main(process.argv.slice(2));
