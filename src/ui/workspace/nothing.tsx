"use client";
import { useEffect, useState } from "react";
import { visible } from "@/core/cautions/visible";
import type { ReadingFile } from "@/core/views/api";

/** Stands where a file would that is not among those compared: it is looked for among the others, or what comes near it is offered. */
export function Nothing({
  path,
  words,
  nearest,
  onOther,
  onChoose,
}: {
  path: string;
  /** What to say while it is not known yet; null when it is known that it is not compared. */
  words: string | null;
  nearest: ReadingFile | null;
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
  return (
    <main className="flex-1 bg-paper px-8 py-8 outline-none">
      {none === path ? (
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
  const name = (of: string) => of.slice(of.lastIndexOf("/") + 1).toLowerCase();
  const rank = (of: string) =>
    (name(of) === name(path) ? 1_000 : 0) + alike(of, path) + alike(turned(of), turned(path));
  let best: ReadingFile | null = null;
  for (const file of files) if (!best || rank(file.path) > rank(best.path)) best = file;
  return best;
}

function turned(text: string): string {
  return [...text].reverse().join("");
}

/** How many characters two texts begin with alike. */
function alike(a: string, b: string): number {
  let at = 0;
  while (at < a.length && a[at] === b[at]) at++;
  return at;
}
