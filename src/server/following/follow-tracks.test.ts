import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { beginTrack, positionAt } from "@/core/anchor/anchor-history";
import type { FileChange } from "@/core/diff/tree";
import { type Follower, followTracks, type RevisionStep, type Source } from "./follow-tracks";

type Tree = Map<string, string[]>;

/** Trees in memory, named by their number. */
function sourceOf(trees: readonly Tree[]): Source {
  const blobs = new Map<string, Buffer>();
  const idOf = (lines: string[] | undefined) => {
    if (!lines) return null;
    const text = `${lines.join("\n")}\n`;
    blobs.set(text, Buffer.from(text));
    return text;
  };
  return {
    objects: { size: async (id) => blobs.get(id)?.length ?? null, read: async (id) => blobs.get(id) ?? null },
    changes: async ({ from, to }) => {
      const [old, next] = [trees[Number(from)], trees[Number(to)]];
      return [...new Set([...old.keys(), ...next.keys()])].sort().flatMap((path): FileChange[] => {
        const [oldId, newId] = [idOf(old.get(path)), idOf(next.get(path))];
        return oldId === newId
          ? []
          : [{ path, oldId, newId, oldMode: oldId ? 0o100644 : 0, newMode: newId ? 0o100644 : 0 }];
      });
    },
  };
}

function stepsOf(trees: readonly Tree[]): RevisionStep[] {
  return trees.slice(1).map((_, i) => {
    const step = { from: String(i), to: String(i + 1) };
    return { revision: i + 2, old: step, new: step };
  });
}

/** Every line has a text of its own, so that where a text stands is where its line went. */
const history = fc
  .record({
    sizes: fc.array(fc.integer({ min: 8, max: 30 }), { minLength: 2, maxLength: 4 }),
    steps: fc.array(
      fc.array(
        fc.record({
          how: fc.constantFrom("edit", "insert", "drop", "move", "carry", "rename", "indent" as const),
          file: fc.nat(),
          other: fc.nat(),
          at: fc.nat(),
          to: fc.nat(),
          length: fc.integer({ min: 4, max: 7 }),
        }),
        { minLength: 1, maxLength: 4 },
      ),
      { minLength: 1, maxLength: 5 },
    ),
  })
  .map(({ sizes, steps }) => {
    let made = 0;
    const WORDS = ["berth", "tide", "pilot", "quay", "vessel", "draught", "mooring"];
    const line = () => `  ${WORDS[made % 7]}_${WORDS[(made * 3 + 1) % 7]}(${made++}, ${made * 7919});`;
    let tree: Tree = new Map(sizes.map((size, i) => [`src/file${i}.ts`, Array.from({ length: size }, line)]));
    const trees = [tree];
    for (const edits of steps) {
      tree = new Map([...tree].map(([path, lines]) => [path, [...lines]]));
      for (const { how, file, other, at, to, length } of edits) {
        const paths = [...tree.keys()];
        const path = paths[file % paths.length];
        const lines = tree.get(path)!;
        const place = at % (lines.length + 1);
        if (how === "insert") lines.splice(place, 0, line(), line());
        else if (how === "drop" && lines.length > 8) lines.splice(place, 1);
        else if (how === "edit" && place < lines.length) lines[place] = lines[place].replace(";", " + 1;");
        else if (how === "indent" && place < lines.length) lines[place] = `  ${lines[place]}`;
        else if (how === "move" || how === "carry") {
          const there = how === "move" ? lines : tree.get(paths[other % paths.length])!;
          if (lines.length < 12) continue;
          const block = lines.splice(place % (lines.length - length), length);
          there.splice(to % (there.length + 1), 0, ...block);
        } else if (how === "rename") {
          tree.delete(path);
          tree.set(`lib/named${made++}.ts`, lines);
        }
      }
      trees.push(tree);
    }
    return trees;
  });

function whereIs(tree: Tree, text: string): { path: string; line: number } | null {
  for (const [path, lines] of tree) {
    const line = lines.indexOf(text);
    if (line >= 0) return { path, line: line + 1 };
  }
  return null;
}

