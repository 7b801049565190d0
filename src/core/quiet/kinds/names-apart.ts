import { isBehindDot } from "../../definitions/mentions";
import type { LinePair } from "../../diff/line-pairs";
import { COMMENT, isKind, type Syntax, TEXT, tokenAfter, tokenText, typeOf } from "../../grammar/syntax";
import { firstThat } from "../../plain/first-that";
import { addTo } from "../../plain/grouped";
import type { ClassedFile, Side } from "../classes";
import { compared, finderOf, tokensOn } from "../names";
import { isDefinition, nameToken } from "../places";

/** Definitions that hold others and are no functions. */
const HOLDERS = /class|interface|struct|enum|trait|impl|mod|module|namespace|record|union|type/;
/** What grammars call the names of parts of something, where they tell them from others; `{ berth }` is both. */
const PARTS = /^(?:private_)?property_identifier$|^field_identifier$/;
/** A name that is one of a part and one of its own: `{ berth }`, `attr_reader :berth`. */
const BOTH = /^shorthand_property_identifier|^simple_symbol$/;
/** What stands before the name that a definition gives, by its look, and words that stand before one that is only used. */
const HEADS = /[\w>\])?][ \t]+$/;
const USES =
  /\b(?:return|await|yield|throw|raise|new|not|and|or|in|is|if|elif|else|unless|while|case|when|assert|echo|print)[ \t]+$/;
/** What was left whole and is done in its order: what is given a value there is known there alone. */
const DONE = /function|method|constructor|block|statement/;
/** So much is looked at before a name, in UTF-16 units. */
const BEFORE = 40;
/** What declares a name that stands in it, unless behind the sign of what it is given; what such a thing is a part of, up to where the name is known. */
const DECLARES = /parameter|declarator$|pattern$|^let_declaration$|^assignment$/;
const DECLARATION =
  /^(?:lexical_|variable_|local_variable_)?declaration$|^local_declaration_statement$|^expression_statement$/;
