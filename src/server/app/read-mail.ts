import { type ParsedMail, simpleParser } from "mailparser";

/** HTML that is longer, in characters, is not made into text: paragraphs without end would hold up all others meanwhile. */
export const LONGEST_HTML = 200_000;

/** A message; its text is what is written in it as text. */
export function plainMail(raw: Buffer): Promise<ParsedMail> {
  return simpleParser(raw, { skipHtmlToText: true, skipTextToHtml: true, skipImageLinks: true });
}

/** A message; its text is also what is written in it as HTML, unless that is too long. */
export async function wholeMail(raw: Buffer): Promise<ParsedMail> {
  const mail = await plainMail(raw);
  const html = typeof mail.html === "string" ? mail.html.length : 0;
  return html === 0 || html > LONGEST_HTML ? mail : simpleParser(raw, { skipTextToHtml: true, skipImageLinks: true });
}
