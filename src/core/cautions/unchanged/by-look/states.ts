import { type Enclosure, type Signs, type State, signsOf } from "./enclosures";

/**
 * What each line of a text is that no grammar reads, by what stands open where it begins; null where its format is not known. As far as its look tells: what stands in quotes, or
 * behind the sign of a comment of one line, begins nothing.
 *
 * @example statesByLook("a.sql", ["/* a", "b", "*\/ c"]) // ["code", "comment", "comment"]
 */
export function statesByLook(path: string, lines: readonly string[]): State[] | null {
  const signs = signsOf(path);
  if (!signs) return null;
  const reader = new LookReader(signs);
  return lines.map((line) => {
    const { state } = reader;
    reader.read(line);
    return state;
  });
}

/** Whether a line of a format may begin or end what goes over several lines. Cheap, since all changed lines are asked. */
export function mayOpenOrClose(path: string): ((line: string) => boolean) | null {
  const signs = signsOf(path);
  if (!signs) return null;
  const any = signs.enclosures.length > 0 ? new RegExp(ends(signs).join("|")) : /(?!)/;
  return (line) => any.test(line);
}

/** The sources of all that begins or ends something. */
function ends({ enclosures }: Signs): string[] {
  return enclosures.flatMap(({ open, close, within }) => [
    open,
    ...(close === null ? [] : [close]),
    ...(within ? ends(within) : []),
  ]);
}

/** What is looked for next, and to what each of it leads, in their order. */
interface Ways {
  find: RegExp;
  leads: readonly Lead[];
}

type Lead = "open" | "close" | "turn" | "end" | "out" | "deeper" | "past the line" | "on" | Enclosure;

/** Goes through a text line by line, or through a part of one that is read in another way, up to the mark that ends it. */
export class LookReader {
  #open: Enclosure | null = null;
  #depth = 0;
  #part: LookReader | null = null;
  readonly #ways = new Map<Enclosure | null, Ways>();

  constructor(
    private readonly signs: Signs,
    private readonly until: string | null = null,
    /** Told of what begins and ends a block, in a format that has some, with its place on the line. */
    private readonly block?: (isOpen: boolean, at: number) => void,
  ) {}

  get state(): State {
    return this.#part?.state ?? this.#open?.is ?? "code";
  }

  /** Reads what is left of a line from a place on; gives the place behind the mark that ends what is read, or -1. */
  read(line: string, from = 0): number {
    for (let at = from; ; ) {
      if (this.#part) {
        at = this.#part.read(line, at);
        if (at < 0) return -1;
        this.#part = null;
      }
      const { find, leads } = this.#next();
      find.lastIndex = at;
      const found = find.exec(line);
      if (!found) return -1;
      at = find.lastIndex;
      const lead = leads[found.findIndex((part, n) => n > 0 && part !== undefined) - 1];
      if (lead === "end") return at;
      if (lead === "past the line") return this.#pastLine(line, at);
      if (lead === "deeper") this.#depth++;
      else if (lead === "out") this.#leave();
      else if (lead === "open" || lead === "close" || lead === "turn") this.#tell(lead, found.index);
      else if (lead !== "on") this.#enter(lead);
    }
  }

  #enter(enclosure: Enclosure): void {
    if (enclosure.within) this.#part = new LookReader(enclosure.within, enclosure.close);
    else this.#open = enclosure;
  }

  #leave(): void {
    if (this.#depth > 0) this.#depth--;
    else this.#open = null;
  }

  #tell(lead: "open" | "close" | "turn", at: number): void {
    if (lead !== "open") this.block?.(false, at);
    if (lead !== "close") this.block?.(true, at);
  }

  /** A comment of one line ends with the part that it stands in. */
  #pastLine(line: string, at: number): number {
    const end = this.until === null ? null : new RegExp(this.until, "g");
    if (end) end.lastIndex = at;
    return end?.test(line) ? end.lastIndex : -1;
  }

  #next(): Ways {
    const known = this.#ways.get(this.#open);
    if (known) return known;
    const parts = [...(this.until === null ? [] : [[this.until, "end"] as const]), ...this.#leads()];
    const find = new RegExp(parts.map(([source]) => `(${source})`).join("|") || "(?!)", "g");
    const ways = { find, leads: parts.map(([, lead]) => lead) };
    this.#ways.set(this.#open, ways);
    return ways;
  }

  #leads(): (readonly [source: string, lead: Lead])[] {
    if (this.#open) {
      const { open, close, nests } = this.#open;
      return [[close ?? "(?!)", "out"], ...(nests ? [[open, "deeper"] as const] : [])];
    }
    const { enclosures, line, quoted } = this.signs;
    const { open, close, turn } = (this.block && this.signs.blocks) ?? {};
    return [
      ...enclosures.map((one) => [one.open, one] as const),
      ...(line ? [[line, "past the line"] as const] : []),
      ...(quoted ? [[quoted, "on"] as const] : []),
      ...(turn ? [[turn, "turn"] as const] : []),
      ...(open ? [[open, "open"] as const] : []),
      ...(close ? [[close, "close"] as const] : []),
    ];
  }
}
