/** `npm run dev`: the demo data with pages that are compiled as they are asked for. */
import { bundle, root } from "./prepare.mjs";

process.env.LENS_ROOT ??= root;
process.env.LENS_DATA ??= `${root}/.demo`;
await bundle();
const { makeDemo } = await import("../dist/demo.mjs");
await makeDemo(process.env.LENS_DATA, {});
const { main } = await import("../dist/lens.mjs");
process.exitCode = await main(["serve", "--dev"]);
