import {
  isAlias,
  isMap,
  isScalar,
  isSeq,
  LineCounter,
  type Node,
  type ParsedNode,
  parseAllDocuments,
  type Scalar,
} from "yaml";
import { sharedPairs } from "../../diff/hunk";
import { diffLines } from "../../diff/lines";

/** A value of a document of data that is another one now, by the way that leads to it. */
export interface DataChange {
  /** Keys and, from 1, the places in lists. */
  path: string[];
  /** `order`: the same keys stand in another order. */
  mark: "added" | "removed" | "changed" | "order";
  /** The values as they are written; null where there is none. */
  before: string | null;
  after: string | null;
  /** Where it stands: in the old state for what is gone. 0-based. */
  side: "old" | "new";
  line: number;
}

/** Deeper than this nothing is followed: hostile texts nest without end. */
const DEEPEST = 200;

/** A value with all that makes it what it is, as a number: two are equal where their numbers are. */
interface Valued {
  id: number;
  node: Node | null;
}

interface Member {
  /** What the key is called, for people. */
  name: string;
  key: Node | null;
  value: Node | null;
}

/** What is written without quotation marks and is no text to some of those who read YAML. */
const NO_TEXT = /^(?:[-+]?[.\d].*|y|yes|n|no|on|off|true|false|null|~|<<|=|)$/is;

/**
 * What a change made of a document of data (JSON, YAML), by the way to each value; where the order of keys means nothing it is no change but named
 * once. Values are compared as they are written: `1` and `1.0` are not the same, nor are the keys `on` and `"on"`. Comments are no data. Refuses, with a sentence, what cannot
 * be read, what gives one key twice, since one of them would not be seen, and what is to be read by other rules now.
 */
export function dataChanges(old: string, next: string): DataChange[] | string {
  const [before, after] = [Document.read(old), Document.read(next)];
  if (typeof before === "string") return before;
  if (typeof after === "string") return after;
  if (before.rules !== after.rules && before.roots.length > 0 && after.roots.length > 0)
    return "A line that begins with “%” says how all of it is to be read, and says something else now: it can only be read line by line.";
  const compared = new Compared(before, after);
  compared.lists(before.roots, after.roots, []);
  return compared.changes;
}

/** One state of a document, which may be several in one file. */
class Document {
  readonly roots: (Node | null)[] = [];
  /** By what rules it says that it is to be read: those that it names, each once. */
  rules = "";
  private readonly known = new Map<Node, number>();
  /** What each use of a name stands for, where several values have that name. */
  private readonly targets = new Map<Node, string>();

  private constructor(
    readonly text: string,
    private readonly lines: LineCounter,
  ) {}

  static read(text: string): Document | string {
    const lines = new LineCounter();
    const document = new Document(text, lines);
    // Whether each key is one of its own is looked at below: the package compares each with all before it.
    const documents = parseAllDocuments(text, { lineCounter: lines, uniqueKeys: false, keepSourceTokens: false });
    if (!Array.isArray(documents)) return document;
    for (const one of documents) {
      const [problem] = one.errors;
      if (problem)
        return `Line ${lines.linePos(problem.pos[0]).line} cannot be read as data: it can only be read line by line.`;
      document.roots.push(one.contents as ParsedNode | null);
    }
    const rules = documents.flatMap(({ directives: { yaml, tags } }) => [
      ...(yaml.explicit ? [`%YAML ${yaml.version}`] : []),
      ...Object.entries(tags).flatMap(([handle, prefix]) => (handle === "!!" ? [] : [`%TAG ${handle} ${prefix}`])),
    ]);
    document.rules = [...new Set(rules)].join("\n");
    if (depthOf(document.roots) > DEEPEST) return "It nests too deep: it can only be read line by line.";
    const again = keyAgain(document.roots);
    if (again)
      return `In line ${document.lineOf(again) + 1} a key stands a second time: it can only be read line by line.`;
    if (text.includes("*")) document.findTargets();
    return document;
  }

  /** A name stands for the last value above that was given it: with the order of keys, that may become another one. */
  private findTargets(): void {
    for (const [at, root] of this.roots.entries()) {
      const named = new Map<string, string>();
      const several = new Set<string>();
      const uses: { node: Node; name: string; target: string }[] = [];
      const walk = (node: Node | null, path: string) => {
        if (isAlias(node)) uses.push({ node, name: node.source, target: named.get(node.source) ?? "" });
        const { anchor } = (node ?? {}) as { anchor?: string };
        if (anchor !== undefined && named.has(anchor)) several.add(anchor);
        if (anchor !== undefined) named.set(anchor, path);
        if (isSeq<Node | null>(node)) for (const [n, item] of node.items.entries()) walk(item, `${path}\0${n + 1}`);
        else if (isMap<Node, Node | null>(node))
          for (const { key, value } of node.items) {
            const name = this.written(key);
            walk(key, `${path}\0key ${name}`);
            walk(value, `${path}\0${name}`);
          }
      };
      walk(root, String(at));
      for (const { node, name, target } of uses) if (several.has(name)) this.targets.set(node, target);
    }
  }

