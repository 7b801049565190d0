"use client";
import { useState } from "react";
import type { LineAnchor } from "@/core/anchor/anchor";
import { overlapping, type Suggestion, sameLines } from "@/core/suggest/suggestion";
import { newId } from "../../asking/new-id";
import { CodeField } from "../../words/code-field";
import { useTell } from "../state/context";
import { SmallDiff } from "./small-diff";

/** The suggestions of a remark while it is written: each edits some lines in place, and shows what comes of it. */
export function SuggestionEditor({
  anchor,
  suggestions,
  lines,
  onChange,
  onLeave,
}: {
  anchor: LineAnchor;
  suggestions: readonly Suggestion[];
  /** The whole text of the file, without line endings; undefined while it is on its way. */
  lines: readonly string[] | undefined;
  onChange: (suggestions: Suggestion[]) => void;
  onLeave: () => void;
}) {
  const edit = (id: string, part: Partial<Suggestion>) =>
    onChange(suggestions.map((other) => (other.id === id ? { ...other, ...part } : other)));
  const tell = useTell();
  const [begun, setBegun] = useState<string | null>(null);
  const clash = overlapping(suggestions);
  return (
    <div className="mt-1 grid min-w-0 grid-cols-[minmax(0,1fr)] gap-2">
      {suggestions.map((suggestion, i) => (
        <section
          key={suggestion.id}
          aria-label={`Suggestion ${i + 1}`}
          className="min-w-0 rounded-md border border-rule px-2 py-1.5"
        >
          <p className="mb-1 flex items-center gap-2 text-[12.5px] text-soft">
            Other text for lines
            <LineNumber
              label={`First line of suggestion ${i + 1}`}
              value={suggestion.start}
              onValue={(start) =>
                edit(suggestion.id, stretched(suggestion, start, Math.max(start, suggestion.end), lines))
              }
            />
            to
            <LineNumber
              label={`Last line of suggestion ${i + 1}`}
              value={suggestion.end}
              onValue={(end) => edit(suggestion.id, stretched(suggestion, Math.min(suggestion.start, end), end, lines))}
            />
          </p>
          <CodeField
            label={`Other text for lines ${suggestion.start} to ${suggestion.end}`}
            lines={suggestion.lines}
            onLines={(next) => edit(suggestion.id, { lines: next })}
            onLeave={onLeave}
            focus={begun === suggestion.id}
          />
          {sameLines(suggestion.was, suggestion.lines) ? (
            <p className="text-[13px] text-clay">It changes nothing yet: edit it, or it cannot be sent.</p>
          ) : (
            <SmallDiff was={suggestion.was} lines={suggestion.lines} />
          )}
          <button
            type="button"
            className="quiet-button text-[13px]"
            onClick={() => {
              onChange(suggestions.filter(({ id }) => id !== suggestion.id));
              tell("The suggestion is taken out.", () => onChange([...suggestions]));
            }}
          >
            take it out
          </button>
        </section>
      ))}
      {clash && (
        <p role="alert" className="text-[13px] text-clay">
          Two of them want line {clash[1].start}: only one can have it.
        </p>
      )}
      {lines && (
        <button
          type="button"
          className="quiet-button justify-self-start text-[13px]"
          onClick={() => {
            const suggestion = newSuggestion(anchor, suggestions, lines);
            setBegun(suggestion.id);
            onChange([...suggestions, suggestion]);
          }}
        >
          {suggestions.length === 0 ? "suggest other text" : "suggest for other lines too"}
        </button>
      )}
    </div>
  );
}

function LineNumber({ label, value, onValue }: { label: string; value: number; onValue: (value: number) => void }) {
  return (
    <input
      type="number"
      min={1}
      aria-label={label}
      value={value}
      onChange={(event) => event.target.valueAsNumber >= 1 && onValue(Math.floor(event.target.valueAsNumber))}
      className="w-14 rounded border border-rule bg-paper px-1 font-mono text-[12px] text-ink"
    />
  );
}

/** For the lines the remark stands on, or for the line after those that have a suggestion already. */
function newSuggestion(anchor: LineAnchor, others: readonly Suggestion[], lines: readonly string[]): Suggestion {
  const last = Math.max(0, ...others.map(({ end }) => end));
  const start = Math.min(lines.length, last === 0 ? anchor.start : last + 1);
  const was = lines.slice(start - 1, Math.max(start, last === 0 ? anchor.end : start));
  return { id: newId(), start, end: start + was.length - 1, was, lines: was };
}

/** The same suggestion over more lines or fewer: lines that come in come as they are, lines that go out are taken off the ends. */
function stretched(
  { start: from, end: to, lines: text }: Suggestion,
  start: number,
  end: number,
  lines: readonly string[] | undefined,
): Partial<Suggestion> {
  if (!lines || end > lines.length || end - start >= 500) return {};
  const before = start < from ? lines.slice(start - 1, from - 1) : [];
  const after = end > to ? lines.slice(to, end) : [];
  const kept = text.slice(Math.max(0, start - from), end < to ? Math.max(0, text.length - (to - end)) : undefined);
  return { start, end, was: lines.slice(start - 1, end), lines: [...before, ...kept, ...after] };
}
