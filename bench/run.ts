import { execFile } from "node:child_process";
import { promisify } from "node:util";

const execute = promisify(execFile);

/** Runs a program and gives what it printed. */
export async function run(command: string, args: string[]): Promise<string> {
  const { stdout } = await execute(command, args, { maxBuffer: 1 << 28 });
  return stdout;
}
