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

function textOf(block: Block): string {
  switch (block.kind) {
    case "says":
    case "words":
      return block.words.trim();
    case "head":
      return `${"–".repeat(60)}\n${block.words}`;
    case "quote":
      return shortened(block.lines)
        .map((line) => `> ${line}`)
        .join("\n");
    case "change":
      return [...block.was.map((line) => `- ${line}`), ...block.lines.map((line) => `+ ${line}`)].join("\n");
    case "link":
      return block.to;
    case "foot":
      return `-- \n${block.words}\n${block.to}`;
  }
}

export function toHtml(blocks: readonly Block[]): string {
  const body = blocks.map(htmlOf).join("\n");
  return `<!doctype html>\n<html><body style="font-family:sans-serif;max-width:46em;color:#1d2233">${body}</body></html>\n`;
}

const MONO = "font-family:monospace;font-size:13px;white-space:pre-wrap;margin:6px 0;padding:6px 10px";

function htmlOf(block: Block): string {
  switch (block.kind) {
    case "says":
      return `<p style="font-size:16px"><strong>${escaped(block.words)}</strong></p>`;
    case "head":
      return `<h3 style="font-size:14px;margin:22px 0 4px;padding-top:10px;border-top:1px solid #ccc">${escaped(block.words)}</h3>`;
    case "words":
      return `<div style="white-space:pre-wrap;margin:6px 0">${escaped(block.words.trim())}</div>`;
    case "quote":
      return `<pre style="${MONO};background:#f3efe4;border-left:3px solid #8a5a00">${escaped(shortened(block.lines).join("\n"))}</pre>`;
    case "change": {
      const was = block.was.map((line) => `<div style="background:#fbe3dc">- ${escaped(line)}</div>`);
      const lines = block.lines.map((line) => `<div style="background:#dcefe7">+ ${escaped(line)}</div>`);
      return `<div style="${MONO}">${[...was, ...lines].join("")}</div>`;
    }
    case "link":
      return `<p><a href="${escaped(block.to)}">${escaped(block.words)}</a></p>`;
    case "foot":
      return `<p style="color:#666;font-size:12px;margin-top:24px">${escaped(block.words)} <a href="${escaped(block.to)}">${escaped(block.to)}</a></p>`;
  }
}

function shortened(lines: readonly string[]): readonly string[] {
  return lines.length > LONGEST_QUOTE ? [...lines.slice(0, LONGEST_QUOTE), "…"] : lines;
}

function escaped(text: string): string {
  return text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
