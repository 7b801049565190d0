import { createServer, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import * as v from "valibot";
import { type ItemNews, itemNews, newItem, type TrackedItem } from "@/core/doors/tracker/protocol";

/** A tracker of others for trying things out, on this machine alone: it speaks docs/tracker.md, and keeps its items in memory. */
export interface TrackerStandIn {
  address: string;
  /** By repository, and by what they are called. */
  items: Map<string, Map<string, TrackedItem>>;
  /** What it was told of items, in order. */
  told: { item: string; news: ItemNews }[];
  close: () => Promise<void>;
}

const MOST_FOUND = 50;
const LARGEST = 1_000_000;

export async function startTrackerStandIn({
  token,
  port = 0,
}: {
  token: string;
  port?: number;
}): Promise<TrackerStandIn> {
  const standIn: TrackerStandIn = {
    address: "",
    items: new Map(),
    told: [],
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
  const server = createServer(async (request, response) => {
    const { status, body } = await answer(standIn, token, request);
    response.writeHead(status, { "content-type": "application/json" }).end(JSON.stringify(body ?? null));
  });
  await new Promise<void>((resolve) => server.listen(port, "127.0.0.1", resolve));
  standIn.address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return standIn;
}

interface Said {
  status: number;
  body?: unknown;
}

async function answer(standIn: TrackerStandIn, token: string, request: IncomingMessage): Promise<Said> {
  if (request.headers.authorization !== `Bearer ${token}`) return { status: 401, body: { reason: "Show the token." } };
  const url = new URL(request.url ?? "/", standIn.address);
  const [, repository, item] = /^\/repositories\/([^/]+)\/items(?:\/([^/]+))?$/.exec(url.pathname) ?? [];
  if (!repository) return { status: 404 };
  const name = decodeURIComponent(repository);
  const items = standIn.items.get(name) ?? new Map<string, TrackedItem>();
  standIn.items.set(name, items);
  if (request.method === "GET") return { status: 200, body: { items: found(items, url.searchParams) } };
  const body = JSON.parse(await textOf(request));
  if (item === undefined) return make(standIn, items, body);
  const known = items.get(item);
  const news = v.safeParse(itemNews, body);
  if (!known) return { status: 404 };
  if (!news.success) return { status: 400, body: { reason: "That is no news of an item." } };
  standIn.told.push({ item, news: news.output });
  items.set(item, after(known, news.output));
  return { status: 204 };
}

function make(standIn: TrackerStandIn, items: Map<string, TrackedItem>, body: unknown): Said {
  const given = v.safeParse(newItem, body);
  if (!given.success) return { status: 400, body: { reason: "An item needs a title." } };
  const { title, body: text, by } = given.output;
  const item = `HARBOUR-${items.size + 1}`;
  const address = `${standIn.address}/browse/${item}`;
  const rest = { person: by.fullName, closedBy: null, changedAt: Date.now(), address };
  items.set(item, { item, title, body: text, state: "open", ...rest });
  return { status: 201, body: { item } };
}

/** An item as it is once it has heard something. Hearing the same again changes nothing. */
function after(item: TrackedItem, news: ItemNews): TrackedItem {
  if (news.kind === "state") return { ...item, state: news.state, closedBy: null, changedAt: Date.now() };
  if (!news.closes || item.state === "done") return item;
  return { ...item, state: "done", closedBy: news.change.number, changedAt: Date.now() };
}

function found(items: ReadonlyMap<string, TrackedItem>, query: URLSearchParams): TrackedItem[] {
  const names = query.get("items")?.split(",");
  if (names) return names.flatMap((name) => items.get(name) ?? []);
  const words = (query.get("words") ?? "").trim().toLowerCase();
  const fits = ({ item, title, body }: TrackedItem) => `${item} ${title} ${body}`.toLowerCase().includes(words);
  const rank = ({ state }: TrackedItem) => (state === "open" ? 0 : 1);
  return [...items.values()]
    .filter(fits)
    .sort((a, b) => rank(a) - rank(b) || b.changedAt - a.changedAt)
    .slice(0, MOST_FOUND);
}

async function textOf(request: IncomingMessage): Promise<string> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request) {
    size += (chunk as Buffer).length;
    if (size > LARGEST) break;
    chunks.push(chunk as Buffer);
  }
  return size > LARGEST ? "null" : Buffer.concat(chunks).toString("utf8");
}
