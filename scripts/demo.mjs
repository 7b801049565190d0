/** `npm run demo`: installs, builds, makes the demo data where there is none, serves it and says who can sign in. */
import { build, root } from "./prepare.mjs";

process.env.NODE_ENV = "production";
process.env.LENS_ROOT ??= root;
process.env.LENS_DATA ??= `${root}/.demo`;
process.env.LENS_MAIL_STANDIN ??= "yes";
process.env.LENS_MAIL_ANSWERS ??= "answers@lens.example";
process.env.LENS_RUNNER ??= "gauge";
process.env.LENS_MAIL_QUIET ??= "10";
await build();
const { checkSettings, main } = await import("../dist/lens.mjs");
const { handOver, makeDemo, greeting, startDemoProvider } = await import("../dist/demo.mjs");
// With --hand two people review over a bare repository, without any server: told on the terminal, and no more.
if (process.argv.includes("--hand")) {
  process.env.LENS_LOG ??= "silent";
  await handOver((words) => process.stdout.write(`${words}\n`));
  process.exit(0);
}
// With --provider people can also sign in through a provider, for which a stand-in is started.
if (process.argv.includes("--provider")) await startDemoProvider(process.env);
const wrong = checkSettings(process.env);
if (wrong) {
  process.stderr.write(`${wrong}\n`);
  process.exit(1);
}
const say = (words) => process.stderr.write(`${words}\n`);
try {
  await makeDemo(process.env.LENS_DATA, { fresh: process.argv.includes("--fresh"), say });
} catch (error) {
  say(error.message);
  process.exit(1);
}
process.exitCode = await main(["serve"], { greeting });
