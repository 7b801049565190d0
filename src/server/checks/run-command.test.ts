import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { whyNoJail } from "./jail";
import { runCommand } from "./run-command";

let place: string;
let jail: string | null;
const never = new AbortController().signal;
const run = (words: string, inJail: boolean, limit = 20) =>
  runCommand({ name: "x", run: words, limit }, place, inJail, never);

beforeAll(async () => {
  place = mkdtempSync(join(tmpdir(), "lens-run-test-"));
  for (const folder of ["root", "tree"]) mkdirSync(join(place, folder));
  writeFileSync(join(place, "tree/a.txt"), "here\n");
  jail = await whyNoJail(join(place, "root"), place);
});
afterAll(() => rmSync(place, { recursive: true, force: true }));

describe("a command of a repository", () => {
  it("runs in its folder, and nothing that it began outlives it", async () => {
    const ran = await run("cat a.txt; (sleep 61 &) ; setsid sleep 61 & sleep 0.3; echo done", jail === null);
    expect(ran).toMatchObject({ code: 0, ended: null, output: "here\ndone\n" });
    const { execSync } = await import("node:child_process");
    expect(execSync("pgrep -fc '^sleep 6[1]' || true").toString().trim()).toBe("0");
  });

  it("is ended when its time is over, also when it left its group", async () => {
    const ran = await run("setsid sh -c 'sleep 62; true'; true", false, 1);
    expect(ran.ended).toBe("late");
  });

  it("is ended when it takes too much memory", async () => {
    // Each of several takes less than one may, and all of them more than all may.
    const hog = `node -e "const a=[];for(let i=0;i<18;i++)a.push(Buffer.alloc(64*1024*1024,1));setTimeout(()=>{},20000)"`;
    const ran = await run(`${hog} & ${hog} & ${hog} & wait`, jail === null, 60);
    expect(ran.ended).toBe("memory");
  });

  it("in a jail has no network, sees no data of this machine, and writes into its own folder alone", async () => {
    // Where the kernel allows none there is nothing to see; the log of the runner says so.
    if (jail !== null) return expect(jail).not.toBe("");
    const { createServer } = await import("node:net");
    const server = createServer((socket) => socket.end());
    await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
    const { port } = server.address() as { port: number };
    const secret = join(tmpdir(), `lens-secret-${process.pid}`);
    writeFileSync(secret, "secret");
    const words = [
      `cat ${secret} 2>/dev/null || echo no-secret`,
      "ls /root /home 2>/dev/null | head -1; [ -e /etc/shadow ] || echo no-shadow",
      "(echo > /usr/here) 2>/dev/null || echo no-write",
      `node -e "require('net').connect(${port},'127.0.0.1',()=>console.log('network')).on('error',()=>console.log('no-network'))"`,
      "echo made > made.txt",
    ].join("; ");
    const ran = await run(words, true);
    rmSync(secret);
    server.close();
    expect(ran.output.trim().split("\n")).toEqual(["no-secret", "no-shadow", "no-write", "no-network"]);
  });
});
