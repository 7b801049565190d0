import { tell } from "./lens-hook.mjs";

tell("post-receive").catch((error) => {
  process.stderr.write(`The server could not be asked: ${error.message}\n`);
  process.exitCode = 1;
});
