export type { Case } from "./case";

import { BLOCK_NAMES } from "./block-names";
import type { Case } from "./case";
import { FILES } from "./files";
import { HARMLESS as TWINS } from "./harmless";
import { STILL_MOVES } from "./harmless-moves";
import { LAYOUT } from "./layout";
import { LINES } from "./lines";
import { MEMBERS, WHOLE_MEMBERS } from "./members";
import { MOVES } from "./moves";
import { NAMES } from "./names";
import { NESTED } from "./nested";
import { NESTED_NAMES } from "./nested-names";
import { IN_ANY_ORDER, ORDER } from "./order";
import { FREE_SEAMS, SEAMS } from "./seams";
import { LINES_OF_THEIR_OWN, SHARED_LINES } from "./shared-lines";
import { SHELLS } from "./shells";
import { RESTARRED, STARS } from "./stars";
import { RESTYLED, STYLE } from "./style";
import { IN_SUCCESSION, SUCCESSION } from "./succession";

/** Changes that matter and look as if they did not. */
export const FOOLABLE: Case[] = [
  ...LAYOUT,
  ...SHELLS,
  ...STYLE,
  ...STARS,
  ...NESTED,
  ...NESTED_NAMES,
  ...BLOCK_NAMES,
  ...LINES,
  ...NAMES,
  ...MEMBERS,
  ...MOVES,
  ...ORDER,
  ...SUCCESSION,
  ...SEAMS,
  ...SHARED_LINES,
  ...FILES,
];
/** Their harmless twins: what must stay quiet, so that the quiet kinds do not die of caution. */
export const HARMLESS: Case[] = [
  ...TWINS,
  ...RESTYLED,
  ...RESTARRED,
  ...STILL_MOVES,
  ...IN_ANY_ORDER,
  ...IN_SUCCESSION,
  ...LINES_OF_THEIR_OWN,
  ...FREE_SEAMS,
  ...WHOLE_MEMBERS,
];
