import { isAlias, isMap, isScalar, isSeq, LineCounter, type Node, type ParsedNode, parseAllDocuments } from "yaml";
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

/**
 * What a change made of a document of data (JSON, YAML), by the way to each value; where the order of keys means nothing it is no change but named
 * once. Values are compared as they are written: `1` and `1.0` are not the same. Comments are no data. Refuses, with a sentence, what cannot
 * be read, and what gives one key twice, since one of them would not be seen.
 */
export function dataChanges(old: string, next: string): DataChange[] | string {
  const [before, after] = [Document.read(old), Document.read(next)];
  if (typeof before === "string") return before;
  if (typeof after === "string") return after;
  const compared = new Compared(before, after);
  compared.lists(before.roots, after.roots, []);
  return compared.changes;
}

/** One state of a document, which may be several in one file. */
class Document {
  readonly roots: (Node | null)[] = [];
  private readonly known = new Map<Node, number>();

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
    if (depthOf(document.roots) > DEEPEST) return "It nests too deep: it can only be read line by line.";
    const again = keyAgain(document.roots);
    if (again)
      return `In line ${document.lineOf(again) + 1} a key stands a second time: it can only be read line by line.`;
    return document;
  }

  /** The value as it is written. */
  raw(node: Node | null): string {
    return node?.range ? this.text.slice(node.range[0], node.range[1]) : "";
  }

  lineOf(node: Node | null): number {
    return node?.range ? this.lines.linePos(node.range[0]).line - 1 : 0;
  }

  /** A key as it is called: without its quotation marks where it is a text. */
  keyOf(key: unknown): string {
    if (isScalar(key) && typeof key.value === "string") return key.value;
    return this.raw(key as Node | null);
  }

  /** The members of a map by their keys, in order. */
  members(node: Node): Map<string, { key: Node | null; value: Node | null }> {
    const result = new Map<string, { key: Node | null; value: Node | null }>();
    if (!isMap<Node, Node | null>(node)) return result;
    for (const { key, value } of node.items) {
      let name = this.keyOf(key);
      // The text "1" and the number 1 are two keys of one name.
      while (result.has(name)) name = `${name} (again)`;
      result.set(name, { key, value });
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
    else content = `${isAlias(node) ? "*" : ""}${this.raw(node)}`;
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
    for (const { oldStart, oldEnd, newStart, newEnd } of diffLines(ids(before), ids(after))) {
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
    const members = node ? document.members(node) : new Map();
    for (const key of ["id", "key", "name"]) {
      const value = members.get(key)?.value;
      if (isScalar(value)) return `${key} ${document.raw(value as Node)}`;
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
    for (const [name, { key, value }] of after) {
      const known = before.get(name);
      if (known) this.nodes(known.value, value, [...path, name]);
      else this.note([...path, name], null, value ?? key, "added");
    }
    for (const [name, { key, value }] of before)
      if (!after.has(name)) this.note([...path, name], value ?? key, null, "removed");
    this.order(was, is, path);
  }

  /** That keys stand in another order is said once, for each map in which they do. */
  private order(was: Node | null, is: Node | null, path: string[]): void {
    if (isSeq<Node | null>(was) && isSeq<Node | null>(is))
      for (const [at, item] of is.items.entries()) this.order(was.items[at], item, [...path, String(at + 1)]);
    if (!isMap(was) || !isMap(is)) return;
    const [before, after] = [this.old.members(was), this.next.members(is)];
    const both = [...before.keys()].filter((name) => after.has(name));
    if (both.join("\0") !== [...after.keys()].filter((name) => before.has(name)).join("\0"))
      this.changes.push({ path, mark: "order", before: null, after: null, side: "new", line: this.next.lineOf(is) });
    // Below what is the same nobody else looks.
    if (this.old.valued(was, this.shared).id !== this.next.valued(is, this.shared).id) return;
    for (const [name, { value }] of after) this.order(before.get(name)?.value ?? null, value, [...path, name]);
  }

  private note(path: string[], was: Node | null, is: Node | null, mark: DataChange["mark"]): void {
    const gone = mark === "removed";
    this.changes.push({
      path,
      mark,
      before: mark === "added" ? null : this.old.raw(was).trimEnd(),
      after: gone ? null : this.next.raw(is).trimEnd(),
      side: gone ? "old" : "new",
      line: gone ? this.old.lineOf(was) : this.next.lineOf(is),
    });
  }
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
