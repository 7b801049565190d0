/** `npm run lens -- …`: the command line, bundled first when its sources have changed. */
import { bundle, root } from "./prepare.mjs";

process.env.LENS_ROOT ??= root;
await bundle();
const { main } = await import("../dist/lens.mjs");
process.exitCode = await main(process.argv.slice(2));
