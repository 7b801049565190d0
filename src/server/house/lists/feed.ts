import { toXml } from "xast-util-to-xml";
import { x } from "xastscript";
import { visible } from "@/core/cautions/visible";
import { done, type Outcome } from "@/core/plain/outcome";
import { inFigures } from "@/core/plain/words";
import type { ListLine } from "@/core/views/desk-view";
import type { Person } from "../../access/person";
import type { AppContext } from "../../app/context";
import { addressOf } from "../../app/settings";
import { findChanges } from "./find";

/** A list as an Atom feed (RFC 4287), as somebody may see it: its first page, each change set with who moves next and why. */
export async function feedOf(app: AppContext, person: Person, query: string): Promise<Outcome<string>> {
  const found = await findChanges(app, person, query);
  if (!found.ok) return found;
  const address = addressOf(app.settings);
  const { lines } = found.value;
  const list = `${address}/lists?${new URLSearchParams({ q: query })}`;
  const updated = Math.max(0, ...lines.map(({ changedAt }) => changedAt));
  const feed = x("feed", { xmlns: "http://www.w3.org/2005/Atom" }, [
    x("id", list),
    x("title", said(query === "" ? "All change sets" : query)),
    x("updated", new Date(updated).toISOString()),
    x("link", { href: list }),
    ...lines.map((line) => entry(address, line)),
  ]);
  return done(`<?xml version="1.0" encoding="utf-8"?>\n${toXml(feed)}\n`);
}

/** The id holds the time of the last change: who follows the list is told of each. */
function entry(address: string, line: ListLine) {
  const { repository, number, title, state, author, changedAt, reasons, load } = line;
  const place = `${address}/r/${repository}/c/${number}`;
  const lines = load === null ? "" : ` ${inFigures(load)} lines to read.`;
  return x("entry", [
    x("id", `${place}#${changedAt}`),
    x("title", said(`${repository} ${number}: ${title} (${state})`)),
    x("updated", new Date(changedAt).toISOString()),
    x("author", [x("name", said(author))]),
    x("link", { href: place }),
    x("summary", said(`${reasons.join(" ")}${lines}`)),
  ]);
}

/** Signs that XML has no way to write, or that nobody sees, are shown by their number. */
function said(text: string): string {
  return visible(text).replace(/[^\t\n\r\x20-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, "\ufffd");
}
