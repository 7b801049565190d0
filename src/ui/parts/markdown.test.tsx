import { render, waitFor } from "@testing-library/react";
import { renderToStaticMarkup } from "react-dom/server";
import { beforeAll, describe, expect, it, vi } from "vitest";
import { SafeMarkdown, type Surroundings, SurroundingsContext } from "./markdown";

const around: Surroundings = { repository: "quay", people: { rosa: "Rosa Vance" } };
const shown = (text: string) => (
  <SurroundingsContext value={around}>
    <SafeMarkdown text={text} />
  </SurroundingsContext>
);
/** As it is in a page, with its colours. */
const html = (text: string) => {
  const { container, unmount } = render(shown(text));
  const seen = container.innerHTML;
  unmount();
  return seen;
};

beforeAll(async () => {
  const { container, unmount } = render(shown("```ts\nconst a = 1;\n```"));
  expect(container.querySelector("code")?.textContent).toBe("const a = 1;\n");
  await waitFor(() => expect(container.querySelector(".hljs-keyword")).not.toBeNull());
  unmount();
});

/** What people have tried elsewhere to get a script, a style or a picture of theirs into somebody else's page. */
const HOSTILE = [
  "<script>alert(1)</script>",
  "<img src=x onerror=alert(1)>",
  "<svg/onload=alert(1)>",
  "<iframe src='https://evil.example'></iframe>",
  "<style>body{display:none}</style>",
  "<a href='javascript:alert(1)'>x</a>",
  "[x](javascript:alert(1))",
  "[x](JaVaScRiPt:alert(1))",
  "[x](\u0001javascript:alert(1))",
  "[x](java\nscript:alert(1))",
  "[x](&#106;avascript:alert(1))",
  "[x](data:text/html;base64,PHNjcmlwdD4=)",
  "[x](vbscript:msgbox(1))",
  "[x](file:///etc/passwd)",
  "[x](//evil.example)",
  "<javascript:alert(1)>",
  "[a]: javascript:alert(1)\n\n[a]",
  "![x](https://evil.example/spy.png)",
  "![x](//evil.example/spy.png)",
  "![x](data:image/svg+xml,<svg onload=alert(1)>)",
  "![x](/api/repos/quay/images/../../sign-out)",
  "![x](/api/repos/quay/image?id=1)",
  '![x](/api/sign-out "t")',
  "![a]: https://evil.example/x.png\n\n![a]",
  "```html\n<script>alert(1)</script>\n```",
  '```js" onmouseover="alert(1)\nx\n```',
  "`<img src=x onerror=alert(1)>`",
  "<details open ontoggle=alert(1)>x</details>",
  "<math><mtext></mtext><mglyph><style></style></mglyph></math>",
  "<form action=https://evil.example><input name=password></form>",
  "| <script>alert(1)</script> |\n|---|\n| <img src=x onerror=alert(1)> |",
  "- [ ] <img src=x onerror=alert(1)>",
  "@rosa<script>alert(1)</script> #1<img src=x onerror=alert(1)>",
  "<!--><script>alert(1)</script>-->",
  "[x](https://evil.example 'a\" onclick=\"alert(1)')",
  "https://evil.example/<script>",
  "\u202e[x](javascript:alert(1))",
  "[^1]\n\n[^1]: <script>alert(1)</script>",
];

