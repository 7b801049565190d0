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
  /** What is found in two states of a folder, whatever its path: trees can be made that hold the same folder any number of times. */
  private readonly twins = new Map<string, ReadonlyMap<string, string>>();
  /** How many more entries that differ are looked at. */
  private left = 0;

  /** `most` entries that differ are looked at: a few kilobytes can hold folders in folders that come to more files than there are numbers. */
  constructor(
    private readonly objects: Pick<ObjectReader, "read" | "treeOf">,
    private readonly most = 300_000,
  ) {}

  /** Every file that differs between two commits or trees, given by their ids, by path. Renames are not looked for here: that is the engine's work. */
  async changedFiles(from: string, to: string): Promise<FileChange[]> {
    const [old, next] = await Promise.all([this.rootOf(from), this.rootOf(to)]);
    this.left = this.most;
    const files = await this.between("", old, next, undefined);
    if (this.left < 0) throw new Error(TOO_MANY);
    return files;
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

  /** Once too many differ, what is under way ends with what it has: an error here would leave the others to fail unheard. */
  private async between(
    folder: string,
    from: string | null,
    to: string | null,
    twin: string | undefined,
  ): Promise<FileChange[]> {
    const [old, next] = await Promise.all([from ? this.entries(from) : [], to ? this.entries(to) : []]);
    const found: (FileChange[] | Promise<FileChange[]>)[] = [];
    const twins = this.twinsIn(`${from} ${to}`, old, next);
    for (let i = 0, j = 0; this.left >= 0 && (i < old.length || j < next.length); ) {
      const before = i < old.length && (j === next.length || old[i].key <= next[j].key) ? old[i] : null;
      const after = j < next.length && (i === old.length || next[j].key <= old[i].key) ? next[j] : null;
      if (before) i++;
      if (after) j++;
      if (before?.id === after?.id && before?.mode === after?.mode) continue;
      this.left--;
      const { name, mode } = (after ?? before)!;
      const other = twins.get(name);
      const of = other === undefined ? twin : pathOfCharacters(folder + other).path;
      const own = after ? of : undefined;
      if (mode === FOLDER) {
        const ids = [before?.id ?? null, after?.id ?? null] as const;
        const isRead = ids.every((id) => id === null || this.known.has(id));
        const within = this.between(`${folder}${name}/`, ...ids, own);
        // Whoever waits for all of them hears of it.
        within.catch(() => undefined);
        // Folders are read side by side. One that was read before is gone through at once, so that what lies in others without end is not all begun.
        found.push(isRead ? await within : within);
      } else found.push([changeOf(folder + name, before, after, own)]);
    }
    return (await Promise.all(found)).flat();
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
        return entriesOf(bytes, id.length / 2);
      });
      this.known.set(id, entries);
    }
    return entries;
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
