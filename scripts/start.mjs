/** `npm start`: serves an installation in production mode. LENS_DATA and PORT say where; see `npm run lens -- serve --help`. */
import { build, root } from "./prepare.mjs";

process.env.NODE_ENV = "production";
process.env.LENS_ROOT ??= root;
const { bundle } = await import("./prepare.mjs");
await bundle();
const { checkSettings, main } = await import("../dist/lens.mjs");
const wrong = checkSettings(process.env);
if (wrong) {
  process.stderr.write(`${wrong}\n`);
  process.exit(1);
}
await build();
process.exitCode = await main(["serve", ...process.argv.slice(2)]);
