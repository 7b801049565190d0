/** A whole number in figures, its thousands parted: "12,045". By hand, since loading what the language knows of numbers takes a command 20 ms. */
export function inFigures(count: number): string {
  return String(count).replace(/\B(?=(?:\d{3})+$)/g, ",");
}

/** "1 line", "3 lines", "no lines": a count with its noun. The plural is the noun with an s unless it is given. */
export function counted(count: number, noun: string, plural = `${noun}s`): string {
  return `${count === 0 ? "no" : inFigures(count)} ${count === 1 ? noun : plural}`;
}

/** "Ann", "Ann and Ben", "Ann, Ben and Cy". */
export function listed(names: readonly string[], last = "and"): string {
  if (names.length < 2) return names.join("");
  return `${names.slice(0, -1).join(", ")} ${last} ${names[names.length - 1]}`;
}

/** No more than so many characters, with an ellipsis where more were there; no character is cut in two. */
export function shortened(text: string, most: number): string {
  if (text.length <= most) return text;
  const kept = text.slice(0, Math.max(0, most));
  return `${/[\ud800-\udbff]$/.test(kept) ? kept.slice(0, -1) : kept}…`;
}
