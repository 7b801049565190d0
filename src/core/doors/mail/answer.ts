import { isQuoted } from "../text-form/align";

/** What a mail program writes before what it quotes, in a few languages; the rest of it is names and dates. */
const WROTE = /(?:wrote|writes|schrieb|écrit|escribió|scrisse|schreef|skrev|napisał\(?a?\)?)\b[^\n]*:\s*$/i;
const HAS_DATE = /\d{1,2}[:.]\d{2}|\d{4}|@/;
/** Where a whole message is put below an answer without signs of quotation. */
const BELOW =
  /^\s*(?:-{2,}\s*(?:original message|forwarded message|ursprüngliche nachricht|weitergeleitete nachricht|message d'origine)\s*-{2,}|_{20,})\s*$/i;
const HEADER = /^(?:from|von|de|da|van|från):\s.*@/i;

/**
 * An answer by mail without what its writer's program put there: the signature, the line that says who wrote what is quoted, and a whole message
 * that is put below without being quoted. Quotations stay: by them it is known what is answered.
 *
 * @example answerIn("Yes.\n\nOn Monday, Ada <ada@x.example> wrote:\n> Is it?\n-- \nBen") // "Yes.\n\n> Is it?"
 */
export function answerIn(text: string): string {
  const lines = text.split(/\r\n|\n|\r/);
  const kept: string[] = [];
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i];
    if (
      BELOW.test(line) ||
      (HEADER.test(line) &&
        /^(?:sent|gesendet|date|to|an|subject|betreff):/im.test(lines.slice(i + 1, i + 5).join("\n")))
    )
      break;
    // A signature goes to the end, or to where somebody else is quoted again.
    if (/^-- ?$/.test(line)) {
      let next = i + 1;
      while (next < lines.length && !isQuoted(lines[next])) next++;
      i = next - 1;
      continue;
    }
    kept.push(line);
  }
  return withoutAttributions(kept).join("\n").trim();
}

/** Takes out the lines, three at most, that stand before a quotation and say whose it is. */
function withoutAttributions(lines: readonly string[]): string[] {
  const gone = new Set<number>();
  for (let i = 0; i < lines.length; i++) {
    if (!isQuoted(lines[i]) || (i > 0 && isQuoted(lines[i - 1]))) continue;
    let last = i - 1;
    while (last >= 0 && lines[last].trim() === "") last--;
    let first = last;
    while (first > 0 && last - first < 2 && lines[first - 1].trim() !== "" && !isQuoted(lines[first - 1])) first--;
    // The whole of the paragraph or its last line: what else stands in it is somebody's own.
    for (const from of [first, last]) {
      const said = lines.slice(from, last + 1).join(" ");
      if (last < 0 || isQuoted(lines[last]) || said.length > 300 || !WROTE.test(said) || !HAS_DATE.test(said)) continue;
      for (let n = from; n <= last; n++) gone.add(n);
      break;
    }
  }
  return lines.filter((_, i) => !gone.has(i));
}

/** Why a message is none that a person wrote to us, by its head; null where it may be one. Such are never answered: so no two machines go on for ever. */
export function automatic(head: ReadonlyMap<string, string>): string | null {
  const said = (name: string) => head.get(name)?.trim().toLowerCase() ?? "";
  if (said("auto-submitted") !== "" && said("auto-submitted") !== "no") return "it was sent by a program";
  if (/^(?:bulk|junk|auto_reply)$/.test(said("precedence"))) return "it was sent to many, or by a program";
  if (head.has("x-autoreply") || head.has("x-autorespond") || said("return-path") === "<>")
    return "it is an automatic answer";
  if (/multipart\/report/.test(said("content-type"))) return "it tells that a message could not be delivered";
  return null;
}
