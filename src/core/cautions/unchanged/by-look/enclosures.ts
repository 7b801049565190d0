/** What a line is to whoever reads the text: code, or the midst of something that begins above it. */
export type State = "code" | "comment" | "text" | "beyond";

/** What makes something else of the lines between its two ends. All signs are sources of regular expressions that look at each character once. */
export interface Enclosure {
  is: State;
  open: string;
  /** Null: it goes to the end of the text. */
  close: string | null;
  /** One within another ends by itself. */
  nests?: true;
  /** What stands in it is read in another way. */
  within?: Signs;
}

/** How a format is read where no grammar reads it. */
export interface Signs {
  enclosures: readonly Enclosure[];
  /** What begins a comment up to the end of its line. */
  line?: string;
  /** Texts that end on their line: what stands in them begins nothing. */
  quoted?: string;
  blocks?: BlockSigns;
}

/** What begins and ends what holds statements, members or values; `turn` ends one and begins another. */
export interface BlockSigns {
  open: string;
  close: string;
  turn?: string;
}

/** Texts in quotes that end on their line, without signs that are escaped: so each place of a line is looked at once, whatever stands there. */
const DOUBLE = String.raw`"[^"\\]*"`;
const BOTH = String.raw`${DOUBLE}|'[^'\\]*'`;
export const QUOTED = new RegExp(BOTH, "g");
/** With signs that are escaped, and such as are never closed: they go to the end of their line. */
const ESCAPED = String.raw`"(?:[^"\\]|\\.)*(?:"|$)`;
const BOTH_ESCAPED = String.raw`${ESCAPED}|'(?:[^'\\]|\\.)*(?:'|$)`;
const TICKED = String.raw`\`[^\`\\]*\``;
/** A single quote is part of a name there, or marks a lifetime, but where it holds one sign. */
const SIGN = String.raw`'\\?[^']'`;

const comment = (open: string, close: string, nests?: true): Enclosure => ({ is: "comment", open, close, nests });
const text = (open: string, close = open): Enclosure => ({ is: "text", open, close });
const beyond = (open: string): Enclosure => ({ is: "beyond", open, close: null });

const STARRED = comment("/\\*", "\\*/");
const STARRED_NESTED = comment("/\\*", "\\*/", true);
const ROUND = comment("\\(\\*(?!\\))", "\\*\\)", true);
const TRIPLE = text('"""');
const TRIPLE_SINGLE = text("'''");
const MARKED = comment("<!--", "--!?>");

/** Long brackets of Lua, and of what took them over: `[==[` ends with `]==]`. */
const longBrackets = (before: string, make: (open: string, close: string) => Enclosure): Enclosure[] =>
  ["", "=", "==", "==="].map((level) => make(`${before}\\[${level}\\[`, `\\]${level}\\]`));

/** What stands between the marks of a page and is read as another language; a mark that ends by itself holds nothing. */
const section = (name: string, within: Signs): Enclosure => {
  return { is: "code", open: `<${name}\\b(?![^<>]*/>)`, close: `</${name}\\b`, within };
};
const SCRIPTS = section("script", { enclosures: [STARRED], line: "//", quoted: `${BOTH}|${TICKED}` });
const STYLES = section("style", { enclosures: [STARRED], quoted: BOTH });

/** Comments of what fills in a page: the hash is no part of `{{#if}}`. */
const FILLED_IN = [
  comment("\\{%-?[ \\t]*comment\\b", "\\{%-?[ \\t]*endcomment\\b"),
  comment("(?<!\\{)\\{#", "#\\}"),
  comment("\\{\\{!--", "--\\}\\}"),
  comment("\\{\\{-?[ \\t]*/\\*", "\\*/[ \\t]*-?\\}\\}"),
];

