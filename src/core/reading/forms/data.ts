import { isMap, isScalar, isSeq, type Node } from "yaml";
import { sharedPairs } from "../../diff/hunk";
import { diffLines } from "../../diff/lines";
import { DataDocument, type Member, type Valued } from "./data-document";

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

/**
 * What a change made of a document of data (JSON, YAML), by the way to each value; where the order of keys means nothing it is no change but named
 * once. Values are compared as they are written: `1` and `1.0` are not the same, nor are the keys `on` and `"on"`. Comments are no data. Refuses, with a sentence, what cannot
 * be read, what gives one key twice, since one of them would not be seen, and what is to be read by other rules now.
 */
export function dataChanges(old: string, next: string): DataChange[] | string {
  const [before, after] = [DataDocument.read(old), DataDocument.read(next)];
  if (typeof before === "string") return before;
  if (typeof after === "string") return after;
  if (before.rules !== after.rules && before.roots.length > 0 && after.roots.length > 0)
    return "A line that begins with “%” says how all of it is to be read, and says something else now: it can only be read line by line.";
  const compared = new Compared(before, after);
  compared.lists(before.roots, after.roots, []);
  return compared.changes;
}

/** Two states side by side. */
class Compared {
  readonly changes: DataChange[] = [];
  private readonly shared = new Map<string, number>();

  constructor(
    private readonly old: DataDocument,
    private readonly next: DataDocument,
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
  private nameOf(document: DataDocument, node: Node | null): string {
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

/** Whether what stands around a value is the same: its tag and the name by which it is used again. */
function sameLook(was: Node, is: Node): boolean {
  const look = ({ tag, anchor }: { tag?: string; anchor?: string }) => `${tag ?? ""} ${anchor ?? ""}`;
  return look(was as object) === look(is as object);
}
