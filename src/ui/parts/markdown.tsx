"use client";
import type { Nodes } from "hast";
import type { Root } from "mdast";
import { findAndReplace } from "mdast-util-find-and-replace";
import { Component, createContext, memo, type ReactNode, useContext, useMemo } from "react";
import Markdown from "react-markdown";
import rehypeSanitize, { defaultSchema } from "rehype-sanitize";
import remarkGemoji from "remark-gemoji";
import remarkGfm from "remark-gfm";
import { visit } from "unist-util-visit";
import { visibleWords } from "@/core/cautions/visible";
import { codeInOrder } from "@/core/plain/code-in-order";
import { isTangled } from "@/core/plain/tangled";
import { useCodeColours } from "./use-code-colours";

/** What words in a text may refer to. */
export interface Surroundings {
  repository: string;
  /** Names that people sign in with, and their full ones. */
  people: Record<string, string>;
}

export const SurroundingsContext = createContext<Surroundings | null>(null);

/** Pictures come from our own store and from nowhere else: others would tell their owners who reads. */
const OWN_IMAGE = /^\/api\/repos\/[a-z0-9._-]+\/images\/[0-9a-f]{64}$/;
const SCHEMA = { ...defaultSchema, attributes: { ...defaultSchema.attributes, code: [["className", /^language-./]] } };

/**
 * Shows Markdown that anyone may have written: no HTML, no scripts, no remote images; links lead away without a trace, and signs that do not show are written out,
 * in code that is quoted, too. What would hold up its reader, or cannot be shown so, stands as it was written. `definitions` are lines that say where its links lead.
 */
export const SafeMarkdown = memo(function SafeMarkdown({
  text,
  definitions = "",
}: {
  text: string;
  definitions?: string;
}) {
  const whole = definitions + text;
  if (isTangled(whole)) return <AsWritten text={text} />;
  return (
    <Instead key={whole} of={<AsWritten text={text} />}>
      <Shown text={whole} />
    </Instead>
  );
});

function AsWritten({ text }: { text: string }) {
  return <p className="max-h-96 overflow-y-auto whitespace-pre-wrap break-words">{visibleWords(text)}</p>;
}

/** Shows something else where its children cannot be shown: the page around them stays. */
class Instead extends Component<{ of: ReactNode; children: ReactNode }, { isFailed: boolean }> {
  override state = { isFailed: false };

  static getDerivedStateFromError(): { isFailed: boolean } {
    return { isFailed: true };
  }

  override render(): ReactNode {
    return this.state.isFailed ? this.props.of : this.props.children;
  }
}

function Shown({ text }: { text: string }) {
  const around = useContext(SurroundingsContext);
  const colours = useCodeColours(text);
  const plugins = useMemo(() => [remarkGfm, remarkGemoji, () => (tree: Root) => refer(tree, around)], [around]);
  return (
    <div className="prose-ours">
      <Markdown
        remarkPlugins={plugins}
        rehypePlugins={[[rehypeSanitize, SCHEMA], () => showSigns, ...(colours ? [colours] : []), () => codeInOrder]}
        components={{
          img: ({ alt, src }) =>
            typeof src === "string" && OWN_IMAGE.test(src) ? (
              // biome-ignore lint/performance/noImgElement: who may see it depends on the session, so nobody else can prepare it
              <img
                src={src}
                alt={alt ?? ""}
                loading="lazy"
                className="max-h-96 max-w-full rounded border border-rule"
              />
            ) : (
              <span className="text-faint">[image{alt ? `: ${visibleWords(alt)}` : ""}]</span>
            ),
          a: ({ href, children }) =>
            href && /^(?:https?:|mailto:|\/(?!\/)|#)/i.test(href) ? (
              <a href={href} rel="noopener noreferrer nofollow" target={href.startsWith("http") ? "_blank" : undefined}>
                {children}
              </a>
            ) : (
              <span>{children}</span>
            ),
        }}
      >
        {text}
      </Markdown>
    </div>
  );
}

/** Once it is parsed: signs can be written by their numbers, too. */
function showSigns(tree: Nodes): void {
  visit(tree, "text", (node) => {
    node.value = visibleWords(node.value);
  });
}

/** Turns what refers to people, change sets and commits into links. What stands in code or in a link already is left alone. */
function refer(tree: Root, around: Surroundings | null): void {
  if (!around) return;
  const link = (url: string, text: string) => ({
    type: "link" as const,
    url,
    children: [{ type: "text" as const, value: text }],
  });
  findAndReplace(
    tree,
    [
      [
        /(?<![\w/@.])@([a-z0-9][a-z0-9._-]{0,39})/g,
        (whole: string, name: string) => (around.people[name] ? link(`/people/${name}`, whole) : false),
      ],
      [
        /(?<![\w/&#])#([1-9]\d{0,8})\b/g,
        (whole: string, number: string) => link(`/r/${around.repository}/c/${number}`, whole),
      ],
      [
        /(?<![\w/.-])(?=[0-9a-f]*\d)([0-9a-f]{8,40})(?![\w-])/g,
        (whole: string) => link(`/r/${around.repository}/commit/${whole}`, whole.slice(0, 10)),
      ],
    ],
    { ignore: ["link", "linkReference"] },
  );
}
