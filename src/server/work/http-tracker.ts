import * as v from "valibot";
import { foundItems, type ItemNews, itemName, madeItem } from "@/core/doors/tracker/protocol";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { WorkItemView } from "@/core/views/keeping-view";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { addressOf, type TrackerSettings } from "../app/settings";
import type { MergedChange, Tracker } from "./tracker";

/** So long it may take, in milliseconds, and so much may it say, in bytes. */
const LONGEST = 5_000;
const MOST = 2_000_000;

/** A tracker of others, asked as docs/tracker.md says. Whoever keeps the installation names it: it may stand within the network. */
export class HttpTracker implements Tracker {
  readonly elsewhere: string;

  constructor(
    private readonly app: AppContext,
    private readonly settings: TrackerSettings,
    private readonly repository: string,
  ) {
    this.elsewhere = new URL(settings.address).host;
  }

  named(items: readonly string[]): Promise<Outcome<WorkItemView[]>> {
    const names = items.filter((item) => v.is(itemName, item));
    return names.length === 0 ? Promise.resolve(done([])) : this.items({ items: names.join(",") });
  }

  find(words: string): Promise<Outcome<WorkItemView[]>> {
    return this.items({ words });
  }

  private async items(query: Record<string, string>): Promise<Outcome<WorkItemView[]>> {
    const answer = await this.ask(`items?${new URLSearchParams(query)}`, foundItems);
    return answer.ok ? done(answer.value.items) : answer;
  }

  async add(person: Person, { title, body }: { title: string; body: string }): Promise<Outcome<string>> {
    if (title.trim() === "") return refuse("invalid", "A work item needs a title.");
    const made = await this.ask("items", madeItem, { title: title.trim(), body, by: by(person) });
    return made.ok ? done(made.value.item) : made;
  }

  async setState(person: Person, item: string, state: "open" | "done"): Promise<Outcome<null>> {
    return this.tell(item, { kind: "state", state, by: by(person) });
  }

  async merged(item: string, closes: boolean, { number, title, commit }: MergedChange): Promise<void> {
    const address = `${addressOf(this.app.settings)}/r/${this.repository}/c/${number}`;
    const told = await this.tell(item, { kind: "merged", closes, change: { number, title, address, commit } });
    // What the tracker does not want is not said again; one that is away is.
    if (!told.ok && told.refusal.code === "unavailable") throw new Error(told.refusal.reason);
    if (!told.ok) this.app.log.warn({ item, why: told.refusal.reason }, "the tracker refused what was merged");
  }

  private async tell(item: string, news: ItemNews): Promise<Outcome<null>> {
    if (!v.is(itemName, item)) return refuse("missing", "There is no such work item.");
    const told = await this.ask(`items/${item}`, v.unknown(), news);
    return told.ok ? done(null) : told;
  }

  /** Asks, and holds what is answered against its shape. Leads nowhere else, takes no longer than {@link LONGEST}. */
  private async ask<T>(path: string, shape: v.GenericSchema<unknown, T>, body?: object): Promise<Outcome<T>> {
    const away = (why: string) =>
      refuse("unavailable", `The tracker at ${this.elsewhere} cannot be asked now: ${why} Try again in a while.`);
    const address = `${this.settings.address}/repositories/${encodeURIComponent(this.repository)}/${path}`;
    let response: Response;
    let text: string;
    try {
      response = await fetch(address, {
        method: body ? "POST" : "GET",
        headers: {
          accept: "application/json",
          ...(body ? { "content-type": "application/json" } : {}),
          ...(this.settings.token ? { authorization: `Bearer ${this.settings.token}` } : {}),
        },
        ...(body ? { body: JSON.stringify(body) } : {}),
        redirect: "error",
        signal: AbortSignal.timeout(LONGEST),
      });
      text = await upTo(response, MOST);
    } catch (error) {
      const { name, cause } = error as { name: string; cause?: { message?: string } };
      this.app.log.warn({ err: error, address }, "the tracker could not be asked");
      return away(name === "TimeoutError" ? "it took longer than 5 seconds." : `${cause?.message ?? "it broke off"}.`);
    }
    if (response.status === 404) return refuse("missing", "The tracker has no such work item.");
    if (response.status >= 400 && response.status < 500) {
      const said = v.safeParse(v.object({ reason: v.string() }), parsed(text));
      const why = said.success ? said.output.reason.slice(0, 300) : `it answered ${response.status}.`;
      return refuse("invalid", `The tracker at ${this.elsewhere} refused it: ${why}`);
    }
    if (!response.ok) return away(`it answered ${response.status}.`);
    if (response.status === 204) return done(null as T);
    const read = v.safeParse(shape, parsed(text));
    if (read.success) return done(read.output);
    return away(`its answer is none that is known here (${v.getDotPath(read.issues[0]) ?? "no JSON"}).`);
  }
}

function by({ name, fullName, email }: Person) {
  return { name, fullName, email };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** The text of an answer; fails where there is more of it than anyone needs. */
async function upTo(response: Response, most: number): Promise<string> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  if (!response.body) return "";
  for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
    size += chunk.length;
    if (size > most) throw Object.assign(new Error("it is too long"), { cause: new Error("its answer is too long") });
    chunks.push(chunk);
  }
  return Buffer.concat(chunks).toString("utf8");
}
