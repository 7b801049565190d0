import type { WorkLink } from "../../review/state";

/** A line `Key: value` at the end of a message, as `git interpret-trailers` knows them. */
export interface Trailer {
  key: string;
  value: string;
}

const TRAILER = /^([A-Za-z0-9][A-Za-z0-9-]*)[ \t]*:[ \t]+(.+)$/;

/** The trailers of a commit message or a description: its last paragraph, when every line of it is a trailer or the continuation of one. */
export function trailersIn(message: string): Trailer[] {
  const paragraphs = message
    .replaceAll("\r\n", "\n")
    .trim()
    .split(/\n[ \t]*\n/);
  const lines = (paragraphs.at(-1) ?? "").split("\n");
  const trailers: Trailer[] = [];
  for (const line of lines) {
    if (/^[ \t]/.test(line) && trailers.length > 0) {
      trailers[trailers.length - 1].value += ` ${line.trim()}`;
      continue;
    }
    const [, key, value] = TRAILER.exec(line) ?? [];
    if (!key) return [];
    trailers.push({ key, value: value.trim() });
  }
  return trailers;
}

/** A work item that a message names, and whether merging ends it. */
export interface NamedItem {
  item: string;
  closes: boolean;
}

const ITEMS = /^#?([A-Za-z0-9][A-Za-z0-9-]{0,39})$/;

/** The work items that trailers name: `Closes: #12, #13`, `Refs: 14`. */
export function itemsOf(trailers: readonly Trailer[]): NamedItem[] {
  return trailers.flatMap(({ key, value }) => {
    const closes = key.toLowerCase() === "closes";
    if (!closes && key.toLowerCase() !== "refs") return [];
    return value.split(/[,\s]+/).flatMap((word): NamedItem[] => {
      const [, item] = ITEMS.exec(word) ?? [];
      return item ? [{ item, closes }] : [];
    });
  });
}

/** A linked work item, and by what: a person's link, a commit's trailer or the description's. */
export interface LinkedItem extends NamedItem {
  from: "link" | "commit" | "description";
}

/** Every work item of a change set, once, with those that its commits name; a link that closes outdoes a mere reference, and what a person linked comes first. */
export function linkedItems(
  links: readonly WorkLink[],
  description: string,
  named: readonly NamedItem[],
): LinkedItem[] {
  const all: LinkedItem[] = [
    ...links.map(({ item, closes }) => ({ item, closes, from: "link" as const })),
    ...itemsOf(trailersIn(description)).map((one) => ({ ...one, from: "description" as const })),
    ...named.map((one) => ({ ...one, from: "commit" as const })),
  ];
  const items = new Map<string, LinkedItem>();
  for (const one of all) {
    const known = items.get(one.item);
    items.set(one.item, known ? { ...known, closes: known.closes || one.closes } : one);
  }
  return [...items.values()];
}
