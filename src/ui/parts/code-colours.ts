import rehypeHighlight from "rehype-highlight";

/** Colours code that is quoted in Markdown. Made once: it reads the grammars of all languages that it knows, which takes longer than most texts. */
const colour = rehypeHighlight({ detect: false });

export const codeColours = () => colour;
