import { type NamedItem, trailersIn } from "../house/work/trailers";
import { type ChangeSet, sinceWhen, standings } from "../review/state";
import { type MergeKind, writesMessage } from "../rules/rule";

/** Someone as a commit names them. */
export interface Signer {
  id: string;
  name: string;
  email: string;
}

/** The message that the merging commit gets unless someone edits it; empty for the ways that write none of their own. */
export function mergeMessage(
  change: ChangeSet,
  how: MergeKind,
  people: readonly Signer[],
  authors: readonly Omit<Signer, "id">[],
  items: readonly NamedItem[],
  /** Approvals of earlier work still count. */
  keep = false,
): string {
  if (!writesMessage(how)) return "";
  const body = withoutClaims(change.description).trim();
  const title = how === "merge" ? `Merge ${change.source} into ${change.target}: ${change.title}` : change.title;
  const approved = standings(change).filter(
    ({ verdict, revision }) => verdict === "approve" && (keep || revision >= sinceWhen(change)),
  );
  const signed = (key: string, { name, email }: Omit<Signer, "id">) => `${key}: ${name} <${email}>`;
  const trailers = [
    ...items.map(({ item, closes }) => `${closes ? "Closes" : "Refs"}: #${item}`),
    `Change-Set: ${change.number}`,
    ...approved.flatMap(({ person }) =>
      people.filter(({ id }) => id === person).map((one) => signed("Reviewed-by", one)),
    ),
    // One commit of all has one author; the others are named in it.
    ...(how === "squash" ? authors.map((one) => signed("Co-authored-by", one)) : []),
  ];
  // Trailers have to be one paragraph to be found.
  const gap = trailersIn(body).length > 0 ? "\n" : "\n\n";
  return `${title}\n\n${body === "" ? "" : `${body}${gap}`}${[...new Set(trailers)].join("\n")}\n`;
}

/** A description without the lines that only the log can say: who reviewed it, and which change set it was. Whoever describes it cannot say so. */
function withoutClaims(description: string): string {
  return description.replace(/^(?:reviewed-by|change-set)[ \t]*:.*(?:\r?\n[ \t]+\S.*)*(?:\r?\n|$)/gim, "");
}
