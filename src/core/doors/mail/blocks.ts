import { visible, visibleWords } from "../../cautions/visible";

/** What a message says, before it is put into plain text or HTML. All words in it are taken as text, whoever wrote them. */
export type Block =
  | { kind: "says"; words: string }
  | { kind: "head"; words: string }
  /** What somebody wrote, as they wrote it. */
  | { kind: "words"; words: string }
  /** Lines of code that something is about. */
  | { kind: "quote"; lines: readonly string[] }
  | { kind: "change"; was: readonly string[]; lines: readonly string[] }
  | { kind: "link"; words: string; to: string }
  | { kind: "foot"; words: string; to: string };

const LONGEST_QUOTE = 12;

export function toText(blocks: readonly Block[]): string {
  const parts = blocks.map(textOf).filter((part) => part !== "");
  return `${parts.join("\n\n")}\n`;
}

const TEXTS: { [K in Block["kind"]]: (block: Extract<Block, { kind: K }>) => string } = {
  says: ({ words }) => visibleWords(words.trim()),
  words: ({ words }) => visibleWords(words.trim()),
  head: ({ words }) => `${"–".repeat(60)}\n${visibleWords(words)}`,
  quote: ({ lines }) =>
    shortened(lines)
      .map((line) => `> ${visible(line)}`)
      .join("\n"),
  change: ({ was, lines }) =>
    [...was.map((line) => `- ${visible(line)}`), ...lines.map((line) => `+ ${visible(line)}`)].join("\n"),
  link: ({ to }) => to,
  foot: ({ words, to }) => `-- \n${words}\n${to}`,
};

function textOf(block: Block): string {
  return TEXTS[block.kind](block as never);
}

/** As many lines as a message shows. */
export function shortened(lines: readonly string[]): readonly string[] {
  return lines.length > LONGEST_QUOTE ? [...lines.slice(0, LONGEST_QUOTE), "…"] : lines;
}
