"use client";
import { Command } from "cmdk";
import { useMemo, useState } from "react";
import { visible } from "@/core/cautions/visible";
import type { ReadingFile } from "@/core/views/api";
import { useAsked } from "../../asking/use-asked";
import { useBehindPicture } from "../../asking/use-behind-picture";
import { useFound } from "../../going/use-found";
import { CommandSheet } from "../../parts/command-sheet";
import { Key } from "../../parts/key";
import { ACTIONS, keyLabel } from "../actions/actions";
import { useRegistry } from "../actions/use-actions";
import { useChangeSet } from "../state/context";
import { treeQuery } from "../state/use-other-files";
import { useOutline } from "../state/use-outline";

const NOTHING: never[] = [];
const MOST_FILES = 60;
const MOST_OTHERS = 20;
const MOST_DEFINED = 12;

/** Goes to a file or to what the open one defines by part of its name, or does something by its. */
export function CommandField({
  open,
  files,
  repository,
  commit,
  here,
  onLine,
  onFile,
  onClose,
}: {
  open: boolean;
  files: readonly ReadingFile[];
  repository: string;
  /** Whose files can be opened, changed or not. */
  commit: string;
  /** The file that is open: what it defines can be gone to. */
  here: ReadingFile | null;
  onLine: (path: string, line: number) => void;
  onFile: (path: string, changed: boolean) => void;
  onClose: () => void;
}) {
  const [typed, setTyped] = useState("");
  const words = typed.trim().toLowerCase();
  // The letter is there first, as is the field; what they find is drawn behind them.
  const sought = useBehindPicture(words);
  const isThere = useBehindPicture(open);
  const tree = useAsked({ ...treeQuery(repository, commit), enabled: open });
  const found = useMemo(() => (isThere ? findFiles(files, sought) : []), [isThere, files, sought]);
  const others = useMemo(() => {
    if (sought === "" || !tree.data) return [];
    const changed = new Set(files.map(({ path }) => path));
    return findFiles(
      tree.data.filter(({ path }) => !changed.has(path)),
      sought,
    ).slice(0, MOST_OTHERS);
  }, [tree.data, files, sought]);
  const outline = useOutline(repository, open ? (here?.newId ?? null) : null, here?.path ?? "");
  const defined = useMemo(
    () =>
      sought === ""
        ? []
        : outline
            .filter(({ name }) => name.toLowerCase().includes(sought))
            .sort(
              (a, b) =>
                Number(b.name.toLowerCase().startsWith(sought)) - Number(a.name.toLowerCase().startsWith(sought)),
            )
            .slice(0, MOST_DEFINED),
    [outline, sought],
  );
  const { view } = useChangeSet();
  const own = `/r/${view.repository}/c/${view.number}`;
  const { data = NOTHING } = useFound(sought, open);
  // What this change set offers stands among its files already.
  const anywhere = data.filter(({ kind, address }) => kind !== "file" || address.split("?")[0] !== own);
  const registry = useRegistry();
  // What can be done is asked when the field is open: it may be something else each time.
  const fitting =
    open && isThere ? registry.available().filter((id) => ACTIONS[id].label.toLowerCase().includes(sought)) : [];
  const choose = (run: () => void) => () => {
    setTyped("");
    onClose();
    run();
  };
  const items = [
    ...fitting.map((id) => `do ${id}`),
    ...defined.map(({ name, line }) => `line ${line} ${name}`),
    ...found.map(({ path }) => `file ${path}`),
    ...others.map(({ path }) => `other ${path}`),
    ...anywhere.map(({ address }) => `anywhere ${address}`),
  ];
  return (
    <CommandSheet
      title="Go to, or do"
      look="top-[12vh] w-[92vw] max-w-2xl"
      settled={isThere && sought === words}
      {...{ open, onClose, items }}
    >
      <Command.Input
        value={typed}
        onValueChange={setTyped}
        placeholder="Go to a file or a name in it, or do …"
        className="w-full border-b border-rule bg-paper px-5 py-3 text-[16px] outline-none"
      />
      <Command.List className="max-h-[55vh] overflow-y-auto p-2">
        {isThere && (
          <Command.Empty className="px-3 py-4 text-soft">
            No file, no name in this one and nothing to do has that in its name.
          </Command.Empty>
        )}
        {fitting.length > 0 && (
          <Command.Group heading="Do" className="text-soft">
            {fitting.map((id) => (
              <Item key={id} value={`do ${id}`} onSelect={choose(() => registry.handlerOf(id)?.())}>
                {capital(ACTIONS[id].label)} <span className="flex-1" />
                {ACTIONS[id].keys.map((key) => (
                  <Key key={key}>{keyLabel(key)}</Key>
                ))}
              </Item>
            ))}
          </Command.Group>
        )}
        {here && defined.length > 0 && (
          <Command.Group heading="In this file" className="text-soft">
            {defined.map(({ name, kind, within, line }) => (
              <Item
                key={`${line} ${name}`}
                value={`line ${line} ${name}`}
                onSelect={choose(() => onLine(here.path, line + 1))}
              >
                <span className="truncate font-mono text-[12.5px]">{visible(name)}</span>
                <span className="min-w-0 flex-1 truncate text-[13px] text-soft">
                  {kind}
                  {within.length > 0 && ` in ${visible(within.join(" › "))}`}
                </span>
                <span className="flex-none text-[13px] text-soft">line {line + 1}</span>
              </Item>
            ))}
          </Command.Group>
        )}
        {found.length > 0 && (
          <Command.Group
            heading={found.length === MOST_FILES ? `The first ${MOST_FILES} files that fit` : "Files"}
            className="text-soft"
          >
            {found.map(({ path }) => (
              <Item key={path} value={`file ${path}`} onSelect={choose(() => onFile(path, true))}>
                <span className="truncate font-mono text-[12.5px]">{visible(path)}</span>
              </Item>
            ))}
          </Command.Group>
        )}
        {others.length > 0 && (
          <Command.Group heading="Files that did not change" className="text-soft">
            {others.map(({ path }) => (
              <Item key={path} value={`other ${path}`} onSelect={choose(() => onFile(path, false))}>
                <span className="truncate font-mono text-[12.5px] text-soft">{visible(path)}</span>
              </Item>
            ))}
          </Command.Group>
        )}
        {anywhere.length > 0 && (
          <Command.Group heading="Elsewhere" className="text-soft">
            {anywhere.map(({ title, where, address }) => (
              <Item
                key={address}
                value={`anywhere ${address}`}
                onSelect={choose(() => window.location.assign(address))}
              >
                <span className="min-w-0 truncate">{visible(title)}</span>
                <span className="min-w-0 flex-1 truncate text-[13px] text-soft">{visible(where)}</span>
              </Item>
            ))}
          </Command.Group>
        )}
      </Command.List>
    </CommandSheet>
  );
}

