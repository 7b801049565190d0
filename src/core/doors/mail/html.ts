import type { Element, ElementContent, Root } from "hast";
import { defaultSchema, sanitize } from "hast-util-sanitize";
import { toHtml as serialise } from "hast-util-to-html";
import { h } from "hastscript";
import remarkGfm from "remark-gfm";
import remarkParse from "remark-parse";
import remarkRehype from "remark-rehype";
import { unified } from "unified";
import { visit } from "unist-util-visit";
import { visible, visibleWords } from "../../cautions/visible";
import { codeInOrder, inOrder } from "../../plain/code-in-order";
import { isTangled } from "../../plain/tangled";
import { type Block, shortened } from "./blocks";

/** What a message says, as HTML: what people wrote is Markdown and rendered as such, and what is HTML in it is text. */
export function toHtml(blocks: readonly Block[]): string {
  const look = "font-family:sans-serif;max-width:46em;color:#1d2233";
  return `${serialise([{ type: "doctype" }, h("html", h("body", { style: look }, blocks.map(elementOf)))])}\n`;
}

const MONO = "font-family:monospace;font-size:13px;white-space:pre-wrap;margin:6px 0;padding:6px 10px";

type Made = { [K in Block["kind"]]: (block: Extract<Block, { kind: K }>) => Element };

const MADE: Made = {
  says: ({ words }) => h("p", { style: "font-size:16px" }, h("strong", visibleWords(words))),
  head: ({ words }) =>
    h(
      "h3",
      { style: "font-size:14px;margin:22px 0 4px;padding-top:10px;border-top:1px solid #ccc" },
      visibleWords(words),
    ),
  words: ({ words }) => wordsOf(words),
  quote: ({ lines }) =>
    h(
      "pre",
      { style: `${MONO};background:#f3efe4;border-left:3px solid #8a5a00` },
      inOrder(shortened(lines).map(visible).join("\n")),
    ),
  change: ({ was, lines }) =>
    h("div", { style: MONO }, [
      ...was.map((line) => h("div", { style: "background:#fbe3dc" }, inOrder(`- ${visible(line)}`))),
      ...lines.map((line) => h("div", { style: "background:#dcefe7" }, inOrder(`+ ${visible(line)}`))),
    ]),
  link: ({ words, to }) => h("p", h("a", { href: to }, words)),
  foot: ({ words, to }) =>
    h("p", { style: "color:#666;font-size:12px;margin-top:24px" }, [`${words} `, h("a", { href: to }, to)]),
};

function elementOf(block: Block): Element {
  return MADE[block.kind](block as never);
}

/** What people write, rendered; as it stands where it cannot be: no remark keeps a message, and what others wrote in it, from going out. */
function wordsOf(words: string): Element {
  const cut = words.length > LONGEST ? `${words.slice(0, LONGEST)} …` : words;
  const plain = () => h("div", { style: "margin:6px 0;white-space:pre-wrap" }, visibleWords(cut.trim()));
  if (isTangled(cut, MOST_SIGNS) || DEEP.test(cut)) return plain();
  try {
    return h("div", { style: "margin:6px 0" }, rendered(cut));
  } catch {
    return plain();
  }
}

/** Long texts are read where they were written. */
const LONGEST = 20_000;
/** A server reads it for all to whom it goes, and answers nobody meanwhile: what a page still renders may be too much here. */
const MOST_SIGNS = 600;
const DEEP = /^[>\s+*\d.)-]{60}/m;

const markdown = unified().use(remarkParse).use(remarkGfm).use(remarkRehype, { allowDangerousHtml: true });
const SCHEMA = { ...defaultSchema, protocols: { href: ["http", "https", "mailto"] }, clobberPrefix: "" };

/** Markdown of anyone's as elements. Pictures are named and not fetched: their owners would learn who reads, and when. */
function rendered(text: string): ElementContent[] {
  const tree = markdown.runSync(markdown.parse(text)) as Root;
  visit(tree, (node, index, parent) => {
    if (!parent || index === undefined) return;
    if ((node.type as string) === "raw")
      parent.children[index] = { type: "text", value: (node as never as { value: string }).value };
    else if (node.type === "element" && node.tagName === "img") {
      const { alt } = node.properties;
      parent.children[index] = { type: "text", value: alt ? `[image: ${alt}]` : "[image]" };
    }
  });
  visit(tree, "text", (node) => {
    node.value = visibleWords(node.value);
  });
  const clean = sanitize(tree, SCHEMA) as Root;
  codeInOrder(clean);
  return clean.children.filter((child): child is ElementContent => child.type !== "doctype");
}
