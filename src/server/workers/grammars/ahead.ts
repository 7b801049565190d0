import { MessageChannel, type MessagePort, receiveMessageOnPort, type Transferable } from "node:worker_threads";
import type { Hunk } from "@/core/diff/hunk";
import { type LanguageId, languageById } from "@/core/grammar/languages";
import type { Parse, ParseAsk } from "@/core/grammar/parse";
import type { Interest, Syntax } from "@/core/grammar/syntax";
import { addTo } from "@/core/plain/grouped";
import { grammars, parseAnew, readElsewhere, type SyntaxLists } from "./grammars";

/**
 * Two threads read the texts of one reading. The one that makes the reading says which files it will come to; the other begins with the last of them
 * and goes towards the front. Each claims a file before it reads it, so that none is read twice; where one asks for what the other is just
 * at, it waits for that.
 */

/** Files to be read, each with its texts, the old one first, for the other thread. */
export interface AheadBatch {
  files: AheadText[][];
  /** A shared list: for each file who has it, and one entry more at the end: whether nobody wants the rest. */
  claims: Int32Array;
  port: MessagePort;
}

interface AheadText {
  language: LanguageId;
  text: string;
  interest: Interest;
  /** How the text before it in the list became this one. */
  hunks: readonly Hunk[] | null;
}

/** What became of one file. */
interface AheadResult {
  file: number;
  lists: (SyntaxLists | null)[];
}

const [FREE, HERE, THERE, DONE] = [0, 1, 2, 3];
/** So long, in milliseconds, is the other thread waited for before the text is read here. */
const PATIENCE = 10_000;

interface Batch {
  files: readonly (readonly ParseAsk[])[];
  claims: Int32Array;
  port: MessagePort;
}

/** Reads texts, with another thread's help. {@link end} has to be called when nothing more is asked. */
export class ReadAhead {
  private readonly batches: Batch[] = [];
  private readonly placeOf = new Map<ParseAsk, { batch: Batch; file: number }>();
  private readonly read = new Map<ParseAsk, Syntax | null>();
  /** What was told of, by its text, and what asks for the very same: two builds of one source have many files in common. */
  private readonly byText = new Map<string, ParseAsk[]>();
  private readonly twins = new Map<ParseAsk, ParseAsk>();

  constructor(
    private readonly here: Parse,
    private readonly give: (batch: AheadBatch, transfer: Transferable[]) => void,
  ) {}

  readonly parse: Parse = Object.assign((ask: ParseAsk) => this.parseOne(ask), {
    ahead: (files: readonly (readonly ParseAsk[])[]) => this.ahead(files),
  });

  end(): void {
    for (const { claims, port } of this.batches) {
      Atomics.store(claims, claims.length - 1, DONE);
      port.close();
    }
  }

  private ahead(all: readonly (readonly ParseAsk[])[]): void {
    const files = all
      .flatMap(parted)
      .filter((asks) => asks.length > 0 && !asks.some((ask) => this.isKnown(ask)) && !this.isTwin(asks));
    if (files.length === 0) return;
    const { port1, port2 } = new MessageChannel();
    const claims = new Int32Array(new SharedArrayBuffer(4 * (files.length + 1)));
    const batch = { files, claims, port: port1 };
    this.batches.push(batch);
    for (const [file, asks] of files.entries()) for (const ask of asks) this.placeOf.set(ask, { batch, file });
    const texts = files.map((asks) =>
      asks.map(({ language, text, interest, before }): AheadText => {
        return { language: language.id, text, interest, hunks: before ? before.hunks : null };
      }),
    );
    this.give({ files: texts, claims, port: port2 }, [port2]);
  }

  private isKnown(ask: ParseAsk): boolean {
    return this.placeOf.has(ask) || this.twins.has(ask);
  }

  /** Whether all that is asked of a file is asked of others; remembers it either way. */
  private isTwin(asks: readonly ParseAsk[]): boolean {
    const others = asks.map((ask) => this.byText.get(ask.text)?.find((other) => isSame(ask, other)));
    const isTwin = others.every((other) => other !== undefined);
    for (const [n, ask] of asks.entries()) {
      const other = others[n];
      if (isTwin) this.twins.set(ask, other!);
      else if (!other) addTo(this.byText, ask.text, ask);
    }
    return isTwin;
  }

  private parseOne(asked: ParseAsk): Syntax | null {
    const ask = this.twins.get(asked) ?? asked;
    const place = this.placeOf.get(ask);
    if (!place) return this.here(ask);
    const { claims } = place.batch;
    const had = Atomics.compareExchange(claims, place.file, FREE, HERE);
    if (had === THERE || had === DONE) {
      while (Atomics.load(claims, place.file) === THERE && this.readAnother(place.batch));
      Atomics.wait(claims, place.file, THERE, PATIENCE);
      this.collect(place.batch);
    }
    const read = this.read.get(ask);
    return read === undefined ? this.here(ask) : read;
  }

  /** Reads the first file of a batch that nobody has, in place of waiting for another; false where there is none. */
  private readAnother({ files, claims }: Batch): boolean {
    const file = claims.subarray(0, files.length).indexOf(FREE);
    if (file < 0 || Atomics.compareExchange(claims, file, FREE, HERE) !== FREE) return false;
    for (const ask of files[file]) this.read.set(ask, this.here(ask));
    return true;
  }

  /** Takes what has come. No event tells of it: whoever makes a reading does not give its thread away. */
  private collect({ port, files }: Batch): void {
    for (let got = receiveMessageOnPort(port); got; got = receiveMessageOnPort(port)) {
      const { file, lists }: AheadResult = got.message;
      for (const [n, ask] of files[file].entries()) {
        const list = lists[n];
        this.read.set(ask, list && readElsewhere(ask, list));
      }
    }
  }
}

/** What is asked of a file in parts that can be read each by itself: a state that is read from the one before it stays with that. */
function parted(asks: readonly ParseAsk[]): (readonly ParseAsk[])[] {
  return asks.every(({ before }, n) => n === 0 || before) ? [asks] : asks.map((ask) => [ask]);
}

function isSame(one: ParseAsk, other: ParseAsk): boolean {
  if (one.language !== other.language || one.interest.length !== other.interest.length) return false;
  return one.interest.every((place, n) => place === other.interest[n]);
}

/** On the other thread: reads a batch from its end, until it is through or nobody wants the rest. */
export async function readBatch({ files, claims, port }: AheadBatch): Promise<void> {
  await grammars(files.flat().map(({ language }) => language));
  for (let file = files.length - 1; file >= 0 && Atomics.load(claims, files.length) === FREE; file--) {
    if (Atomics.compareExchange(claims, file, FREE, THERE) !== FREE) continue;
    const lists = listsOf(files[file]);
    const buffers = lists.flatMap((list) =>
      list ? Object.values(list).map(({ buffer }) => buffer as ArrayBuffer) : [],
    );
    port.postMessage({ file, lists } satisfies AheadResult, [...new Set(buffers)]);
    Atomics.store(claims, file, DONE);
    Atomics.notify(claims, file);
  }
  port.close();
}

function listsOf(texts: readonly AheadText[]): (SyntaxLists | null)[] {
  let last = "";
  return texts.map(({ language, text, interest, hunks }) => {
    const before = hunks ? { text: last, hunks } : undefined;
    last = text;
    const syntax = parseAnew({ language: languageById(language), text, interest, before });
    if (!syntax) return null;
    const { type, depth, start, end, parent, tokens, lines } = syntax;
    return { type, depth, start, end, parent, tokens, lines };
  });
}
