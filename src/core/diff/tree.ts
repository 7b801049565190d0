/** One file that differs between two trees. A side on which it does not exist has a null id and mode 0. */
export interface FileChange {
  path: string;
  /** The bytes of the path, one character each, where they are no UTF-8; `path` then shows them the same way. */
  rawPath?: string;
  /** What stands beside it, or beside a folder that it is in, and would be taken for it, where it came under its name: see `nameTwins`. */
  twin?: string;
  oldId: string | null;
  newId: string | null;
  /** As git writes them, in octal: 100644 file, 100755 executable, 120000 symbolic link, 160000 submodule. */
  oldMode: number;
  newMode: number;
}

/** A change of a file that may have had another path, or have been copied from one. */
export interface PairedChange extends FileChange {
  /** Where it was, when it was renamed or copied; else null. */
  oldPath: string | null;
  rawOldPath?: string;
  copy: boolean;
  /** 0 to 1; null when it was neither renamed nor copied. */
  similarity: number | null;
}

/** A change of a file that was neither renamed nor copied. What is new stands first: behind what is copied it takes ten times as long, of tens of thousands. */
export function unpaired(change: FileChange): PairedChange {
  return { oldPath: null, copy: false, similarity: null, ...change };
}

/** The bits of a mode that say what kind of thing it is. */
export const TYPE = 0o170000;
export const EXECUTABLE = 0o100755;
export const SYMLINK = 0o120000;
export const SUBMODULE = 0o160000;

/** What happened to a file as a whole, in one word. */
export function fileStatus(file: FileChange): "added" | "deleted" | "changed" | "mode" {
  if (file.oldId === null) return "added";
  if (file.newId === null) return "deleted";
  return file.oldId === file.newId ? "mode" : "changed";
}

/** A pointer into another repository has no text of its own; what it points to is shown as one line. */
export function pointerText(commit: string): string {
  return `Subproject commit ${commit}\n`;
}

/**
 * What names the contents of one side of a file: the id of a blob; `pointer-ID` for a pointer into another repository, whose contents are
 * one line that says where to; `text-ID` for a blob that is to be read as text whatever it holds.
 */
export type ContentKey = string;

const CONTENT_KEY = /^(?:(pointer|text)-)?([0-9a-f]{40}|[0-9a-f]{64})$/;

/** The key of one side; null where there is no such side. `asText` asks for text whatever it holds. */
export function contentKey(id: string | null, mode: number, asText = false): ContentKey | null {
  if (id === null) return null;
  return mode === SUBMODULE ? `pointer-${id}` : asText ? `text-${id}` : id;
}

/** A key taken apart; null when it is none. */
export function readContentKey(key: ContentKey): { kind: "blob" | "pointer" | "text"; id: string } | null {
  const [, kind, id] = CONTENT_KEY.exec(key) ?? [];
  return id ? { kind: (kind as "pointer" | "text" | undefined) ?? "blob", id } : null;
}

/** Whether either side is a pointer into another repository. */
export function isSubmodule(file: FileChange): boolean {
  return file.oldMode === SUBMODULE || file.newMode === SUBMODULE;
}

/** What kind of image a file's first bytes say it is, as a media type that browsers show; null for anything else. */
export function imageType(bytes: Uint8Array): string | null {
  const starts = (at: number, ...values: number[]) => values.every((value, i) => bytes[at + i] === value);
  if (starts(0, 0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a)) return "image/png";
  if (starts(0, 0xff, 0xd8, 0xff)) return "image/jpeg";
  if (starts(0, 0x47, 0x49, 0x46, 0x38)) return "image/gif";
  if (starts(0, 0x52, 0x49, 0x46, 0x46) && starts(8, 0x57, 0x45, 0x42, 0x50)) return "image/webp";
  if (starts(0, 0x42, 0x4d)) return "image/bmp";
  if (starts(0, 0, 0, 1, 0)) return "image/x-icon";
  return null;
}

/** Whether a path has the name of an image that {@link imageType} knows. */
export function isImagePath(path: string): boolean {
  return /\.(?:png|jpe?g|gif|webp|bmp|ico)$/i.test(path);
}

/** A full object id of git, in lower case. */
export function isObjectId(text: string): boolean {
  return /^(?:[0-9a-f]{40}|[0-9a-f]{64})$/.test(text);
}
