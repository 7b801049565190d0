import { execFileSync, spawn } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { COMMAND_LINE } from "@/server/access/audit";
import { addPerson, findPerson, setRole } from "@/server/access/people";
import { addRepository } from "@/server/access/repositories";
import { makeToken } from "@/server/access/tokens";
import { openApp } from "@/server/app/context";
import { bareSettings } from "@/server/app/settings";
import { openChange } from "@/server/changes/revisions/opening";
import { type Served, serve } from "~/tests/served";
import { HOSTILE, type HostileBranch, Work } from "./hostile-branches";
import { memoryOf, need, signIn } from "./parts";

/** So long may one answer take, in milliseconds; the bench goes on with the next then. */
const LONGEST = 120_000;
const MB = 1e6;

interface Waited {
  /** What was asked meanwhile. */
  what: string;
  took: number;
}

interface Asked {
  what: string;
  status: number;
  took: number;
}

/** Pushes branches that are made to hinder, opens and reads each, and watches meanwhile how long those wait who ask for something else. */
export async function hostile(say: (words: string) => void, only?: string): Promise<number> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  process.env.LENS_LOG ??= "error";
  const folder = mkdtempSync(join(tmpdir(), "lens-hostile-"));
  let server: Served | null = null;
  try {
    const work = join(folder, "work");
    mkdirSync(work);
    const git = (...args: string[]) => execFileSync("git", ["-C", work, ...args], { stdio: "ignore" });
    git("init", "--quiet", "--initial-branch=main");
    writeFileSync(join(work, "a.txt"), "one\n");
    git("add", "--all");
    git("-c", "user.name=A", "-c", "user.email=a@x.example", "commit", "--quiet", "-m", "main");
    const data = join(folder, "data");
    const app = await openApp(bareSettings(data, root));
    const kit = { name: "kit", fullName: "Kit Example", email: "kit@x.example", password: "long enough" };
    need(await addPerson(app, { ...kit, name: "ada", email: "ada@x.example" }));
    need(await addPerson(app, kit));
    need(await addPerson(app, { ...kit, name: "pim", email: "pim@x.example" }));
    git("checkout", "--quiet", "-b", "honest");
    writeFileSync(join(work, "a.txt"), "two\n");
    git("-c", "user.name=A", "-c", "user.email=a@x.example", "commit", "--quiet", "--all", "-m", "honest");
    git("checkout", "--quiet", "main");
    need(await addRepository(app, "quay", { kind: "folder", path: work }));
    for (const name of ["ada", "kit", "pim"]) need(await setRole(app, name, "quay", "contributor"));
    const request = { source: "honest", target: "main", title: "Honest", description: "" };
    need(await openChange(app, (await findPerson(app.db, "pim"))!, "quay", request));
    const [ada, reader, other] = [
      need(await makeToken(app, "ada", { label: "bench" }, COMMAND_LINE)),
      need(await makeToken(app, "kit", { label: "bench" }, COMMAND_LINE)),
      need(await makeToken(app, "pim", { label: "bench" }, COMMAND_LINE)),
    ];
    await app.close();
    server = await serve(data);
    const house = { server, work, ada, reader, other, cookie: await signIn(server.address) };
    for (const branch of HOSTILE.filter(({ name }) => !only || name.startsWith(only))) {
      say(`${branch.name} …`);
      await branch.make(new Work(work, branch.name));
      const { asked, quick, worked, memory } = await tried(house, branch);
      const slow = asked.sort((a, b) => b.took - a.took).slice(0, 2);
      const odd = asked.filter(({ status }) => status >= 500 || status === 0);
      const told = (list: readonly Asked[]) =>
        list.map(({ what, status, took }) => `${what} ${status} ${(took / 1000).toFixed(1)} s`).join(", ");
      console.log(
        `${branch.name.padEnd(20)} another's answer ${quick.took.toFixed(0).padStart(5)} ms (at ${quick.what}), work ${worked.took.toFixed(0).padStart(5)} ms (at ${worked.what}); ${memory.toFixed(0)} MB; slowest: ${told(slow)}${odd.length > 0 ? `; ODD: ${told(odd)}` : ""}`,
      );
    }
    return 0;
  } finally {
    await server?.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

interface House {
  server: Served;
  work: string;
  ada: string;
  reader: string;
  /** Somebody who has nothing to do with it. */
  other: string;
  /** Of the reader, for pages. */
  cookie: string;
}

/** All that is asked about one branch, and the slowest answer that somebody else was given meanwhile. */
async function tried({ server, work, ada, reader, other, cookie }: House, { name }: HostileBranch) {
  const { address } = server;
  const asked: Asked[] = [];
  let at = "";
  let going = true;
  let most = 0;
  /** Asks again and again for one thing, and tells the longest that it took. */
  const watch = async (path: string, token: string, pause: number): Promise<Waited> => {
    const waited = { what: "", took: 0 };
    while (going) {
      const [began, what] = [performance.now(), at];
      // A connection that was closed while nobody asked is no fault of who answers.
      const headers = { connection: "close", authorization: `Bearer ${token}` };
      await fetch(address + path, { headers }).then((one) => one.arrayBuffer());
      const took = performance.now() - began;
      if (took > waited.took) Object.assign(waited, { took, what: what === at ? what : `${what} to ${at}` });
      most = Math.max(most, memoryOf(server.process) / MB);
      await new Promise((resolve) => setTimeout(resolve, pause));
    }
    return waited;
  };
  const watches = [
    watch("/api/health", other, 10),
    // What takes its time waits for others of its kind.
    watch("/api/repos/quay/changes/1/text", other, 200),
  ];
  const ask = async (path: string, token: string, body?: object): Promise<string> => {
    at = path.replace(/\?.*$/, "").replace(/^.*\/(?=[^/])/, "");
    const began = performance.now();
    let [status, text] = [0, ""];
    try {
      const response = await fetch(address + path, {
        method: body ? "POST" : "GET",
        headers: {
          ...(path.startsWith("/api") ? { authorization: `Bearer ${token}` } : { cookie }),
          ...(body ? { "content-type": "application/json" } : {}),
        },
        ...(body ? { body: JSON.stringify(body) } : {}),
        signal: AbortSignal.timeout(LONGEST),
        redirect: "manual",
      });
      [status, text] = [response.status, await response.text()];
    } catch {
      // Told as no status.
    }
    const took = performance.now() - began;
    if (took > 5_000) console.error(`  ${at} was answered with ${status} after ${(took / 1000).toFixed(0)} s`);
    asked.push({ what: at, status, took });
    return text;
  };
  const target = (await branches(work)).includes(`${name}-base`) ? `${name}-base` : "main";
  const remote = `${address.replace("//", `//ada:${ada}@`)}/git/quay.git`;
  at = "push";
  const began = performance.now();
  const status = await push(work, remote, target === "main" ? [name] : [target, name]);
  asked.push({ what: "push", status, took: performance.now() - began });
  if (status === 200) {
    await ask(`/api/repos/quay/preview?source=${name}&target=${target}`, ada);
    const opened = await ask("/api/repos/quay/changes", ada, {
      ...{ source: name, target, title: name, description: "" },
    });
    const number = (JSON.parse(opened || "{}") as { number?: number }).number;
    if (number !== undefined) {
      const change = `/api/repos/quay/changes/${number}`;
      await ask(change, reader);
      const brief = await ask(`${change}/reading?brief=yes`, reader);
      const path = (JSON.parse(brief || "{}") as { files?: { path: string }[] }).files?.[0]?.path ?? "a.txt";
      await ask(`${change}/reading?whole=yes`, reader);
      const file = `path=${encodeURIComponent(path)}`;
      for (const part of ["counts", "commits", "sizes", "text", "progress", "left-alone", "gate", "findings"])
        await ask(`${change}/${part}`, reader);
      for (const part of [`classes?${file}`, `origins?${file}`, `file-history?side=new&${file}`])
        await ask(`${change}/${part}`, reader);
      for (const part of [`blame?side=new&${file}`, `line-history?side=new&line=1&${file}`])
        await ask(`${change}/${part}`, reader);
      await ask(`${change}/names?side=new&name=a&line=1&${file}`, reader);
      for (const where of ["changed", "whole", "tree"]) await ask(`${change}/search?words=line&where=${where}`, reader);
      for (const how of ["merge", "squash", "rebase"]) await ask(`${change}/merge?how=${how}`, reader);
      await ask(`/api/repos/quay/tree?at=${new Work(work, name).id(name)}`, reader);
      await ask(`/r/quay/c/${number}`, reader);
    }
    await ask("/api/changes?query=", reader);
    await ask("/r/quay", reader);
  }
  going = false;
  const [quick, worked] = await Promise.all(watches);
  return { asked, quick, worked, memory: most };
}

/** 200 where all was taken. */
async function push(folder: string, remote: string, names: readonly string[]): Promise<number> {
  const env = { ...process.env, GIT_CONFIG_GLOBAL: "/dev/null", GIT_CONFIG_NOSYSTEM: "1", GIT_TERMINAL_PROMPT: "0" };
  const child = spawn("git", ["-C", folder, "push", "--quiet", remote, ...names], { env, stdio: "ignore" });
  return new Promise((resolve) => child.on("close", (code) => resolve(code === 0 ? 200 : 400)));
}

async function branches(folder: string): Promise<string[]> {
  return execFileSync("git", ["-C", folder, "for-each-ref", "--format=%(refname:short)"]).toString().split("\n");
}
