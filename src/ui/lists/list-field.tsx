"use client";
import { useRouter } from "next/navigation";
import { type FormEvent, type KeyboardEvent, useId, useLayoutEffect, useRef, useState } from "react";
import { completions, type KnownValues, readQuery } from "@/core/house/lists/query";
import { KEYS } from "@/core/house/lists/words";
import { KeepList } from "./keep-list";
import { ListForm } from "./list-form";

/** Where a list is asked for: by writing, with what could come next below, or by choosing in a form. A list is kept under a name here. */
export function ListField({
  query,
  kept,
  shareable,
  ...known
}: KnownValues & {
  query: string;
  kept: { id: string; name: string; shared: string | null } | null;
  /** The repositories that lists can be shared with. */
  shareable: readonly string[];
}) {
  const { push, refresh } = useRouter();
  const [typed, setTyped] = useState(query);
  const [at, setAt] = useState(query.length);
  const [chosen, setChosen] = useState(-1);
  const [open, setOpen] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const list = useId();
  // Where writing goes on after something was taken: set with what was drawn, before the next sign is typed.
  const caret = useRef(-1);
  useLayoutEffect(() => {
    if (caret.current >= 0) field.current?.setSelectionRange(caret.current, caret.current);
    caret.current = -1;
  });
  const offered = open ? completions(typed, at, known) : { from: 0, options: [] };
  const options = offered.options.slice(0, 10);
  const reading = readQuery(typed);
  const go = (text: string) => push(`/lists?${new URLSearchParams({ q: text.trim() })}`);
  const take = (option: string) => {
    const next = `${typed.slice(0, offered.from)}${option}${option.endsWith(":") ? "" : " "}${typed.slice(at).trimStart()}`;
    const place = offered.from + option.length + (option.endsWith(":") ? 0 : 1);
    setTyped(next);
    setAt(place);
    setChosen(-1);
    caret.current = place;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step && options.length > 0) {
      event.preventDefault();
      // Round, over the place before the first, where none is chosen.
      const places = options.length + 1;
      setChosen((now) => ((now + 1 + step + places) % places) - 1);
    } else if (event.key === "Escape" && options.length > 0) {
      event.preventDefault();
      setOpen(false);
    } else if ((event.key === "Enter" || event.key === "Tab") && options[chosen]) {
      event.preventDefault();
      take(options[chosen]);
    }
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setOpen(false);
    if (reading.ok) go(typed);
  };
  return (
    <form onSubmit={submit} className="mt-4">
      <div className="relative flex gap-2">
        <input
          ref={field}
          className="field min-w-0 flex-1 font-mono text-[13px]"
          aria-label="What the list is to hold"
          role="combobox"
          aria-expanded={options.length > 0}
          aria-controls={list}
          aria-activedescendant={options[chosen] ? `${list}-${chosen}` : undefined}
          aria-autocomplete="list"
          autoComplete="off"
          spellCheck={false}
          placeholder="by:me state:open still:>1w, or words"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            setAt(event.target.selectionStart ?? event.target.value.length);
            setChosen(-1);
            setOpen(true);
          }}
          onKeyDown={onKeyDown}
          onBlur={() => setOpen(false)}
        />
        <button type="submit" className="button flex-none">
          Show
        </button>
        {options.length > 0 && (
          <div
            id={list}
            role="listbox"
            aria-label="What could come next"
            className="sheet absolute top-full left-0 z-30 mt-1 min-w-60 p-1"
          >
            {options.map((option, i) => (
              <div
                key={option}
                id={`${list}-${i}`}
                role="option"
                aria-selected={i === chosen}
                tabIndex={-1}
                className={`cursor-pointer rounded px-3 py-1 font-mono text-[12.5px] ${i === chosen ? "bg-brass-wash" : ""}`}
                onPointerDown={(event) => {
                  event.preventDefault();
                  take(option);
                }}
              >
                {option}
                <span className="ml-3 font-sans text-soft">{option.endsWith(":") ? shortly(option) : ""}</span>
              </div>
            ))}
          </div>
        )}
      </div>
      {!reading.ok && (
        <p role="alert" className="mt-1 text-clay">
          {reading.refusal.reason}
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-baseline gap-x-6 gap-y-2">
        <ListForm known={known} onAdd={(part) => go(`${typed} ${part}`)} />
        <KeepList {...{ query, kept, shareable }} onDone={refresh} />
      </div>
    </form>
  );
}

/** The first sentence of what a word is about. */
function shortly(option: string): string {
  return KEYS.get(option.replace(/^-|:$/g, ""))?.about.split(/[:,]/)[0] ?? "";
}
