/** What the subject of a mailed patch says. Numbers are 1-based; `at` is 0 for the message that introduces a series. */
export interface PatchSubject {
  version: number;
  at: number;
  of: number;
  title: string;
}

/**
 * Reads a subject as `git format-patch` writes it; null for one that is no patch.
 *
 * @example readPatchSubject("[PATCH quay v2 3/7] Say berth") // { version: 2, at: 3, of: 7, title: "Say berth" }
 */
export function readPatchSubject(subject: string): PatchSubject | null {
  const plain = subject.slice(0, 1_000).replace(/\s+/g, " ").trim();
  const [, inside, title] = /^\[([^\]]*\bPATCH\b[^\]]*)\] (.+)$/i.exec(plain) ?? [];
  if (inside === undefined) return null;
  const version = Number(/\bv(\d{1,3})\b/i.exec(inside)?.[1] ?? 1);
  const [, at, of] = /\b(\d{1,4})\/(\d{1,4})\b/.exec(inside) ?? [null, "1", "1"];
  const numbers = { at: Number(at), of: Number(of) };
  if (numbers.of < 1 || numbers.at > numbers.of) return null;
  return { version, ...numbers, title: title.trim() };
}

/** The part of a branch's name that a title makes: small letters, digits and dashes. */
export function branchWord(title: string): string {
  const word = title
    .toLowerCase()
    .normalize("NFKD")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 50)
    .replace(/-+$/, "");
  return word || "series";
}

/** What the message before a series says in its own words: without the list of commits, the sizes of files, and the signature of git. */
export function introduction(text: string): string {
  const lines = text.replace(/\r\n/g, "\n").split("\n");
  const end = lines.findIndex(
    (line, i) => /^-- ?$/.test(line) || (/^\S.* \(\d+\):$/.test(line) && /^ {2}\S/.test(lines[i + 1] ?? "")),
  );
  const said = (end < 0 ? lines : lines.slice(0, end)).join("\n").trim();
  return said.replace(/\*{3} BLURB HERE \*{3}/g, "").trim();
}

/** The commit that a series says that it was made on; null where it does not. */
export function baseCommitIn(text: string): string | null {
  return /^base-commit: ([0-9a-f]{40,64})$/m.exec(text)?.[1] ?? null;
}