  /** The value as it is written, with what stands before it: its tag, and the name by which it is used again. */
  written(node: Node | null): string {
    const { tag, anchor } = (node ?? {}) as { tag?: string; anchor?: string };
    const target = node && this.targets.get(node);
    return [
      ...(anchor === undefined ? [] : [`&${anchor}`]),
      ...(tag === undefined ? [] : [tag.replace(/^tag:yaml\.org,2002:/, "!!")]),
      ...(node ? [this.raw(node).trimEnd()] : []),
      ...(target ? [`(${target.split("\0").slice(1).join(" › ")})`] : []),
    ].join(" ");
  }

  /** The value as it is written. */
  raw(node: Node | null): string {
    return node?.range ? this.text.slice(node.range[0], node.range[1]) : "";
  }

  lineOf(node: Node | null): number {
    return node?.range ? this.lines.linePos(node.range[0]).line - 1 : 0;
  }

  /** The members of a map, in order, by what their keys are: the text "1" and the number 1 are two of one name. */
  members(node: Node): Map<string, Member> {
    const result = new Map<string, Member>();
    if (!isMap<Node, Node | null>(node)) return result;
    const names = new Set<string>();
    for (const { key, value } of node.items) {
      const raw = this.written(key);
      // Quotation marks are no part of a text, and without them it is one where it cannot be anything else.
      const text = isText(key) ? (key.value as string) : null;
      let is = text === null ? `as written ${raw}` : `text ${text}`;
      let name = text === null || NO_TEXT.test(text) ? raw : text;
      while (result.has(is)) is = `${is} (again)`;
      while (names.has(name)) name = `${name} (again)`;
      names.add(name);
      result.set(is, { name, key, value });
    }
    return result;
  }

  /** See {@link Valued}. */
  valued(node: Node | null, shared: Map<string, number>): Valued {
    return { id: node ? this.idOf(node, shared) : -1, node };
  }

  private idOf(node: Node, shared: Map<string, number>): number {
    const known = this.known.get(node);
    if (known !== undefined) return known;
    const { tag, anchor } = node as { tag?: string; anchor?: string };
    let content: string;
    if (isMap(node)) {
      const members = [...this.members(node)].map(([name, { value }]) => [name, this.valued(value, shared).id]);
      content = `{${JSON.stringify(members.sort(([a], [b]) => (a < b ? -1 : 1)))}`;
    } else if (isSeq<Node | null>(node))
      content = `[${node.items.map((item) => this.valued(item, shared).id).join(",")}`;
    else content = `${isAlias(node) ? `*${this.targets.get(node) ?? ""} ` : ""}${this.raw(node)}`;
    const key = JSON.stringify([tag ?? "", anchor ?? "", content]);
    const id = shared.get(key) ?? shared.size;
    shared.set(key, id);
    this.known.set(node, id);
    return id;
  }
}

/** Two states side by side. */
class Compared {
  readonly changes: DataChange[] = [];
  private readonly shared = new Map<string, number>();

  constructor(
    private readonly old: Document,
    private readonly next: Document,
  ) {}

  /** Items of two lists, each at its place: those that are the same are found wherever others came between. */
  lists(was: readonly (Node | null)[], is: readonly (Node | null)[], path: string[]): void {
    const before = was.map((node) => this.old.valued(node, this.shared));
    const after = is.map((node) => this.next.valued(node, this.shared));
    const alone = path.length === 0 && was.length <= 1 && is.length <= 1;
    const at = (place: number) => (alone ? path : [...path, String(place + 1)]);
    const ids = (list: Valued[]) => list.map(({ id }) => String(id));
    const hunks = diffLines(ids(before), ids(after));
    for (const [i, j] of sharedPairs(hunks, was.length)) this.order(was[i], is[j], at(j));
    for (const { oldStart, oldEnd, newStart, newEnd } of hunks) {
      const names = new Map<string, number>();
      for (let i = oldStart; i < oldEnd; i++) names.set(this.nameOf(this.old, was[i]) || `at ${i - oldStart}`, i);
      const left = new Set(Array.from({ length: oldEnd - oldStart }, (_, i) => oldStart + i));
      for (let i = newStart; i < newEnd; i++) {
        const partner = names.get(this.nameOf(this.next, is[i]) || `at ${i - newStart}`);
        if (partner === undefined || !left.delete(partner)) this.note(at(i), null, is[i], "added");
        else this.nodes(was[partner], is[i], at(i));
      }
      for (const i of left) this.note(at(i), was[i], null, "removed");
    }
  }