export const CURLY: BlockSigns = { open: "\\{", close: "\\}" };
/** Each element; one that ends by itself holds nothing. */
const ELEMENTS: BlockSigns = { open: "<(?=\\w)", close: "/>|</" };
/** An element that only a program shows. */
const TEMPLATE: BlockSigns = { open: "<template\\b(?![^<>]*/>)", close: "</template\\b" };
const GO_PARTS: BlockSigns = {
  open: "\\{\\{-?[ \\t]*(?:if|range|with|define|block)\\b",
  close: "\\{\\{-?[ \\t]*end\\b",
  turn: "\\{\\{-?[ \\t]*else\\b",
};
const PERCENT_NAMES = "(?:if|unless|for|block|macro|case|with|filter|call|raw|verbatim|autoescape|cache)\\b";
const PERCENT_PARTS: BlockSigns = {
  open: `\\{%-?[ \\t]*${PERCENT_NAMES}`,
  close: `\\{%-?[ \\t]*end${PERCENT_NAMES}`,
  turn: "\\{%-?[ \\t]*(?:else|elif|elsif|elseif|when)\\b",
};
const HASH_PARTS: BlockSigns = {
  open: "\\{\\{~?[#^](?!~?\\})",
  close: "\\{\\{~?/(?!\\*)",
  turn: "\\{\\{~?(?:else\\b|\\^~?\\})",
};
const CURLY_PARTS: BlockSigns = { open: "\\{#(?=\\w)", close: "\\{/(?=\\w)", turn: "\\{:" };
/** Programs in a page, by words or by brackets. */
const RUBY_PARTS: BlockSigns = {
  open: "<%-?[ \\t]*(?:if|unless|case|while|until|for|begin)\\b|\\bdo(?:[ \\t]*\\|[^|%>]*\\|)?[ \\t]*-?%>",
  close: "<%-?[ \\t]*(?:end\\b|\\})",
  turn: "<%-?[ \\t]*(?:else|elsif|when)\\b",
};
const BRACKET_PARTS: BlockSigns = { open: "\\{[ \\t]*[-_]?%>", close: "<%[-_]?[ \\t]*\\}" };

/** Any of several. */
const anyOf = (...all: readonly BlockSigns[]): BlockSigns => ({
  open: all.map(({ open }) => open).join("|"),
  close: all.map(({ close }) => close).join("|"),
  turn: all.flatMap(({ turn }) => turn ?? []).join("|") || undefined,
});

const CMAKE = "(?:if|foreach|while|function|macro|block|IF|FOREACH|WHILE|FUNCTION|MACRO)[ \\t]*\\(";

