/** How words are looked for: anywhere, as whole words, or as an expression. */
export const AS = ["words", "whole", "expression"] as const;
export type As = (typeof AS)[number];