describe("Markdown that means harm", () => {
  it.each(HOSTILE)("does nothing: %s", (text) => {
    const page = new DOMParserLike(html(text));
    expect(page.tags).not.toContain("script");
    for (const tag of ["style", "iframe", "svg", "math", "form", "object", "embed", "link", "meta", "base"])
      expect(page.tags).not.toContain(tag);
    for (const { name, value } of page.attributes) {
      expect(name).not.toMatch(/^on/i);
      expect(name).not.toBe("style");
      if (name === "href") expect(value).toMatch(/^(?:https?:|mailto:|\/(?!\/)|#)/i);
      if (name === "src") expect(value).toMatch(/^\/api\/repos\/[a-z0-9._-]+\/images\/[0-9a-f]{64}$/);
    }
  });
});

describe("Markdown that is meant well", () => {
  it("writes out what does not show, in words, in code and by its number, and no picture in two parts", () => {
    const seen = html("Only \u202ename\u202c, `if (a\u200b)` and &#x2066;more \u2764\ufe0f\n\n```js\nx\u202ey\n```");
    const codes = [...seen.matchAll(/⟨(U\+[0-9A-F]+)⟩/g)].map(([, code]) => code);
    expect(codes).toEqual(["U+202E", "U+202C", "U+200B", "U+2066", "U+202E"]);
    expect(seen).not.toMatch(/[\u200b\u202a-\u202e\u2066-\u2069]/);
    expect(seen).toContain("\u2764\ufe0f");
  });

  it("shows code in its order where words in it are written from right to left, and words as they are read", () => {
    expect(html("`\u05d0 > 5, 3 < \u05d1`")).toContain("<bdi>\u05d0</bdi> &gt; 5, 3 &lt; <bdi>\u05d1</bdi>");
    expect(html('```js\nallow("\u05d0", 0);\n```')).toMatch(/class="hljs-string">"<bdi>\u05d0<\/bdi>"/);
    expect(html("\u05d0, 5")).not.toContain("bdi");
  });

  it("has tables, tasks, code in colours, emoji and our own pictures", () => {
    expect(html("| a |\n|---|\n| 1 |")).toContain("<td>1</td>");
    expect(renderToStaticMarkup(shown("- [x] done"))).toMatch(/<input[^>]*type="checkbox"[^>]*checked/);
    expect(html("```ts\nconst a = 1;\n```")).toContain('class="hljs-keyword"');
    expect(html(":anchor:")).toContain("⚓");
    const own = `/api/repos/quay/images/${"a".repeat(64)}`;
    expect(html(`![chart](${own})`)).toContain(`src="${own}"`);
  });

  it("links people, change sets and commits, and leaves code, addresses and strangers alone", () => {
    expect(html("see @rosa and #12.")).toContain('href="/people/rosa"');
    expect(html("see @rosa and #12.")).toContain('href="/r/quay/c/12"');
    expect(html("in 0123abcd4567")).toContain('href="/r/quay/commit/0123abcd4567"');
    expect(html("`@rosa #12` and @nobody, a@rosa.example, abcdefab, 12 #0")).not.toMatch(/href="\/(?:people|r)\//);
    expect(html("[#12](https://x.example)")).not.toContain("/r/quay");
  });
});

/** Enough of a reading of HTML for what React writes: every tag, and every attribute with its value. */
class DOMParserLike {
  readonly tags: string[] = [];
  readonly attributes: { name: string; value: string }[] = [];
  constructor(text: string) {
    for (const [, tag, rest] of text.matchAll(/<([a-z][a-z0-9-]*)((?:\s+[^\s=>/]+(?:="[^"]*")?)*)\s*\/?>/gi)) {
      this.tags.push(tag.toLowerCase());
      for (const [, name, value = ""] of rest.matchAll(/\s+([^\s=>/]+)(?:="([^"]*)")?/g))
        this.attributes.push({ name, value });
    }
  }
}

describe("Markdown that goes too deep, or takes too long", () => {
  it.each([
    ["quotes", `${"> ".repeat(8_000)}x`],
    ["numbered lists", `${"1. ".repeat(4_000)}x`],
    ["headings", "a\n=\n".repeat(20_000)],
    ["emphasis", "*a ".repeat(2_000) + "a*".repeat(2_000)],
  ])("stands as it was written, and the page around it stays: %s", (_, text) => {
    const { container } = render(
      <div>
        <SafeMarkdown text={text} />
        <SafeMarkdown text="What **another** wrote." />
      </div>,
    );
    expect(container.textContent).toContain(text.slice(0, 2_000));
    expect(container.querySelector("strong")?.textContent).toBe("another");
  });

  it("stands as it was written where it cannot be shown for any other reason, and is shown again once it was changed", () => {
    const complained = vi.spyOn(console, "error").mockImplementation(() => undefined);
    const broken: Surroundings = {
      repository: "quay",
      get people(): Surroundings["people"] {
        throw new Error("Nobody knows who is here.");
      },
    };
    const shown = (text: string) => (
      <SurroundingsContext value={broken}>
        <SafeMarkdown text={text} />
      </SurroundingsContext>
    );
    const { container, rerender } = render(shown("[it](/x) for @rosa"));
    complained.mockRestore();
    expect(container.textContent).toBe("[it](/x) for @rosa");
    rerender(shown("[it](/x)"));
    expect(container.querySelector("a")?.textContent).toBe("it");
  });
});
