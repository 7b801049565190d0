import * as v from "valibot";
import { done, refuse } from "../../plain/outcome";
import { authorOrKeeper, notOpen } from "../guards";
import { id } from "../shapes";
import { commandKind, eventKind, type NewOf } from "./family";

/** Work items that are a reason for the change. */

export const workLinkEvents = {
  /** Merging ends the item where `closes` says so. */
  linked: eventKind(v.object({ item: v.string(), closes: v.boolean() }), {
    evolve: (change, { by, at, data }) => ({
      ...change,
      links: [...change.links.filter(({ item }) => item !== data.item), { ...data, by, at }],
    }),
    says: ({ by, data }, { name }) => `${data.item} linked by ${name(by)}`,
  }),
  unlinked: eventKind(v.object({ item: v.string() }), {
    evolve: (change, { data }) => ({ ...change, links: change.links.filter(({ item }) => item !== data.item) }),
    says: ({ by, data }, { name }) => `${data.item} unlinked by ${name(by)}`,
  }),
};

type New = NewOf<typeof workLinkEvents>;

const link = v.object({ kind: v.literal("link"), item: id, closes: v.boolean() });
const unlink = v.object({ kind: v.literal("unlink"), item: id });

export const workLinkRequests = [link, unlink] as const;

export const workLinkCommands = {
  link: commandKind<v.InferOutput<typeof link>, New>([], (change, { item, closes }, { actor }) => {
    const wrong = notOpen(change) ?? authorOrKeeper(change, actor, "link work items");
    if (wrong) return wrong;
    if (change.links.some((old) => old.item === item && old.closes === closes))
      return refuse("conflict", "It is linked already.");
    return done({ kind: "linked", data: { item, closes } });
  }),
  unlink: commandKind<v.InferOutput<typeof unlink>, New>([], (change, { item }, { actor }) => {
    const wrong = notOpen(change) ?? authorOrKeeper(change, actor, "link work items");
    if (wrong) return wrong;
    return change.links.some((old) => old.item === item)
      ? done({ kind: "unlinked", data: { item } })
      : refuse("conflict", "It is not linked.");
  }),
};
