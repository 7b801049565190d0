import type { Segment } from "@/core/reading/segments";
import { CodeText } from "./code-text";

/** What a line says, in its colours and with what changed in it. */
export function Segments({ segments }: { segments: readonly Segment[] }) {
  return segments.map(({ text, colour, marked }, i) => (
    <span
      // biome-ignore lint/suspicious/noArrayIndexKey: segments have no other name
      key={i}
      className={`${colour > 0 ? `c${colour}` : ""} ${marked ? "marked" : ""}`}
    >
      <CodeText text={text} whole={false} />
    </span>
  ));
}