/** A text in quotes has places for code where one of these stands in it. Any other text, what a macro is given say, is code as far as can be told. */
const QUOTED = /^[a-z]{0,3}["'`]/i;
const PLACES = /[{$@]/;

/** A line on which names seem to be replaced: its file by its place in the list. */
export interface Renamed {
  file: number;
  pair: LinePair;
  names: Map<string, string>;
}

/**
 * Tells of lines on which names are replaced whether each stays apart from all others where it is known: the name that comes did not stand there before, and
 * the one that goes stands there no more. Else two names became one, or one became two, and another is meant by it, perhaps on a line that did not
 * change. A name that is declared in the function around it is known there, and to whoever gives it a value by its name; any other, and the names of parts
 * (`.berth`), in all of the file.
 */
export class NamesApart {
  private readonly names = new Map<number, Set<string>>();
  private readonly sides = new Map<string, NamedText>();

  /** `lines` are all that will be asked about. */
  constructor(
    private readonly files: readonly ClassedFile[],
    lines: readonly Renamed[],
  ) {
    for (const { file, names } of lines) {
      const known = this.names.get(file) ?? new Set();
      this.names.set(file, known);
      for (const pair of names) for (const name of pair) known.add(bare(name));
    }
  }

  are({ file, pair, names }: Renamed): boolean {
    const old = this.sideOf(file, "old");
    const next = this.sideOf(file, "new");
    return [...names].every(([from, to]) => !old.meets(pair.old, from, to) && !next.meets(pair.next, to, from));
  }

  private sideOf(file: number, side: Side): NamedText {
    const key = `${file} ${side}`;
    const known = this.sides.get(key) ?? new NamedText(this.files[file], side, this.names.get(file) ?? new Set());
    this.sides.set(key, known);
    return known;
  }
}

/** One state of a file, and where some names stand in it. */
class NamedText {
  private readonly syntax: Syntax;
  /** By a word, where it begins in the text. */
  private readonly places = new Map<string, number[]>();
  /** By a node, the innermost definition that it lies in or is; by a definition, the outermost function of the same. 0 for none. */
  private readonly inner = new Map<number, number>();
  private readonly functions = new Map<number, number>();
  private readonly owned = new Map<string, readonly number[]>();
  private readonly known = new Map<string, boolean>();
  private readonly given = new Map<string, boolean>();

  constructor(file: ClassedFile, side: Side, names: ReadonlySet<string>) {
    this.syntax = file.syntax(side)!;
    const sought = new Set([...names].map((name) => this.key(name)));
    finderOf(sought)(compared(this.syntax.language, this.syntax.text), (name, place) =>
      addTo(this.places, name, place),
    );
  }

  /** Whether `other` stands where `name` is known, as it stands on a line. */
  meets(line: number, name: string, other: string): boolean {
    const { syntax } = this;
    const found = this.places.get(this.key(other));
    if (!found) return false;
    return tokensOn(syntax, line).some((token) => {
      if (tokenText(syntax, token) !== name) return false;
      const part = isPart(syntax, token, syntax.start[syntax.tokens[token]]);
      const around = part ? 0 : this.around(token);
      const scope = this.isOwn(token, around, name) ? around : 0;
      const asked = part ? "part" : scope === 0 && this.isMember(token) ? "either" : "name";
      const key = `${scope} ${asked} ${other}`;
      const known =
        this.known.get(key) ?? (this.stands(found, scope, asked) || (scope > 0 && this.isGiven(found, other)));
      this.known.set(key, known);
      return known;
    });
  }

  private key(name: string): string {
    return compared(this.syntax.language, bare(name));
  }

  /** Whether a word stands in a node as a name, of a part or not; in what was left whole, since nothing changed there, by its look. */
  private stands(places: readonly number[], around: number, asked: "name" | "part" | "either"): boolean {
    const { syntax } = this;
    return this.within(around, places).some((place) => {
      const token = tokenAfter(syntax, place);
      if (!isNameAt(syntax, token, place)) return false;
      if (asked === "either" || BOTH.test(typeOf(syntax, syntax.tokens[token]))) return true;
      if (isPart(syntax, token, place)) return asked === "part";
      return asked === "name" || (!syntax.language.tellsParts && this.mayDeclarePart(token, place));
    });
  }

  /** Whether a token says what a class has, in a language whose grammar does not tell such names from others. */
  private isMember(token: number): boolean {
    const { language, parent, tokens } = this.syntax;
    if (language.tellsParts) return false;
    let at = this.definitionOf(parent[tokens[token]]);
    if (at > 0 && nameToken(this.syntax, at) === token) at = this.definitionOf(parent[at]);
    return at > 0 && HOLDERS.test(typeOf(this.syntax, at));
  }

  /** Whether a word that is no part may say what one is: outside of all functions, or as what was left whole looks. */
  private mayDeclarePart(token: number, place: number): boolean {
    const { text, start, end, tokens } = this.syntax;
    const node = tokens[token];
    const word = /^[\p{L}\p{N}\p{M}_$]+/u.exec(text.slice(place, end[node]))?.[0] ?? "";
    if (end[node] - start[node] <= word.length + 1) return this.around(token) === 0;
    const before = text.slice(Math.max(start[node], place - BEFORE), place);
    if (place === start[node]) return true;
    const behind = text.slice(place + word.length, place + word.length + BEFORE).trimStart();
    const declares = DONE.test(typeOf(this.syntax, node)) ? /^\(/ : /^[(=;:]/;
    return /\bdef[ \t]+$/.test(before) || (HEADS.test(before) && !USES.test(before) && declares.test(behind));
  }

  /** Whether a word stands somewhere as the name by which a parameter is given its value: `hold(berth=1)`. */
  private isGiven(places: readonly number[], name: string): boolean {
    const { text, language } = this.syntax;
    const { labels } = language;
    if (!labels) return false;
    const known = this.given.get(name);
    if (known !== undefined) return known;
    const given = places.some((place) => {
      const behind = text.slice(place + bare(name).length, place + bare(name).length + BEFORE).trimStart();
      return (
        behind[0] === labels &&
        behind[1] !== labels &&
        /[(,][ \t\r\n]*$/.test(text.slice(Math.max(0, place - BEFORE), place))
      );
    });
    this.given.set(name, given);
    return given;
  }

  /** Whether a name that stands at a token is declared in a node so that it is known there: on a changed line, since it is another one there now. */
  private isOwn(token: number, around: number, name: string): boolean {
    if (around === 0) return false;
    const { syntax } = this;
    const key = `${around} ${name}`;
    const owners = this.owned.get(key) ?? this.ownersOf(around, name);
    this.owned.set(key, owners);
    const place = syntax.start[syntax.tokens[token]];
    return owners.some((owner) => syntax.start[owner] <= place && place < syntax.end[owner]);
  }

  /** The nodes in which a name is known that is declared in one: the function that is given it, or the block that begins with it. */
  private ownersOf(around: number, name: string): number[] {
    const { syntax } = this;
    return this.within(around, this.places.get(this.key(name)) ?? []).flatMap((place) => {
      const token = tokenAfter(syntax, place);
      return isDeclared(syntax, token) ? [ownerOf(syntax, token)] : [];
    });
  }

  private within(node: number, places: readonly number[]): readonly number[] {
    if (node === 0) return places;
    const from = (place: number) => firstThat(places.length, (at) => places[at] >= place);
    return places.slice(from(this.syntax.start[node]), from(this.syntax.end[node]));
  }

  /** The outermost function around a name; 0 for none. */
  private around(token: number): number {
    const { tokens, parent } = this.syntax;
    let at = this.definitionOf(parent[tokens[token]]);
    // The name of a definition is known where that stands.
    while (at > 0 && nameToken(this.syntax, at) === token) at = this.definitionOf(parent[at]);
    const passed: number[] = [];
    for (; at > 0 && !this.functions.has(at); at = this.definitionOf(parent[at])) passed.push(at);
    let found = at > 0 ? this.functions.get(at)! : 0;
    for (const one of passed.reverse()) {
      if (found === 0 && !HOLDERS.test(typeOf(this.syntax, one))) found = one;
      this.functions.set(one, found);
    }
    return found;
  }

  private definitionOf(node: number): number {
    const passed: number[] = [];
    let at = node;
    for (; at > 0 && !this.inner.has(at) && !isDefinition(this.syntax, at); at = this.syntax.parent[at])
      passed.push(at);
    const found = at > 0 ? (this.inner.get(at) ?? at) : 0;
    for (const one of passed) this.inner.set(one, found);
    if (at > 0) this.inner.set(at, found);
    return found;
  }
}

function bare(name: string): string {
  return name.replace(/^[#@]/, "");
}

/** Whether a word at a place is a name of the code; in a text, too, where that has places for code. */
function isNameAt(syntax: Syntax, token: number, place: number): boolean {
  const node = syntax.tokens[token];
  if (node === undefined || syntax.start[node] > place || isKind(syntax, node, COMMENT)) return false;
  if (!isKind(syntax, node, TEXT)) return true;
  const text = tokenText(syntax, token);
  return !QUOTED.test(text) || PLACES.test(text);
}

/** Whether a word at a place names a part of something, as behind a dot. */
function isPart(syntax: Syntax, token: number, place: number): boolean {
  return PARTS.test(typeOf(syntax, syntax.tokens[token])) || isBehindDot(syntax.text, place);
}

/** Whether a token is a name where it is declared: a parameter, or what is given a value for the first time. */
function isDeclared(syntax: Syntax, token: number): boolean {
  const node = syntax.tokens[token];
  const above = syntax.parent[node];
  // What is told of it is no name that it declares: `Slot slot`.
  if (above <= 0 || !DECLARES.test(typeOf(syntax, above)) || /type/.test(typeOf(syntax, node))) return false;
  for (let before = token - 1; before >= 0 && syntax.tokens[before] > above; before--)
    if (tokenText(syntax, before) === "=") return false;
  return true;
}

function ownerOf(syntax: Syntax, token: number): number {
  let at = syntax.parent[syntax.tokens[token]];
  while (at > 0 && (DECLARES.test(typeOf(syntax, at)) || DECLARATION.test(typeOf(syntax, at)))) at = syntax.parent[at];
  return at;
}