describe("following threads through revisions", () => {
  it("finds every line that still exists with its text, and never calls another text unchanged", async () => {
    let there = 0;
    let found = 0;
    await fc.assert(
      fc.asyncProperty(history, async (trees) => {
        const followers: Follower[] = [...trees[0]].flatMap(([path, lines]) =>
          lines.map((text, i) => ({
            id: text,
            side: "new" as const,
            track: beginTrack({ path, start: i + 1, end: i + 1, text: [text] }, 1),
          })),
        );
        const followed = await followTracks(sourceOf(trees), { steps: stepsOf(trees), followers });
        for (const { id, track, positions } of followed) {
          const history = [beginTrack(track.written, 1).position, ...positions];
          for (const [i, tree] of trees.entries()) {
            const position = positionAt(history, i + 1)!;
            const truth = whereIs(tree, id);
            if (position.status !== "edited" && position.status !== "gone") {
              expect(tree.get(position.path)?.[position.start - 1]).toBe(id);
              expect(truth).toEqual({ path: position.path, line: position.start });
            }
            if (truth) there++;
            if (truth && position.path === truth.path && position.start === truth.line) found++;
          }
        }
      }),
      { numRuns: 150, seed: 7 },
    );
    // What is left: a block that is cut again before anything says where it went.
    expect(found / there).toBeGreaterThan(0.995);
  });

  it("says that a thread is where it was when its text comes back", async () => {
    const text = ["one berth", "two pilots", "three tugs", "four lines", "five fenders"];
    const without = text.filter((line) => line !== "three tugs");
    const trees = [text, without, ["a new head", ...text]].map((lines): Tree => new Map([["quay.ts", lines]]));
    const track = beginTrack({ path: "quay.ts", start: 3, end: 3, text: ["three tugs"] }, 1);
    const [{ positions }] = await followTracks(sourceOf(trees), {
      steps: stepsOf(trees),
      followers: [{ id: "t", side: "new", track }],
    });
    expect(positions.map(({ revision, status, start, since }) => ({ revision, status, start, since }))).toEqual([
      { revision: 2, status: "gone", start: 3, since: 2 },
      { revision: 3, status: "shifted", start: 4, since: 3 },
    ]);
  });

  it("tells what stands there now, and the revision that last changed it", async () => {
    const body = ["open gate", "moor vessel at berth", "close gate"];
    const edited = ["open gate", "moor vessel at berth 7", "close gate"];
    const shifted = ["first", ...edited];
    const trees = [body, edited, shifted].map((lines): Tree => new Map([["quay.ts", lines]]));
    const track = beginTrack({ path: "quay.ts", start: 2, end: 2, text: [body[1]] }, 1);
    const [{ positions }] = await followTracks(sourceOf(trees), {
      steps: stepsOf(trees),
      followers: [{ id: "t", side: "new", track }],
    });
    expect(positions.at(-1)).toMatchObject({ status: "edited", start: 3, end: 3, since: 2, now: [edited[1]] });
  });

  it("follows 500 threads through 20 revisions of a file of 5,000 lines", async () => {
    const lines = Array.from({ length: 5_000 }, (_, i) => `const berth${i} = tide(${i * 7919});`);
    const trees: Tree[] = [new Map([["big.ts", lines]])];
    for (let revision = 1; revision <= 20; revision++) {
      const next = [...trees.at(-1)!.get("big.ts")!];
      for (let edit = 0; edit < 10; edit++) next[(revision * 431 + edit * 97) % next.length] += " // looked at";
      next.splice(revision * 200, 0, `const extra${revision} = ${revision};`);
      trees.push(new Map([["big.ts", next]]));
    }
    const followers = Array.from({ length: 500 }, (_, i): Follower => {
      const start = i * 10 + 1;
      return {
        id: `${i}`,
        side: "new",
        track: beginTrack({ path: "big.ts", start, end: start, text: [lines[start - 1]] }, 1),
      };
    });
    const source = sourceOf(trees);
    const task = { steps: stepsOf(trees), followers };
    const followed = await followTracks(source, task);
    expect(followed.every(({ track }) => track.position.status !== "gone")).toBe(true);
  });
});
