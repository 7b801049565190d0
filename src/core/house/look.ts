/** How code is drawn for one person. */
export interface Look {
  /** Of letters, in pixels. */
  size: (typeof SIZES)[number]["size"];
  /** How many columns a tab goes on to. */
  tabs: (typeof TABS)[number];
  /** Several characters drawn as one sign, where the typeface has that. */
  ligatures: boolean;
}

/** Sizes of letters with the height of a line and the width of a column, in pixels. */
export const SIZES = [
  { size: 11, line: 18, column: 6.6 },
  { size: 12.5, line: 20, column: 7.5 },
  { size: 14.5, line: 23, column: 8.7 },
  { size: 17, line: 27, column: 10.2 },
  { size: 20, line: 31, column: 12 },
] as const;
export const TABS = [2, 4, 8] as const;

export const USUAL: Look = { size: 12.5, tabs: 4, ligatures: false };

/** The name of the cookie that a look is kept in: the server draws the first picture with it. */
export const LOOK_COOKIE = "lens_look";

/** A look as it is kept: `14.5_8_ligatures`. */
export function writeLook({ size, tabs, ligatures }: Look): string {
  return `${size}_${tabs}_${ligatures ? "ligatures" : "plain"}`;
}

/** A look as it was kept; what is not known is as usual. */
export function readLook(text: string | undefined): Look {
  const [size, tabs, signs] = (text ?? "").split("_");
  return {
    size: SIZES.find((one) => String(one.size) === size)?.size ?? USUAL.size,
    tabs: TABS.find((one) => String(one) === tabs) ?? USUAL.tabs,
    ligatures: signs === "ligatures",
  };
}

/** The measures of a look, in pixels. */
export function measuresOf({ size }: Look): { line: number; column: number } {
  return SIZES.find((one) => one.size === size) ?? SIZES[1];
}

/** What a style sheet needs to know of a look. */
export function lookStyle(look: Look): Record<`--${string}`, string> {
  return {
    "--code-size": `${look.size}px`,
    "--code-line": `${measuresOf(look).line}px`,
    "--code-tabs": String(look.tabs),
    "--code-ligatures": look.ligatures ? "normal" : "none",
    "--code-signs": look.ligatures ? "1" : "0",
  };
}
