/**
 * Patterns of people for branches, paths and names, matched in time that is bounded by the lengths of pattern and text multiplied,
 * whatever the pattern: the states of a small automaton are followed side by side (Thompson 1968), and nothing is ever tried again.
 *
 * `*` stands for any characters but `/`, `?` for one of them, `[a-z]` and `[!a-z]` for one of a set, `{a,b}` for either. A whole part `**`
 * stands for any number of parts, also none: `**\/a` fits `a` and `x/y/a`; `a/**` fits all that is below `a`. `\` takes the meaning from
 * the sign after it.
 *
 * @example
 * glob("demo/*.{ts,tsx}")("demo/board.tsx"); // true
 */
export function glob(pattern: string): (text: string) => boolean {
  const { start, states } = new Compiler(pattern).compile();
  const walker = new Walker(states, start);
  return (text) => walker.fits(text);
}

/** One state: takes a character that fits and goes on, goes on to several without one, or is the end. */
type State =
  | { kind: "take"; fits: (code: number) => boolean; next: number }
  | { kind: "fork"; next: number[] }
  | { kind: "end" };

const SLASH = 47;

/** Several states that hold at once, and where each character leads from there as far as that was asked. */
interface Together {
  states: readonly number[];
  end: boolean;
  next: Map<number, Together>;
}

/** So many sets of states are remembered; what a pattern makes beyond that is worked out anew. */
const MOST_REMEMBERED = 1_000;

/** Follows all states side by side, and remembers what each character makes of them: the second text of many goes by that. */
class Walker {
  private readonly known = new Map<string, Together>();
  private readonly first: Together;
  constructor(
    private readonly states: readonly State[],
    start: number,
  ) {
    const set = new Set<number>();
    reach(states, start, set);
    this.first = this.together(set);
  }

  fits(text: string): boolean {
    let now = this.first;
    for (let at = 0; at < text.length; at++) {
      const code = text.charCodeAt(at);
      let next = now.next.get(code);
      if (!next) {
        next = this.after(now, code);
        if (now.next.size < MOST_REMEMBERED) now.next.set(code, next);
      }
      if (next.states.length === 0) return false;
      now = next;
    }
    return now.end;
  }

  private after({ states }: Together, code: number): Together {
    const next = new Set<number>();
    for (const index of states) {
      const state = this.states[index];
      if (state.kind === "take" && state.fits(code)) reach(this.states, state.next, next);
    }
    return this.together(next);
  }

  private together(set: ReadonlySet<number>): Together {
    const states = [...set].sort((a, b) => a - b);
    const key = states.join();
    const known = this.known.get(key);
    if (known) return known;
    const made = { states, end: states.some((index) => this.states[index].kind === "end"), next: new Map() };
    if (this.known.size < MOST_REMEMBERED) this.known.set(key, made);
    return made;
  }
}

/** Adds a state and all that can be reached from it without a character. */
function reach(states: readonly State[], from: number, into: Set<number>): void {
  const waiting = [from];
  for (let index = waiting.pop(); index !== undefined; index = waiting.pop()) {
    if (into.has(index)) continue;
    into.add(index);
    const state = states[index];
    if (state.kind === "fork") waiting.push(...state.next);
  }
}

/** Builds the automaton from the end of the pattern to its beginning, so that each state knows where it goes on. */
class Compiler {
  private readonly states: State[] = [];
  constructor(private readonly pattern: string) {}

  compile(): { start: number; states: State[] } {
    const end = this.add({ kind: "end" });
    return { start: this.sequence(partsOf(this.pattern), end), states: this.states };
  }

  private add(state: State): number {
    return this.states.push(state) - 1;
  }

  private sequence(parts: readonly Part[], end: number): number {
    return parts.reduceRight((next, part) => this.part(part, next), end);
  }

  private part(part: Part, next: number): number {
    switch (part.kind) {
      case "one":
        return this.add({ kind: "take", fits: part.fits, next });
      case "any": {
        const fork = this.add({ kind: "fork", next: [next] });
        const loop = this.add({ kind: "take", fits: part.fits, next: fork });
        (this.states[fork] as { next: number[] }).next.push(loop);
        return fork;
      }
      case "folders": {
        const slash = this.add({ kind: "take", fits: (code) => code === SLASH, next });
        const within = this.part({ kind: "any", fits: () => true }, slash);
        return this.add({ kind: "fork", next: [next, within] });
      }
      case "either":
        return this.add({ kind: "fork", next: part.ways.map((way) => this.sequence(way, next)) });
    }
  }
}

type Part =
  | { kind: "one" | "any"; fits: (code: number) => boolean }
  /** Any number of whole folders, each with its slash. */
  | { kind: "folders" }
  | { kind: "either"; ways: Part[][] };

const notSlash = (code: number) => code !== SLASH;

function partsOf(pattern: string): Part[] {
  const parts: Part[] = [];
  let at = 0;
  while (at < pattern.length) {
    const sign = pattern[at];
    const begins = at === 0 || pattern[at - 1] === "/";
    if (begins && pattern.startsWith("**/", at)) {
      parts.push({ kind: "folders" });
      at += 3;
    } else if (begins && pattern.slice(at) === "**") {
      parts.push({ kind: "any", fits: () => true });
      at += 2;
    } else if (sign === "*") {
      parts.push({ kind: "any", fits: notSlash });
      while (pattern[at] === "*") at++;
    } else if (sign === "?") {
      parts.push({ kind: "one", fits: notSlash });
      at++;
    } else if (sign === "[" && pattern.indexOf("]", at + 2) > 0) {
      const end = pattern.indexOf("]", at + 2);
      parts.push({ kind: "one", fits: setOf(pattern.slice(at + 1, end)) });
      at = end + 1;
    } else if (sign === "{" && closing(pattern, at) > 0) {
      const end = closing(pattern, at);
      parts.push({ kind: "either", ways: alternatives(pattern.slice(at + 1, end)).map(partsOf) });
      at = end + 1;
    } else {
      if (sign === "\\" && at + 1 < pattern.length) at++;
      const code = pattern.charCodeAt(at);
      parts.push({ kind: "one", fits: (other) => other === code });
      at++;
    }
  }
  return parts;
}

function setOf(inside: string): (code: number) => boolean {
  const not = /^[!^]/.test(inside);
  const signs = not ? inside.slice(1) : inside;
  const ranges: [from: number, to: number][] = [];
  for (let at = 0; at < signs.length; at++) {
    const from = signs.charCodeAt(at);
    const wide = signs[at + 1] === "-" && at + 2 < signs.length;
    ranges.push([from, wide ? signs.charCodeAt(at + 2) : from]);
    if (wide) at += 2;
  }
  return (code) => code !== SLASH && ranges.some(([from, to]) => code >= from && code <= to) !== not;
}

/** Where the brace that opens at `at` is closed; -1 when it is not. */
function closing(pattern: string, at: number): number {
  let depth = 0;
  for (let i = at; i < pattern.length; i++) {
    if (pattern[i] === "\\") i++;
    else if (pattern[i] === "{") depth++;
    else if (pattern[i] === "}" && --depth === 0) return i;
  }
  return -1;
}

function alternatives(inside: string): string[] {
  const ways: string[] = [];
  let depth = 0;
  let from = 0;
  for (let i = 0; i < inside.length; i++) {
    if (inside[i] === "\\") i++;
    else if (inside[i] === "{") depth++;
    else if (inside[i] === "}") depth--;
    else if (inside[i] === "," && depth === 0) {
      ways.push(inside.slice(from, i));
      from = i + 1;
    }
  }
  return [...ways, inside.slice(from)];
}
