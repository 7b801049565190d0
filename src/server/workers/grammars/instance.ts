import { createRequire } from "node:module";
import { join } from "node:path";
import { setFlagsFromString } from "node:v8";

/** What web-tree-sitter exports. */
type TreeSitter = typeof import("web-tree-sitter");

/**
 * web-tree-sitter with a memory of its own. That memory grows with what the largest text needed and never shrinks, so that it is let go as a whole, and
 * another instance begun.
 */
export interface Instance extends Pick<TreeSitter, "Edit" | "Language" | "Parser"> {
  /** Bytes of its memory, used or free. Where a text wants more than there is, parsing it fails, and leaves the instance as it was in the middle of it. */
  memory: () => number;
}

/** What is used of the module that web-tree-sitter is made of: the one that it is given, with its parts put in. */
interface WasmModule {
  HEAP32: Int32Array;
  setValue: (place: number, value: number, type: string) => void;
  getValue: (place: number, type: string) => number;
}

/**
 * V8 compiles a function of a grammar well when it is first called: what its quick compiler makes is half as fast. One pass is left out, which makes
 * equal addresses one: whoever chooses instructions then asks for each use of an address about all others, and the lexer of PowerShell, one
 * function, took 13 s. In a process that lives for a minute, as those of tests do, functions are compiled quickly, and well when they are called often.
 */
const COMPILING = process.env.LENS_BRIEF ? ["--no-wasm-opt"] : ["--no-liftoff", "--no-wasm-opt"];

/** Pages of memory, of 64 kB each: at the beginning, and at the most. A minified program of 1.5 MB takes 100 MB, a list of as many digits 250. */
const PAGES = { initial: 512, maximum: 4_096 };

/** Finds installed packages, wherever this code was bundled to. */
export function packages(): NodeJS.Require {
  return createRequire(join(process.env.LENS_ROOT ?? process.cwd(), "package.json"));
}

/** Begins another instance, with no grammar in it. Nothing of the one before is held here. */
export async function anotherInstance(): Promise<Instance> {
  for (const flag of COMPILING) setFlagsFromString(flag);
  const require = packages();
  const place = require.resolve("web-tree-sitter");
  // What was required before is one with its memory.
  delete require.cache[place];
  const { Edit, Language, Parser } = require(place) as TreeSitter;
  // What fails says so by an error; its own words about it tell nobody anything.
  const wasm = { wasmMemory: new WebAssembly.Memory(PAGES), printErr: () => undefined };
  await Parser.init(wasm);
  quicken(wasm as unknown as WasmModule);
  return { Edit, Language, Parser, memory: () => wasm.wasmMemory.buffer.byteLength };
}

/**
 * Each step of a cursor goes through `setValue` and `getValue` eight times, which look at the type anew each time. Nearly all of it is `i32`, done
 * here at once: walking a tree takes a third of the time.
 */
function quicken(wasm: WasmModule): void {
  const { setValue, getValue } = wasm;
  if (!setValue || !getValue) return;
  wasm.setValue = (place, value, type) => {
    if (type === "i32") wasm.HEAP32[place >> 2] = value;
    else setValue(place, value, type);
  };
  wasm.getValue = (place, type) => (type === "i32" ? wasm.HEAP32[place >> 2] : getValue(place, type));
}
