import { memo } from "react";
import Markdown from "react-markdown";
import rehypeSanitize from "rehype-sanitize";
import remarkGfm from "remark-gfm";

/** Shows Markdown that anyone may have written: no HTML, no scripts, no remote images; links lead away without a trace. */
export const SafeMarkdown = memo(function SafeMarkdown({ text }: { text: string }) {
  return (
    <div className="prose-ours">
      <Markdown
        remarkPlugins={[remarkGfm]}
        rehypePlugins={[rehypeSanitize]}
        components={{
          img: ({ alt }) => <span className="text-faint">[image{alt ? `: ${alt}` : ""}]</span>,
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
});
