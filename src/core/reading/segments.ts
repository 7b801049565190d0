/** A piece of a line that looks the same throughout. */
export interface Segment {
  text: string;
  /** Number of a colour class; 0 is plain. */
  colour: number;
  /** Part of what changed within the line. */
  marked: boolean;
}

/**
 * Cuts a line where its colour changes or where a marked part begins or ends. `runs` is flat: length, class, length, class …; `spans`
 * is flat: start, end …, ascending. Both count UTF-16 units and may be shorter than the text.
 */
export function segmentLine(text: string, runs: readonly number[], spans: readonly number[]): Segment[] {
  if (text === "") return [];
  if (runs.length === 0 && spans.length === 0) return [{ text, colour: 0, marked: false }];
  const segments: Segment[] = [];
  let at = 0;
  let run = 0;
  let runEnd = runs.length > 0 ? runs[0] : text.length;
  let span = 0;
  while (at < text.length) {
    while (run < runs.length && runEnd <= at) {
      run += 2;
      runEnd = run < runs.length ? runEnd + runs[run] : text.length;
    }
    while (span < spans.length && spans[span + 1] <= at) span += 2;
    const marked = span < spans.length && spans[span] <= at;
    const edge = span < spans.length ? (marked ? spans[span + 1] : spans[span]) : text.length;
    const end = Math.min(text.length, edge, run < runs.length ? runEnd : text.length);
    segments.push({ text: text.slice(at, end), colour: run < runs.length ? runs[run + 1] : 0, marked });
    at = end;
  }
  return segments;
}
