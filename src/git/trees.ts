import { nameTwins } from "@/core/cautions/name-twins";
import type { FileChange } from "@/core/diff/tree";
import { SUBMODULE, SYMLINK, TYPE } from "@/core/diff/tree";
import type { ObjectReader } from "./objects";
import { pathOfCharacters } from "./paths";

/** One entry of a tree; its name one character a byte. */
interface Entry {
  name: string;
  mode: number;
  id: string;
  /** What git sorts by: a folder's name as if it ended with a slash. */
  key: string;
}

/** What is said of a comparison that was given up. By its words, since errors come from a thread as words alone. */
export const TOO_MANY = "More files differ than can be compared.";

const FOLDER = 0o040000;
const [SPACE, ZERO] = [32, 48];

/**
 * The trees of one repository, read through its long-lived git: to compare two commits starts no process, and reads only the folders in which they
 * differ. Each tree is read once; made for one comparison, and let go after it.
 */
export class Trees {
  private readonly known = new Map<string, Promise<Entry[]>>();
  /** The same, once they are read. */
  private readonly read = new Map<string, Entry[]>();
  private readonly sizes = new Map<string, Promise<Size>>();
  /** What is found in two states of a folder, whatever its path: trees can be made that hold the same folder any number of times. */
  private readonly twins = new Map<string, ReadonlyMap<string, string>>();
  /** How many more entries are looked at, be they as they were or not. */
  private steps = 0;

  /** `most` entries that differ are looked at: a few kilobytes can hold folders in folders that come to more files than there are numbers. */
  constructor(
    private readonly objects: Pick<ObjectReader, "read" | "treeOf">,
    private readonly most = 300_000,
  ) {}

  /** Every file that differs between two commits or trees, given by their ids, by path. Renames are not looked for here: that is the engine's work. */
  async changedFiles(from: string, to: string): Promise<FileChange[]> {
    const [old, next] = await Promise.all([this.rootOf(from), this.rootOf(to)]);
    this.steps = STEPS * this.most;
    const { entries, characters } = await this.sizeOf(old, next);
    // Also where the sums are no numbers any more.
    if (!(entries <= this.most && characters <= LONG * this.most)) throw new Error(TOO_MANY);
    return this.between(old, next);
  }

  /** The files of one name (`.gitattributes`, say) of a commit or tree, in the folders that lead to some paths. */
  async filesNamed(tree: string, name: string, files: readonly FileChange[]): Promise<{ path: string; id: string }[]> {
    const folders = new Set<string>();
    for (const { path, rawPath } of files) {
      const whole = rawPath ?? Buffer.from(path).toString("latin1");
      for (let end = whole.lastIndexOf("/"); end >= 0 && !folders.has(whole.slice(0, end + 1)); ) {
        folders.add(whole.slice(0, end + 1));
        end = whole.lastIndexOf("/", end - 1);
      }
    }
    const within = async (folder: string, id: string): Promise<{ path: string; id: string }[]> => {
      const found = (await this.entries(id)).map((entry) => {
        const path = folder + entry.name;
        // Each is entered once, though a tree can be made that names it again and again.
        if (entry.mode === FOLDER) return folders.delete(`${path}/`) ? within(`${path}/`, entry.id) : [];
        const isWanted = entry.name === name && entry.mode !== SUBMODULE;
        return isWanted ? [{ path: pathOfCharacters(path).path, id: entry.id }] : [];
      });
      return (await Promise.all(found)).flat();
    };
    return within("", await this.rootOf(tree));
  }

  /** What lies in one folder: of a commit, the top of its tree. */
  async list(id: string): Promise<{ name: string; mode: number; id: string; isFolder: boolean }[]> {
    const entries = await this.entries(await this.rootOf(id));
    return entries.map((one) => ({ name: one.name, mode: one.mode, id: one.id, isFolder: one.mode === FOLDER }));
  }

  /** How much differs in two states of a folder, and in all folders within. Both are read for it; each two states are looked at once, however often they stand there. */
  private sizeOf(from: string | null, to: string | null): Promise<Size> {
    const states = `${from} ${to}`;
    let size = this.sizes.get(states);
    if (!size) {
      size = this.measure(from, to);
      this.sizes.set(states, size);
    }
    return size;
  }

  private async measure(from: string | null, to: string | null): Promise<Size> {
    const [old, next] = await Promise.all([from ? this.entries(from) : [], to ? this.entries(to) : []]);
    this.steps -= old.length + next.length;
    if (this.steps < 0) throw new Error(TOO_MANY);
    const folders: { length: number; size: Promise<Size> }[] = [];
    const sum: Size = { entries: 0, files: 0, characters: 0 };
    for (const [before, after] of differing(old, next)) {
      const { name, mode } = (after ?? before)!;
      sum.entries++;
      if (mode === FOLDER) {
        const size = this.sizeOf(before?.id ?? null, after?.id ?? null);
        // Whoever waits for all of them hears of it.
        size.catch(() => undefined);
        folders.push({ length: name.length + 1, size });
      } else {
        sum.files++;
        sum.characters += name.length;
      }
    }
    for (const { length, size } of folders) {
      const { entries, files, characters } = await size;
      sum.entries += entries;
      sum.files += files;
      sum.characters += characters + files * length;
    }
    return sum;
  }

