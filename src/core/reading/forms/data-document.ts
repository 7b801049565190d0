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

/** Deeper than this nothing is followed: hostile texts nest without end. */
const DEEPEST = 200;

/** A value with all that makes it what it is, as a number: two are equal where their numbers are. */
export interface Valued {
  id: number;
  node: Node | null;
}

export interface Member {
  /** What the key is called, for people. */
  name: string;
  key: Node | null;
  value: Node | null;
}

/** What is written without quotation marks and is no text to some of those who read YAML. */
const NO_TEXT = /^(?:[-+]?[.\d].*|y|yes|n|no|on|off|true|false|null|~|<<|=|)$/is;

/** One state of a document, which may be several in one file. */
export class DataDocument {
  readonly roots: (Node | null)[] = [];
  /** By what rules it says that it is to be read: those that it names, each once. */
  rules = "";
  private readonly known = new Map<Node, number>();
  private readonly maps = new Map<Node, Map<string, Member>>();
  /** What each use of a name stands for, where several values have that name. */
  private readonly targets = new Map<Node, string>();

  private constructor(
    readonly text: string,
    private readonly lines: LineCounter,
  ) {}

  static read(text: string): DataDocument | string {
    const lines = new LineCounter();
    const document = new DataDocument(text, lines);
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
    const known = this.maps.get(node);
    if (known) return known;
    const result = new Map<string, Member>();
    if (!isMap<Node, Node | null>(node)) return result;
    this.maps.set(node, result);
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

/** Whether a key is a text, whoever reads it. */
function isText(key: unknown): key is Scalar {
  if (!isScalar(key) || typeof key.value !== "string" || key.tag || key.anchor !== undefined) return false;
  return key.type !== "PLAIN" || !NO_TEXT.test(key.value);
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
