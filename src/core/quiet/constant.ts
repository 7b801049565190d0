/** What holds as it stands, and what does not, in the languages that have a grammar. */
const YES = "(?:true|True|TRUE)";
const NO = "(?:false|False|FALSE)";
const TRUE = String.raw`(?:${YES}|!\s*(?:${NO}|0)|not\s+${NO}|[1-9]\d*|\$[Tt]rue|:)`;
const FALSE = String.raw`(?:!\s*(?:${YES}|[1-9]\d*)|not\s+${YES}|${NO}|0+|nil|null|NULL|None|\$[Ff]alse|''|"")`;
const UNLESS = "(?:unless|until)";

/** Alone, or joined to what cannot change it. */
const HOLDS = new RegExp(`^${TRUE}\\s*(?:$|(?:\\|\\||or\\b)(?!.*(?:[&?,]|\\band\\b)))`, "s");
const FAILS = new RegExp(`^${FALSE}\\s*(?:$|(?:&&?|and\\b)(?!.*(?:[|?,]|\\bor\\b)))`, "s");
const WORD = new RegExp(`^(?:(?:#[ \\t]*)?(?:if|elif|elsif|elseif|while)|(${UNLESS}))\\b`, "i");
/** Where a condition ends that is not in brackets, and what makes one in brackets a part of another. */
const END = /[{\n;:]|\bthen\b/;
const GOES_ON = /^\s*(?:[&|?=!<>.]|(?:and|or|in|is)\b)/;
const MAY_HOLD = new RegExp(
  `\\b(?:(?:[iI]f|[wW]hile)[ \\t(]*(?:${TRUE}|\\r?$)|${UNLESS}[ \\t(]*(?:${FALSE}|\\r?$)|for[ \\t]*(?:\\{|\\([ \\t]*;[ \\t]*;)|loop[ \\t]*\\{)`,
);

/**
 * Whether a statement begins with a condition that is met as it stands (true), or never is (false); null where it asks something.
 *
 * @example asked("if (true) {") // true
 * asked("#if 0") // false
 * asked("unless false && left") // true
 * asked("if ((true) && left)") // null
 */
export function asked(statement: string): boolean | null {
  const word = WORD.exec(statement);
  if (!word) return null;
  const condition = conditionIn(statement.slice(word[0].length).trimStart());
  const isMet = condition === null ? null : HOLDS.test(condition) ? true : FAILS.test(condition) ? false : null;
  return isMet === null ? null : isMet === (word[1] === undefined);
}

/** Whether a line may begin what is always done, or is done for ever. Cheap, since all changed lines are asked: it says so too often. */
export const mayAlwaysHold = (line: string): boolean => MAY_HOLD.test(line);

/** The condition that a text begins with, without brackets around the whole of it; null where it does not end in it. */
function conditionIn(text: string): string | null {
  if (!text.startsWith("(")) {
    const end = text.slice(1).search(END);
    return text.slice(0, end < 0 ? undefined : end + 1).trim();
  }
  const close = closeOf(text);
  if (close < 0 || GOES_ON.test(text.slice(close + 1))) return null;
  const within = text.slice(1, close).trim();
  return within.startsWith("(") && closeOf(within) === within.length - 1 ? conditionIn(within) : within;
}

/** Where the bracket ends that a text begins with, 0-based; -1 where it does not. */
function closeOf(text: string): number {
  let depth = 0;
  for (let at = 0; at < text.length; at++) {
    if (text[at] === "(") depth++;
    if (text[at] === ")" && --depth === 0) return at;
  }
  return -1;
}
