import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import ts from "typescript";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { clientSource } from "@/core/doors/endpoints/client-source";
import type { EndpointName } from "@/core/doors/endpoints/table";
import { COMMAND_LINE } from "@/server/access/audit";
import { makeToken } from "@/server/access/tokens";
import { value } from "@/server/testing/bench";
import { story } from "@/server/testing/story";
import { Api, NAMES } from "../testing/api";

const it = story();

/** The client that is made for programs of others, compiled as they compile it, and asked as they ask. */
let api: Api;
let folder: string;
/** What it exports, as a program without types sees it. */
let client: ReturnType<typeof made>;
const source = clientSource("1.0.0");

interface Module {
  lensClient: (options: object) => {
    ask: (name: string, given: object) => Promise<unknown>;
    events: (given?: object) => AsyncGenerator<{ id: string; data: { kind?: string; type?: string } }>;
  };
  Refused: new () => Error;
}
let module: Module;
/** How often a connection to the stream was made, and what ends the last one in the middle. */
let streams = 0;
let breakIt: () => void;

/** Stands for the network: what a client sends comes to the handlers. */
async function network(url: URL, init: RequestInit): Promise<Response> {
  const path = url.pathname;
  const method = init.method ?? "GET";
  const name = NAMES.find((one) => {
    const [verb, pattern] = one.split(" ");
    return verb === method && new RegExp(`^${pattern.replace(/\{\w+\}/g, "[^/]+")}$`).test(path);
  }) as EndpointName;
  const shape = name.split(" ")[1].split("/");
  const parts = Object.fromEntries(
    path
      .split("/")
      .flatMap((part, i) => (/^\{/.test(shape[i]) ? [[shape[i].slice(1, -1), decodeURIComponent(part)]] : [])),
  );
  const broken = new AbortController();
  const response = await api.routes.get(name)!(
    new Request(url, { ...init, signal: AbortSignal.any([broken.signal, ...(init.signal ? [init.signal] : [])]) }),
    { params: Promise.resolve(parts) },
  );
  if (name === "GET /api/events") {
    streams++;
    breakIt = () => broken.abort();
  }
  return response;
}

const made = (token?: string) => module.lensClient({ address: "http://lens.example", token, fetch: network });

beforeAll(async () => {
  api = await Api.set();
  folder = mkdtempSync(join(api.bench.folder, "client-"));
  mkdirSync(folder, { recursive: true });
  const { outputText } = ts.transpileModule(source, {
    compilerOptions: { module: ts.ModuleKind.ESNext, target: ts.ScriptTarget.ES2022 },
  });
  writeFileSync(join(folder, "client.mjs"), outputText);
  module = await import(/* @vite-ignore */ pathToFileURL(join(folder, "client.mjs")).href);
  const token = value(
    await makeToken(api.bench.app, "ada", { label: "program", scopes: ["read", "write"] }, COMMAND_LINE),
  );
  client = made(token);
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await api.clear();
});

describe("the client for programs", () => {
  it("compiles by itself, strictly, and knows what is given and answered", () => {
    const use = `import { type Answer, lensClient } from "./client";
const lens = lensClient({ address: "http://x" });
export const title = async () => {
  const { change } = await lens.ask("GET /api/repos/{repo}/changes/{number}", { parts: { repo: "quay", number: "1" } });
  const words: string | undefined = change?.title;
  // @ts-expect-error a part is missing
  await lens.ask("GET /api/repos/{repo}/changes/{number}", { parts: { repo: "quay" } });
  // @ts-expect-error there is no such endpoint
  await lens.ask("GET /api/nothing", {});
  // @ts-expect-error that is no kind of command
  await lens.ask("POST /api/repos/{repo}/changes/{number}", { parts: { repo: "quay", number: "1" }, body: { kind: "explode" } });
  const made: Answer<"POST /api/repos/{repo}/changes">["number"] = 3;
  return [words, made];
};
`;
    writeFileSync(join(folder, "client.ts"), source);
    writeFileSync(join(folder, "use.ts"), use);
    const program = ts.createProgram([join(folder, "use.ts")], {
      ...{ strict: true, noEmit: true, noUncheckedIndexedAccess: false, types: [], skipLibCheck: true },
      ...{ target: ts.ScriptTarget.ES2022, module: ts.ModuleKind.ESNext, lib: ["lib.es2022.d.ts", "lib.dom.d.ts"] },
      moduleResolution: ts.ModuleResolutionKind.Bundler,
    });
    const problems = ts.getPreEmitDiagnostics(program);
    expect(problems.map(({ messageText }) => ts.flattenDiagnosticMessageText(messageText, "\n"))).toEqual([]);
    for (const name of NAMES) expect(source).toContain(JSON.stringify(name));
  });

  it("asks and answers as the table says: JSON, text, nothing, and refusals with their sentence", async () => {
    const opened = await client.ask("POST /api/repos/{repo}/changes", {
      parts: { repo: "quay" },
      body: { title: "Deeper", description: "Because.", source: "pier", target: "main" },
    });
    expect(opened).toMatchObject({ number: 1 });
    const parts = { repo: "quay", number: "1" };
    expect(await client.ask("GET /api/repos/{repo}/changes/{number}", { parts, query: {} })).toMatchObject({
      change: { title: "Deeper" },
    });
    const text = await client.ask("GET /api/repos/{repo}/changes/{number}/text", { parts, query: { path: "a.ts" } });
    expect(await (text as Response).text()).toMatch(/change set 1 of quay/);
    const nowhere = client.ask("GET /api/repos/{repo}/changes/{number}", { parts: { repo: "a/../b", number: "1" } });
    await expect(nowhere).rejects.toMatchObject({
      code: "missing",
      status: 404,
      message: expect.stringMatching(/\S \S/),
    });
    await expect(made().ask("GET /api/notices/count", {})).rejects.toMatchObject({
      code: "unauthenticated",
      status: 401,
    });
  });

  it("hears every event once, also where its connection breaks in the middle", async () => {
    const until = new AbortController();
    const heard: string[] = [];
    const after = (await api.bench.change("quay", 1)).change.last;
    const describeIt = (title: string) =>
      client.ask("POST /api/repos/{repo}/changes/{number}", {
        parts: { repo: "quay", number: "1" },
        body: { kind: "describe", title, description: "Because." },
      });
    await describeIt("Deeper still");
    for await (const { id } of client.events({ after, signal: until.signal })) {
      heard.push(id);
      if (heard.length === 1) {
        breakIt();
        await describeIt("Deepest");
      } else until.abort();
    }
    expect(heard).toHaveLength(2);
    expect(heard[1]).toBe((await api.bench.change("quay", 1)).change.last);
    expect(streams).toBeGreaterThan(1);
  });
});
