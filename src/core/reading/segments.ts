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

/**
 * A part of a line that was cut, from one place in it to another, in UTF-16 units.
 *
 * @example partOf([{ text: "berth", colour: 1, marked: false }], 1, 3) // [{ text: "er", colour: 1, marked: false }]
 */
export function partOf(segments: readonly Segment[], from: number, to: number): Segment[] {
  const part: Segment[] = [];
  let at = 0;
  for (const segment of segments) {
    const text = segment.text.slice(Math.max(0, from - at), Math.max(0, to - at));
    if (text !== "") part.push({ ...segment, text });
    at += segment.text.length;
    if (at >= to) break;
  }
  return part;
}

/**
 * Where a line differs from another one, as one stretch between what both begin and end with: start and end in UTF-16 units, never within a pair of them. Empty where they are the
 * same. For lines that are too long to be compared word by word.
 *
 * @example differenceFrom("a, c", "a, b, c") // [3, 3]: nothing stands there
 */
export function differenceFrom(line: string, other: string): number[] {
  if (line === other) return [];
  const most = Math.min(line.length, other.length);
  let start = 0;
  while (start < most && line[start] === other[start]) start++;
  let back = 0;
  while (back < most - start && line[line.length - 1 - back] === other[other.length - 1 - back]) back++;
  const isHalf = (at: number) => /[\udc00-\udfff]/.test(line[at] ?? "") && /[\ud800-\udbff]/.test(line[at - 1] ?? "");
  const end = line.length - back;
  return [isHalf(start) ? start - 1 : start, isHalf(end) ? end + 1 : end];
}