function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function Item({ value, onSelect, children }: { value: string; onSelect: () => void; children: React.ReactNode }) {
  return (
    <Command.Item
      value={value}
      onSelect={onSelect}
      // What is not in sight is laid out when it comes there.
      className="flex cursor-pointer items-center gap-3 rounded px-3 py-1.5 text-ink [contain-intrinsic-size:auto_33px] [content-visibility:auto] data-[selected=true]:bg-brass-wash"
    >
      {children}
    </Command.Item>
  );
}

/** Files that hold what is sought: in their name first, then anywhere in their path, then its letters in order. */
function findFiles<F extends { path: string }>(files: readonly F[], sought: string): F[] {
  if (sought === "") return files.slice(0, MOST_FILES);
  const ranked: { file: F; rank: number }[] = [];
  for (const file of files) {
    const path = file.path.toLowerCase();
    const name = path.slice(path.lastIndexOf("/") + 1);
    const rank = name.startsWith(sought)
      ? 0
      : name.includes(sought)
        ? 1
        : path.includes(sought)
          ? 2
          : inOrder(path, sought)
            ? 3
            : -1;
    if (rank >= 0) ranked.push({ file, rank });
  }
  return ranked
    .sort((a, b) => a.rank - b.rank)
    .slice(0, MOST_FILES)
    .map(({ file }) => file);
}

function inOrder(path: string, sought: string): boolean {
  let at = -1;
  for (const letter of sought) {
    at = path.indexOf(letter, at + 1);
    if (at < 0) return false;
  }
  return true;
}
