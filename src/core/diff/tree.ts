/** One file that differs between two trees. A side on which it does not exist has a null id and mode 0. */
export interface FileChange {
  path: string;
  /** The bytes of the path, one character each, where they are no UTF-8; `path` then shows them the same way. */
  rawPath?: string;
  oldId: string | null;
  newId: string | null;
  /** As git writes them, in octal: 100644 file, 100755 executable, 120000 symbolic link, 160000 submodule. */
  oldMode: number;
  newMode: number;
}

export const SYMLINK = 0o120000;
export const SUBMODULE = 0o160000;

/** What happened to a file as a whole, in one word. */
export function fileStatus(file: FileChange): "added" | "deleted" | "changed" | "mode" {
  if (file.oldId === null) return "added";
  if (file.newId === null) return "deleted";
  return file.oldId === file.newId ? "mode" : "changed";
}

/** A pointer into another repository has no text here. */
export function isSubmodule(file: FileChange): boolean {
  return file.oldMode === SUBMODULE || file.newMode === SUBMODULE;
}

/** A full object id of git, in lower case. */
export function isObjectId(text: string): boolean {
  return /^(?:[0-9a-f]{40}|[0-9a-f]{64})$/.test(text);
}
