/**
 * For tests: how often made-up cases are tried. All of them with `npm test`, a part of them while someone works (`npm run test:fast`).
 */
export function tries(all: number): number {
  return process.env.LENS_FAST === "yes" ? Math.ceil(all / 8) : all;
}