/** By the name of a file; the first that fits counts. */
const FORMATS: readonly [paths: RegExp, Signs][] = [
  [
    /\.(?:html?|xhtml|tmpl|twig|j2|jinja2?|njk|liquid|hbs|mustache)$/i,
    {
      enclosures: [SCRIPTS, STYLES, MARKED, ...FILLED_IN],
      blocks: anyOf(GO_PARTS, PERCENT_PARTS, HASH_PARTS, TEMPLATE),
    },
  ],
  [/\.(?:vue|svelte|astro)$/i, { enclosures: [SCRIPTS, STYLES, MARKED], blocks: anyOf(CURLY_PARTS, TEMPLATE) }],
  [
    /\.(?:ejs|jsp|aspx?)$/i,
    { enclosures: [comment("<%(?:#|--)", "%>"), SCRIPTS, STYLES, MARKED], blocks: anyOf(BRACKET_PARTS, TEMPLATE) },
  ],
  [/\.erb$/i, { enclosures: [comment("<%#", "%>"), SCRIPTS, STYLES, MARKED], blocks: anyOf(RUBY_PARTS, TEMPLATE) }],
  [/\.(?:cshtml|razor)$/i, { enclosures: [comment("@\\*", "\\*@"), SCRIPTS, STYLES, MARKED] }],
  [/\.(?:md|markdown|mdx)$/i, { enclosures: [MARKED] }],
  [
    /\.(?:xml|svg|xaml|\w+proj|props|targets|xsd|xslt?|wsdl|plist|resx|storyboard)$/i,
    { enclosures: [MARKED, text("<!\\[CDATA\\[", "\\]\\]>")], blocks: ELEMENTS },
  ],
  [
    /\.(?:kts?|swift|scala|sc)$/i,
    { enclosures: [STARRED_NESTED, TRIPLE], line: "//", quoted: `${ESCAPED}|${SIGN}`, blocks: CURLY },
  ],
  [
    /\.dart$/i,
    { enclosures: [STARRED_NESTED, TRIPLE, TRIPLE_SINGLE], line: "//", quoted: BOTH_ESCAPED, blocks: CURLY },
  ],
  [
    /(?:\.(?:groovy|gradle)|(?:^|\/)Jenkinsfile)$/i,
    { enclosures: [STARRED, TRIPLE, TRIPLE_SINGLE], line: "//", quoted: BOTH_ESCAPED, blocks: CURLY },
  ],
  [/\.(?:sql|ddl|psql|pgsql)$/i, { enclosures: [STARRED], line: "--", quoted: BOTH }],
  [/\.(?:scss|less|styl)$/i, { enclosures: [STARRED], line: "(?<!:)//", quoted: BOTH, blocks: CURLY }],
  [/\.(?:hcl|tf|tfvars|nomad)$/i, { enclosures: [STARRED], line: "//|#", quoted: ESCAPED, blocks: CURLY }],
  [
    /\.d$/i,
    {
      enclosures: [STARRED, comment("/\\+", "\\+/", true)],
      line: "//",
      quoted: `${BOTH_ESCAPED}|${TICKED}`,
      blocks: CURLY,
    },
  ],
  [/\.bicep$/i, { enclosures: [STARRED, TRIPLE_SINGLE], line: "//", quoted: BOTH_ESCAPED, blocks: CURLY }],
  [/\.nix$/i, { enclosures: [STARRED, text("''", "(?<!')''(?![$'\\\\])")], line: "#", quoted: ESCAPED, blocks: CURLY }],
  [
    /\.(?:proto|thrift|prisma|qml|cue|dtsi?|sol|jsonc|json5|jsonnet|m|mm|cu|cuh|ino|glsl|hlsl|wgsl|metal|vert|frag|vala|hx|as|zig|odin)$/i,
    { enclosures: [STARRED], line: "//", quoted: `${ESCAPED}|${SIGN}`, blocks: CURLY },
  ],
  [
    /(?:(?:^|\/)(?:\.htaccess|(?:httpd|apache)[^/]*\.conf))$/i,
    { enclosures: [], line: "^[ \\t]*#", blocks: { open: "^[ \\t]*<(?=\\w)", close: "^[ \\t]*</" } },
  ],
  [
    /(?:(?:^|\/)(?:GNU)?makefile(?:\.[^/]*)?|\.(?:mk|mak))$/i,
    {
      enclosures: [],
      line: "#",
      blocks: { open: "^ *(?:ifn?eq|ifn?def|define)\\b", close: "^ *(?:endif|endef)\\b", turn: "^ *else\\b" },
    },
  ],
  [
    /(?:\.vim|(?:^|\/)\.?vimrc)$/i,
    {
      enclosures: [],
      line: '^[ \\t]*"',
      blocks: {
        open: "^[ \\t]*(?:if|while|for|try|func(?:tion)?!?)(?![\\w(])",
        close: "^[ \\t]*end(?:if|while|for|try|func|function|f)?(?![\\w(])",
        turn: "^[ \\t]*(?:else|elseif|catch|finally)(?![\\w(])",
      },
    },
  ],
  [
    /(?:\.(?:conf|vcl|pp|r|awk|rego|tcl)|(?:^|\/)Caddyfile)$/i,
    { enclosures: [], line: "#", quoted: BOTH_ESCAPED, blocks: CURLY },
  ],
  [/\.(?:ya?ml|tpl|gotmpl)$/i, { enclosures: [], blocks: anyOf(GO_PARTS, PERCENT_PARTS) }],
  [/\.(?:svh?|vh?)$/i, { enclosures: [STARRED], line: "//", quoted: DOUBLE }],
  [/\.(?:graphqls?|gql)$/i, { enclosures: [TRIPLE], line: "#", quoted: DOUBLE, blocks: CURLY }],
  [
    /\.lua$/i,
    {
      enclosures: [...longBrackets("--", comment), ...longBrackets("", text)],
      line: "--",
      quoted: BOTH,
      blocks: {
        open: "\\b(?:function|then|do|repeat)\\b",
        close: "\\b(?:end|until|elseif)\\b",
        turn: "\\belse\\b",
      },
    },
  ],
  [
    /(?:\.cmake|(?:^|\/)CMakeLists\.txt)$/i,
    {
      enclosures: [...longBrackets("#", comment), ...longBrackets("", text)],
      line: "#",
      quoted: DOUBLE,
      blocks: {
        open: `^[ \\t]*${CMAKE}`,
        close: `^[ \\t]*(?:end|END)${CMAKE}`,
        turn: "^[ \\t]*(?:else|ELSE)",
      },
    },
  ],
  [
    /\.(?:hs|lhs|elm|purs|idr|agda)$/i,
    { enclosures: [comment("\\{-", "-\\}", true)], line: "--(?![!#$%&*+./<=>?@^|~:])", quoted: `${DOUBLE}|${SIGN}` },
  ],
  [/\.(?:fsi?|fsx)$/i, { enclosures: [ROUND, TRIPLE], line: "//", quoted: `${DOUBLE}|${SIGN}` }],
  [/\.(?:mli?|sml)$/i, { enclosures: [ROUND], quoted: `${DOUBLE}|${SIGN}` }],
  [
    /\.(?:pas|dpr|lpr)$/i,
    { enclosures: [comment("\\(\\*", "\\*\\)"), comment("\\{(?!\\$)", "\\}")], line: "//", quoted: `'[^']*'` },
  ],
  [/\.jl$/i, { enclosures: [comment("#=", "=#", true), TRIPLE], line: "#", quoted: `${DOUBLE}|${SIGN}` }],
  [/\.nim$/i, { enclosures: [comment("##?\\[", "\\]##?", true), TRIPLE], line: "#", quoted: `${DOUBLE}|${SIGN}` }],
  [
    /\.(?:lisp|cl|scm|ss|rkt)$/i,
    { enclosures: [comment("#\\|", "\\|#", true)], line: ";", quoted: `${DOUBLE}|${SIGN}` },
  ],
  [
    /\.exs?$/i,
    {
      enclosures: [TRIPLE, TRIPLE_SINGLE],
      line: "#",
      quoted: BOTH,
      blocks: {
        open: "(?<![:@.\\w])(?:do|fn)\\b(?!:)",
        close: "(?<![:@.\\w])end\\b(?!:)",
        turn: "(?<![:@.\\w])(?:else|rescue|catch|after)\\b(?!:)",
      },
    },
  ],
  [/\.coffee$/i, { enclosures: [comment("###", "###"), TRIPLE, TRIPLE_SINGLE], line: "#", quoted: BOTH }],
  [
    /\.(?:pl|pm|t)$/i,
    {
      enclosures: [comment("^=[a-zA-Z]", "^=cut\\b"), beyond("^__(?:END|DATA)__\\b")],
      line: "(?<![$\\\\&{])#",
      quoted: BOTH_ESCAPED,
      blocks: CURLY,
    },
  ],
  [
    /\.(?:tex|ltx|sty)$/i,
    {
      enclosures: [
        comment("\\\\begin\\{comment\\}", "\\\\end\\{comment\\}"),
        comment("\\\\iffalse\\b", "\\\\fi\\b"),
        beyond("\\\\end\\{document\\}"),
      ],
      line: "(?<!\\\\)%",
    },
  ],
  [/\.a(?:doc|sciidoc)$/i, { enclosures: [comment("^////+\\s*$", "^////+\\s*$")] }],
  // Of these there are grammars, which do not read each text of them.
  [/\.[cm]?[jt]sx?$/i, { enclosures: [STARRED], line: "//", quoted: `${BOTH}|${TICKED}`, blocks: CURLY }],
  [/\.pyi?$/i, { enclosures: [TRIPLE, TRIPLE_SINGLE], line: "#", quoted: BOTH_ESCAPED }],
  [/\.go$/i, { enclosures: [STARRED], line: "//", quoted: `${BOTH}|${TICKED}`, blocks: CURLY }],
  [/\.rs$/i, { enclosures: [STARRED_NESTED], line: "//", quoted: `${DOUBLE}|${SIGN}`, blocks: CURLY }],
  [/\.java$/i, { enclosures: [STARRED, TRIPLE], line: "//", quoted: `${ESCAPED}|${SIGN}`, blocks: CURLY }],
  [
    /\.(?:c|h|cc|cpp|cxx|hh|hpp|hxx|cs)$/i,
    { enclosures: [STARRED], line: "//", quoted: `${ESCAPED}|${SIGN}`, blocks: CURLY },
  ],
  [/\.php$/i, { enclosures: [STARRED], line: "//|#(?!\\[)", quoted: BOTH, blocks: CURLY }],
  [/\.css$/i, { enclosures: [STARRED], quoted: BOTH, blocks: CURLY }],
];

/** How files of a name are read by their look; null where that is not known. */
export function signsOf(path: string): Signs | null {
  return FORMATS.find(([paths]) => paths.test(path))?.[1] ?? null;
}
