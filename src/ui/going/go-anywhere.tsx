"use client";
import { Command } from "cmdk";
import { useRouter } from "next/navigation";
import { useContext, useDeferredValue, useLayoutEffect, useState } from "react";
import { visible } from "@/core/cautions/visible";
import type { FoundThing } from "@/core/views/desk-view";
import { reasonFrom } from "../asking/ask";
import { isCovered } from "../focus/taken";
import { MeShown } from "../frame/providers";
import { DraftOwner } from "../kept/use-draft";
import { CommandSheet } from "../parts/command-sheet";
import { Key } from "../parts/key";
import { recentPlaces } from "./recent-places";
import { useFound } from "./use-found";

const KINDS: Record<FoundThing["kind"], string> = {
  change: "Change sets",
  thread: "Said",
  file: "Files that are offered",
  person: "People",
  work: "Work items",
  repository: "Repositories",
  commit: "Commits",
};

/** Places that are always there, by what they are called. */
const PLACES = [
  { title: "Desk", address: "/" },
  { title: "All change sets, and lists", address: "/lists" },
  { title: "Tokens and sessions", address: "/tokens" },
] as const;

/** Goes to anything by its words, from any page: opened by its button, Ctrl K, or a stroke. */
export function GoAnywhere() {
  const [open, setOpen] = useState(false);
  const me = useContext(MeShown);
  useLayoutEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.altKey || isCovered()) return;
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "k") return;
      event.preventDefault();
      setOpen(true);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
  if (!me) return null;
  return (
    <>
      <button
        type="button"
        className="flex w-64 flex-none items-center justify-between gap-2 whitespace-nowrap rounded-md border border-rule bg-paper px-3 py-1 text-soft hover:border-brass max-[700px]:w-auto max-[700px]:px-2"
        onClick={() => setOpen(true)}
      >
        <span>Go to …</span>
        <span className="max-[700px]:hidden">
          <Key>Ctrl K</Key>
        </span>
      </button>
      {open && <Field keeps={me.administrator} onClose={() => setOpen(false)} />}
    </>
  );
}

function Field({ keeps, onClose }: { keeps: boolean; onClose: () => void }) {
  const { push } = useRouter();
  const owner = useContext(DraftOwner);
  const [typed, setTyped] = useState("");
  const words = useDeferredValue(typed.trim());
  const { data, error, isFetching } = useFound(words);
  const places = [
    ...PLACES,
    ...(keeps ? [{ title: "Keeping: accounts, repositories, log", address: "/keeping" }] : []),
  ].filter(({ title }) => title.toLowerCase().includes(words.toLowerCase()));
  const recent = words === "" ? recentPlaces(owner) : [];
  const found = words.length >= 2 ? (data ?? []) : [];
  const kinds = [...new Set(found.map(({ kind }) => kind))];
  const go = (address: string) => {
    onClose();
    push(address);
  };
  const items = [
    ...found.map(({ address }) => address),
    ...recent.map(({ address }) => `recent ${address}`),
    ...places.map(({ address }) => `place ${address}`),
  ];
  return (
    <CommandSheet
      title="Go to anything"
      look="top-[12vh] w-[92vw] max-w-2xl"
      settled={words === typed.trim() && !isFetching}
      open
      {...{ onClose, items }}
    >
      <Command.Input
        value={typed}
        onValueChange={setTyped}
        placeholder="A change set, what was said in one, a person, a commit …"
        className="w-full border-b border-rule bg-paper px-5 py-3 text-[16px] outline-none"
      />
      <p role="status" className="px-5 pt-2 text-[13px] text-soft">
        {error
          ? reasonFrom(error)
          : words.length < 2
            ? "By its number, its words, or the first seven letters of a commit."
            : isFetching && !data
              ? "Looking …"
              : found.length === 0
                ? "Nothing that you may see has these words."
                : ""}
      </p>
      <Command.List className="max-h-[60vh] overflow-y-auto p-2">
        {kinds.map((kind) => (
          <Command.Group key={kind} heading={KINDS[kind]} className="text-soft">
            {found
              .filter((thing) => thing.kind === kind)
              .map(({ title, where, address }) => (
                <Place key={address} value={address} {...{ title, where }} onSelect={() => go(address)} />
              ))}
          </Command.Group>
        ))}
        {recent.length > 0 && (
          <Command.Group heading="Where you were" className="text-soft">
            {recent.map(({ title, address }) => (
              <Place key={address} value={`recent ${address}`} title={title} where="" onSelect={() => go(address)} />
            ))}
          </Command.Group>
        )}
        {places.length > 0 && (
          <Command.Group heading="Pages" className="text-soft">
            {places.map(({ title, address }) => (
              <Place key={address} value={`place ${address}`} title={title} where="" onSelect={() => go(address)} />
            ))}
          </Command.Group>
        )}
      </Command.List>
    </CommandSheet>
  );
}

function Place({
  value,
  title,
  where,
  onSelect,
}: {
  value: string;
  title: string;
  where: string;
  onSelect: () => void;
}) {
  return (
    <Command.Item
      value={value}
      onSelect={onSelect}
      className="flex min-h-6 cursor-pointer items-baseline gap-3 rounded px-3 py-1 text-ink data-[selected=true]:bg-brass-wash"
    >
      <span className="min-w-0 truncate">{visible(title)}</span>
      <span className="min-w-0 flex-1 truncate text-[13px] text-soft">{visible(where)}</span>
    </Command.Item>
  );
}