  /** What an item of a list is called, where one of its members says so. */
  private nameOf(document: Document, node: Node | null): string {
    const members = node ? document.members(node) : new Map<string, Member>();
    for (const key of ["id", "key", "name"]) {
      const value = members.get(`text ${key}`)?.value;
      if (isScalar(value)) return `${key} ${document.raw(value)}`;
    }
    return "";
  }

  private nodes(was: Node | null, is: Node | null, path: string[]): void {
    if (this.old.valued(was, this.shared).id === this.next.valued(is, this.shared).id) this.order(was, is, path);
    else if (isMap(was) && isMap(is) && sameLook(was, is)) this.maps(was, is, path);
    else if (isSeq<Node | null>(was) && isSeq<Node | null>(is) && sameLook(was, is))
      this.lists(was.items, is.items, path);
    else this.note(path, was, is, "changed");
  }

  private maps(was: Node, is: Node, path: string[]): void {
    const [before, after] = [this.old.members(was), this.next.members(is)];
    for (const [is, { name, key, value }] of after) {
      const known = before.get(is);
      if (known) this.nodes(known.value, value, [...path, name]);
      else this.note([...path, name], null, value ?? key, "added");
    }
    for (const [was, { name, key, value }] of before)
      if (!after.has(was)) this.note([...path, name], value ?? key, null, "removed");
    this.order(was, is, path);
  }

  /** That keys stand in another order is said once, for each map in which they do. */
  private order(was: Node | null, is: Node | null, path: string[]): void {
    if (isSeq<Node | null>(was) && isSeq<Node | null>(is))
      for (const [at, item] of is.items.entries()) this.order(was.items[at], item, [...path, String(at + 1)]);
    if (!isMap(was) || !isMap(is)) return;
    const [before, after] = [this.old.members(was), this.next.members(is)];
    const both = [...before.keys()].filter((one) => after.has(one));
    if (both.join("\0") !== [...after.keys()].filter((one) => before.has(one)).join("\0"))
      this.changes.push({ path, mark: "order", before: null, after: null, side: "new", line: this.next.lineOf(is) });
    // Below what is the same nobody else looks.
    if (this.old.valued(was, this.shared).id !== this.next.valued(is, this.shared).id) return;
    for (const [one, { name, value }] of after) this.order(before.get(one)?.value ?? null, value, [...path, name]);
  }

  private note(path: string[], was: Node | null, is: Node | null, mark: DataChange["mark"]): void {
    const gone = mark === "removed";
    this.changes.push({
      path,
      mark,
      before: mark === "added" ? null : this.old.written(was),
      after: gone ? null : this.next.written(is),
      side: gone ? "old" : "new",
      line: gone ? this.old.lineOf(was) : this.next.lineOf(is),
    });
  }
}

/** Whether a key is a text, whoever reads it. */
function isText(key: unknown): key is Scalar {
  if (!isScalar(key) || typeof key.value !== "string" || key.tag || key.anchor !== undefined) return false;
  return key.type !== "PLAIN" || !NO_TEXT.test(key.value);
}

/** Whether what stands around a value is the same: its tag and the name by which it is used again. */
function sameLook(was: Node, is: Node): boolean {
  const look = ({ tag, anchor }: { tag?: string; anchor?: string }) => `${tag ?? ""} ${anchor ?? ""}`;
  return look(was as object) === look(is as object);
}

/** The first key found that its map has already; null where there is none. Nothing in it may be deeper than {@link DEEPEST}. */
function keyAgain(nodes: readonly unknown[]): Node | null {
  for (const node of nodes) {
    const items: unknown[] = isMap(node) ? [] : isSeq(node) ? node.items : [];
    const keys = new Set<unknown>();
    for (const { key, value } of isMap(node) ? node.items : []) {
      if (isScalar(key)) {
        if (keys.has(key.value)) return key;
        keys.add(key.value);
      }
      items.push(key, value);
    }
    const within = keyAgain(items);
    if (within) return within;
  }
  return null;
}

function depthOf(roots: readonly (Node | null)[]): number {
  let level: unknown[] = [...roots];
  for (let depth = 0; ; depth++) {
    level = level.flatMap((node) =>
      isMap(node) ? node.items.flatMap(({ key, value }) => [key, value]) : isSeq(node) ? node.items : [],
    );
    if (level.length === 0 || depth > DEEPEST) return depth;
  }
}
