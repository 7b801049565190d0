"use client";
import { useEffect, useMemo, useState } from "react";
import { visible } from "@/core/cautions/visible";
import type { ReadingFile } from "@/core/views/api";

/** Stands where a file would that is not among those compared: it is looked for among the others, or what comes near it is offered. */
export function Nothing({
  path,
  words,
  files,
  onOther,
  onChoose,
}: {
  path: string;
  /** What to say while it is not known yet; null when it is known that it is not compared. */
  words: string | null;
  /** Those that are compared. */
  files: readonly ReadingFile[];
  /** Opens a file that did not change; whether there is one. */
  onOther: (path: string) => Promise<boolean>;
  onChoose: (path: string | null) => void;
}) {
  const [none, setNone] = useState("");
  const known = words === null;
  useEffect(() => {
    if (!known) return;
    let gone = false;
    void onOther(path).then((found) => {
      if (!found && !gone) setNone(path);
    });
    return () => {
      gone = true;
    };
  }, [known, path, onOther]);
  const isNone = none === path;
  // Of thousands of files it takes longer than a picture may: never while one is merely waited for.
  const nearest = useMemo(() => (isNone ? nearestTo(path, files) : null), [isNone, path, files]);
  return (
    <main className="flex-1 bg-paper px-8 py-8 outline-none">
      {isNone ? (
        <>
          <p role="status">
            There is no file <code className="font-mono text-[12.5px]">{visible(path)}</code> here, neither changed nor
            unchanged.
          </p>
          <p className="mt-3 flex flex-wrap gap-4">
            {nearest && (
              <button type="button" className="button" onClick={() => onChoose(nearest.path)}>
                Open {visible(nearest.path)}
              </button>
            )}
            <button type="button" className="quiet-button" onClick={() => onChoose(null)}>
              to the brief
            </button>
          </p>
        </>
      ) : (
        <p className="text-soft">{words ?? "Looking for it …"}</p>
      )}
    </main>
  );
}

/** The compared file whose path is most like another: the same name first, then the most of the path from its end, or from its beginning. */
export function nearestTo(path: string, files: readonly ReadingFile[]): ReadingFile | null {
  const name = nameOf(path);
  let best: ReadingFile | null = null;
  let most = -1;
  for (const file of files) {
    const rank = (nameOf(file.path) === name ? 1_000 : 0) + alikeFrom(file.path, path) + alikeTo(file.path, path);
    if (rank > most) [best, most] = [file, rank];
  }
  return best;
}

function nameOf(path: string): string {
  return path.slice(path.lastIndexOf("/") + 1).toLowerCase();
}

/** How many characters two texts begin with alike. */
function alikeFrom(a: string, b: string): number {
  let at = 0;
  while (at < a.length && a[at] === b[at]) at++;
  return at;
}

/** How many they end with alike. */
function alikeTo(a: string, b: string): number {
  let length = 0;
  while (length < a.length && length < b.length && a[a.length - 1 - length] === b[b.length - 1 - length]) length++;
  return length;
}
