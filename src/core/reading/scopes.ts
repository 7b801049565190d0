/** A line that opens what a place lies in. Line numbers are 0-based. */
export interface Scope {
  line: number;
  /** What it says, without the bracket or colon that opens it. */
  text: string;
}

const FURTHEST = 20_000;

/**
 * What encloses a line, the outermost first, told by indentation alone: the nearest line above that is indented less, what encloses that,
 * and so on. It needs no grammar, so it serves every language that people indent, JSON and XML as well.
 */
export function enclosingScopes(lines: readonly string[], line: number): Scope[] {
  let first = line;
  while (first < lines.length && isBlank(lines[first])) first++;
  if (first >= lines.length) return [];
  let indent = indentOf(lines[first]);
  // A closing bracket still belongs to what it closes.
  if (/^\s*[\])}]/.test(lines[first]) || /^\s*<\//.test(lines[first])) indent += 1;
  const scopes: Scope[] = [];
  for (let i = first - 1; i >= 0 && i > first - FURTHEST && indent > 0; i--) {
    if (isBlank(lines[i])) continue;
    const width = indentOf(lines[i]);
    if (width >= indent) continue;
    indent = width;
    // What a bracket on a line of its own opens is named by the line before it.
    const named = /^\s*[{([]\s*$/.test(lines[i]) ? previous(lines, i) : i;
    if (/^\s*[\])}]/.test(lines[named])) continue;
    scopes.push({ line: named, text: lines[named].trim().replace(/\s*[{([:]\s*$/, "") });
  }
  return scopes.reverse();
}

function previous(lines: readonly string[], line: number): number {
  for (let i = line - 1; i >= 0; i--) if (!isBlank(lines[i])) return i;
  return line;
}

function isBlank(line: string): boolean {
  return line.trim() === "";
}

function indentOf(line: string): number {
  let width = 0;
  for (let i = 0; i < line.length; i++) {
    if (line[i] === " ") width += 1;
    else if (line[i] === "\t") width += 4;
    else break;
  }
  return width;
}
