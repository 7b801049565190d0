import * as v from "valibot";
import { matcher, wrongPattern } from "../../pattern/pattern";

/** The patterns of flags that labels carry, so that they are told apart without a colour. */
export const FLAGS = ["plain", "halves", "bars", "cross", "border", "quarters", "pale", "saltire"] as const;
export type Flag = (typeof FLAGS)[number];

/** A label of a repository: what change sets can be sorted by. */
export interface Label {
  /** Small letters, digits and dashes: also what is written behind `label:`. */
  name: string;
  flag: Flag;
  /** What it is for, in a sentence. */
  about: string;
  /** Change sets that touch one of these paths have it by themselves; none where it is given by hand alone. */
  paths: string[];
}

/** A label as a change set has it: given by somebody, or by what it touches. */
export interface HeldLabel extends Pick<Label, "name" | "flag"> {
  byPath: boolean;
}

const NAME = /^[a-z0-9](?:[a-z0-9-]*[a-z0-9])?$/;
const LONGEST = 30;
const MOST_PATHS = 50;

/** The shape of a label's name. */
export const labelName = v.pipe(
  v.string(),
  v.trim(),
  v.toLowerCase(),
  v.maxLength(LONGEST, `The name of a label has ${LONGEST} characters at most.`),
  v.regex(NAME, "The name of a label is made of small letters, digits and dashes, such as tide-tables."),
);

const path = v.pipe(
  v.string(),
  v.trim(),
  v.maxLength(500),
  v.rawCheck(({ dataset, addIssue }) => {
    const wrong = dataset.typed ? wrongPattern(dataset.value) : null;
    if (wrong) addIssue({ message: wrong });
  }),
);

/** What a keeper says of a label. */
export const labelRequest = v.object({
  name: labelName,
  flag: v.picklist(FLAGS),
  about: v.pipe(v.string(), v.trim(), v.maxLength(200)),
  paths: v.pipe(v.array(path), v.maxLength(MOST_PATHS, `${MOST_PATHS} paths are the most for one label.`)),
});

/**
 * The names of the labels that a change set has by what it touches.
 *
 * @example labelsByPath([{ name: "tariff", paths: ["tariff/**"], … }], ["tariff/a.ts"]) // ["tariff"]
 */
export function labelsByPath(labels: readonly Pick<Label, "name" | "paths">[], touched: readonly string[]): string[] {
  return labels.flatMap(({ name, paths }) => {
    const patterns = paths.map(matcher);
    return touched.some((path) => patterns.some((matches) => matches(path))) ? [name] : [];
  });
}
