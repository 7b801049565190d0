import type { Segment } from "@/core/reading/segments";
import { CodeText } from "./code-text";

/** What a line says, in its colours and with what changed in it. `whole` where the last of it ends the line, with its carriage return. */
export function Segments({ segments, whole = false }: { segments: readonly Segment[]; whole?: boolean }) {
  return segments.map(({ text, colour, marked }, i) => (
    <span
      // biome-ignore lint/suspicious/noArrayIndexKey: segments have no other name
      key={i}
      className={`${colour > 0 ? `c${colour}` : ""} ${marked ? "marked" : ""}`}
    >
      <CodeText text={text} whole={whole && i === segments.length - 1} />
    </span>
  ));
}
