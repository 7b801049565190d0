"use client";
import { useQueryClient } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useEffect, useState } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import type { FoundPlace, SearchEnd, SearchLine, Sought } from "@/core/reading/finding/search";
import type { As } from "@/core/reading/finding/ways";
import { type Points, pointNames } from "@/core/reading/points";
import { askLines, reasonFrom } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { CommandSheet } from "../../parts/command-sheet";
import { Key } from "../../parts/key";
import { CodeText } from "../manuscript/rows/code-text";
import { useChangeSet } from "../state/context";

const PLACES: { where: Sought["where"]; label: string }[] = [
  { where: "changed", label: "changed lines" },
  { where: "whole", label: "whole files" },
  { where: "everywhere", label: "all files" },
];

const WAYS: { as: As; label: string }[] = [
  { as: "words", label: "as typed" },
  { as: "whole", label: "whole words" },
  { as: "expression", label: "expression" },
];

/** What was found so far, and how the search ended; null while it goes on. */
interface Found {
  places: FoundPlace[];
  end: SearchEnd | null;
}

/** Finds words in what changed, in the whole of the changed files, or in all files. It remembers what was sought, so that one can go on from place to place. */
export function SearchSheet(props: {
  open: boolean;
  points: Points;
  onGo: (place: FoundPlace) => void;
  onClose: () => void;
}) {
  const { open, points, onGo, onClose } = props;
  const { place } = useChangeSet();
  const [typed, setTyped] = useState("");
  const [where, setWhere] = useState<Sought["where"]>("changed");
  const [as, setAs] = useState<As>("words");
  const words = useSettled(typed, 200);
  const query = { ...pointNames(points), words, as, where };
  const client = useQueryClient();
  const key = ["search", place, query.from, query.to, words, as, where];
  const found = useAsked<Found>({
    queryKey: key,
    enabled: open && words.length >= 2,
    queryFn: async ({ signal }) => {
      let found: Found = { places: [], end: null };
      const take = (lines: SearchLine[]) => {
        for (const line of lines)
          found = Array.isArray(line) ? { places: [...found.places, ...line], end: null } : { ...found, end: line };
        if (!signal.aborted) client.setQueryData(key, found);
      };
      await askLines("GET /api/repos/{repo}/changes/{number}/search", take, { parts: place, query, signal });
      return found;
    },
    // What was broken off is sought again.
    staleTime: ({ state }) => (state.data?.end ? Number.POSITIVE_INFINITY : 0),
    gcTime: 60_000,
    retry: false,
  });
  const places = found.data?.places ?? [];
  return (
    <CommandSheet
      title="Search"
      look="top-[9vh] w-[94vw] max-w-4xl"
      items={places.map(itemOf)}
      settled={words === typed.trim() && (places.length > 0 || !found.isFetching)}
      {...{ open, onClose }}
    >
      <div className="flex items-center gap-4 border-b border-rule px-5">
        <Command.Input
          value={typed}
          onValueChange={setTyped}
          placeholder={where === "everywhere" ? "Search in all files …" : "Search in what changed …"}
          className="min-w-0 flex-1 bg-paper py-3 text-[16px] outline-none"
          onKeyDown={(event) => {
            if (event.key !== "Tab") return;
            event.preventDefault();
            // The dialog would lead the focus away.
            event.stopPropagation();
            if (event.shiftKey) setAs(next(WAYS, ({ as: way }) => way === as).as);
            else setWhere(next(PLACES, (choice) => choice.where === where).where);
          }}
        />
        <Choice
          name="Where"
          label="Tab"
          choices={PLACES.map(({ where: one, label }) => ({ label, on: one === where, choose: () => setWhere(one) }))}
        />
      </div>
      <div className="flex items-baseline gap-4 px-5 pt-2">
        <p role="status" className="min-w-0 flex-1 text-[13px] text-soft">
          {say(words, as, found, places)}
        </p>
        <Choice
          name="How"
          label="⇧Tab"
          choices={WAYS.map(({ as: one, label }) => ({ label, on: one === as, choose: () => setAs(one) }))}
        />
      </div>
      <Command.List className="max-h-[62vh] overflow-y-auto p-2">
        {places.map((place, i) => (
          <Command.Item
            key={itemOf(place)}
            value={itemOf(place)}
            onSelect={() => {
              onClose();
              onGo(place);
            }}
            className="cursor-pointer rounded px-3 py-1 data-[selected=true]:bg-brass-wash"
          >
            {places[i - 1]?.path !== place.path && (
              <span className="block pt-1 font-mono text-[12px] text-soft">{visible(place.path)}</span>
            )}
            <span className="flex gap-3 font-mono text-[12.5px] [font-variant-ligatures:none]">
              <span className="w-14 flex-none text-right text-faint">
                {place.side === "old" ? "−" : ""}
                {place.line}
              </span>
              <FoundText place={place} />
            </span>
          </Command.Item>
        ))}
      </Command.List>
    </CommandSheet>
  );
}

function itemOf({ path, side, line }: FoundPlace): string {
  return `${path} ${side} ${line}`;
}

function FoundText({ place: { text, at, length } }: { place: FoundPlace }) {
  return (
    <span className="min-w-0 truncate whitespace-pre">
      <CodeText text={text.slice(0, at).trimStart()} whole={false} />
      <mark className="rounded-sm bg-brass-wash font-semibold text-brass">
        <CodeText text={text.slice(at, at + length)} whole={false} />
      </mark>
      <CodeText text={text.slice(at + length)} />
    </span>
  );
}

/** What comes after the one that is chosen. */
function next<T>(choices: readonly T[], isChosen: (choice: T) => boolean): T {
  return choices[(choices.findIndex(isChosen) + 1) % choices.length];
}

/** Ways of which one is chosen, with the key that goes through them. */
function Choice({
  name,
  label,
  choices,
}: {
  name: string;
  label: string;
  choices: { label: string; on: boolean; choose: () => void }[];
}) {
  return (
    <fieldset className="flex flex-none items-center gap-1">
      <legend className="sr-only">{name}</legend>
      {choices.map((choice) => (
        <button
          key={choice.label}
          type="button"
          aria-pressed={choice.on}
          className={`rounded px-2 py-0.5 ${choice.on ? "bg-brass-wash font-semibold" : "text-soft hover:underline"}`}
          onClick={choice.choose}
        >
          {choice.label}
        </button>
      ))}
      <Key>{label}</Key>
    </fieldset>
  );
}

function say(
  words: string,
  as: As,
  found: { data?: Found; error: unknown; isFetching: boolean },
  places: readonly FoundPlace[],
): string {
  if (words.length < 2)
    return as === "expression"
      ? "An expression of RE2, such as hold\\w*\\(. Capitals count only where you type some."
      : "Two characters at least. Capitals count only where you type some.";
  if (found.error) return reasonFrom(found.error);
  if (!found.data) return "Searching …";
  const files = counted(new Set(places.map(({ path }) => path)).size, "file");
  if (!found.data.end) return `${counted(places.length, "place")} in ${files} so far …`;
  if (places.length === 0) return `“${words}” is nowhere there. Tab looks elsewhere.`;
  return found.data.end.more
    ? `The first ${counted(places.length, "place")}: say more to narrow it down.`
    : `${counted(places.length, "place")} in ${files}.`;
}

/** A value once it has stopped changing for a while. */
function useSettled(value: string, milliseconds: number): string {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value.trim()), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return settled;
}