  /** What differs in two states of the top, of which all is read. Without calling itself: folders lie in each other without end. */
  private between(from: string, to: string): FileChange[] {
    const files: FileChange[] = [];
    const level = (folder: string, old: string | null, next: string | null, twin: string | undefined) => {
      const [before, after] = [old, next].map((id) => (id === null ? [] : this.read.get(id)!));
      const twins = this.twinsIn(`${old} ${next}`, before, after);
      return { folder, twin, twins, left: differing(before, after) };
    };
    const open = [level("", from, to, undefined)];
    for (let here = open.at(-1); here; here = open.at(-1)) {
      const { value, done } = here.left.next();
      if (done) {
        open.pop();
        continue;
      }
      const [before, after] = value;
      const { name, mode } = (after ?? before)!;
      const other = here.twins.get(name);
      const of = other === undefined ? here.twin : pathOfCharacters(here.folder + other).path;
      const own = after ? of : undefined;
      if (mode === FOLDER) open.push(level(`${here.folder}${name}/`, before?.id ?? null, after?.id ?? null, own));
      else files.push(changeOf(here.folder + name, before, after, own));
    }
    return files;
  }

  private twinsIn(states: string, old: readonly Entry[], next: readonly Entry[]): ReadonlyMap<string, string> {
    let twins = this.twins.get(states);
    if (!twins) {
      twins = twinsIn(old, next);
      this.twins.set(states, twins);
    }
    return twins;
  }

  /** The tree of a commit; a tree is its own. */
  private async rootOf(id: string): Promise<string> {
    const tree = await this.objects.treeOf(id);
    if (tree === null) throw new Error(`The repository has no object ${id}, or it cannot be read as a tree.`);
    return tree;
  }

  private entries(id: string): Promise<Entry[]> {
    let entries = this.known.get(id);
    if (!entries) {
      entries = this.objects.read(id).then((bytes) => {
        if (!bytes) throw new Error(`The repository has no object ${id}.`);
        const found = entriesOf(bytes, id.length / 2);
        this.read.set(id, found);
        return found;
      });
      this.known.set(id, entries);
    }
    return entries;
  }
}

/** What differs in two states of a folder: entries, folders among them; files; and the characters of the paths of these, from there on. */
interface Size {
  entries: number;
  files: number;
  characters: number;
}

/** For each entry that may differ so many are looked at, and so long are paths on average, at the most. */
const STEPS = 20;
const LONG = 300;

/** What is not the same in two folders, by name, on either side or both; a folder and a file of one name are two. */
function* differing(
  old: readonly Entry[],
  next: readonly Entry[],
): Generator<[before: Entry | null, after: Entry | null]> {
  for (let i = 0, j = 0; i < old.length || j < next.length; ) {
    const before = i < old.length && (j === next.length || old[i].key <= next[j].key) ? old[i] : null;
    const after = j < next.length && (i === old.length || next[j].key <= old[i].key) ? next[j] : null;
    if (before) i++;
    if (after) j++;
    if (before?.id !== after?.id || before?.mode !== after?.mode) yield [before, after];
  }
}

/** Reads a tree as git stores it: mode, space, name, NUL and the bytes of the id, entry by entry. */
function entriesOf(bytes: Buffer, idLength: number): Entry[] {
  const entries: Entry[] = [];
  for (let at = 0; at < bytes.length; ) {
    let bits = 0;
    for (; bytes[at] !== SPACE; at++) {
      if (!(bytes[at] >= ZERO && bytes[at] < ZERO + 8)) throw new Error("A tree of the repository cannot be read.");
      bits = bits * 8 + bytes[at] - ZERO;
    }
    const end = bytes.indexOf(0, at);
    if (end < 0) throw new Error("A tree of the repository cannot be read.");
    const mode = canonical(bits);
    const name = bytes.toString("latin1", at + 1, end);
    at = end + 1 + idLength;
    entries.push({ name, mode, id: bytes.toString("hex", end + 1, at), key: mode === FOLDER ? `${name}/` : name });
  }
  return entries;
}

/** Old tools wrote other bits for files; git and we read all of them as two kinds. */
function canonical(mode: number): number {
  const type = mode & TYPE;
  if (type === FOLDER || type === SYMLINK) return type;
  if (type !== 0o100000) return SUBMODULE;
  return mode & 0o100 ? 0o100755 : 0o100644;
}

/** Names that came to a folder and would be taken for another one there, each with the name of that one. */
function twinsIn(old: readonly Entry[], next: readonly Entry[]): ReadonlyMap<string, string> {
  const before = new Set(old.map(({ name }) => name));
  const added = next.filter(({ name }) => !before.has(name));
  if (added.length === 0) return NONE;
  const texts = new Map(next.map(({ name }) => [Buffer.from(name, "latin1").toString("utf8"), name]));
  const twins = nameTwins(
    [...texts.keys()],
    added.map(({ name }) => Buffer.from(name, "latin1").toString("utf8")),
  );
  return new Map([...twins].map(([name, other]) => [texts.get(name)!, texts.get(other)!]));
}

const NONE: ReadonlyMap<string, string> = new Map();

function changeOf(path: string, before: Entry | null, after: Entry | null, twin: string | undefined): FileChange {
  return {
    ...pathOfCharacters(path),
    ...(twin === undefined ? {} : { twin }),
    oldId: before?.id ?? null,
    newId: after?.id ?? null,
    oldMode: before?.mode ?? 0,
    newMode: after?.mode ?? 0,
  };
}
