import type { ReviewEvent } from "@/core/review/events";
import { kindOf } from "@/core/review/evolve";
import { newest } from "@/core/review/state";
import { loadChangeSet } from "@/store/log";
import { namesOf } from "../access/people";
import { nameOfRepository } from "../access/repositories";
import type { AppContext } from "../app/context";

/** What happened, as programs are told of it: by webhooks, and by the stream of events. */
export interface Message {
  /** `change-set.KIND` */
  type: string;
  /** As in RFC 3339. */
  timestamp: string;
  data: {
    event: string;
    by: string;
    /** A sentence without a full stop. */
    says: string;
    changeSet: {
      repository: string;
      number: number;
      title: string;
      state: string;
      source: string;
      target: string;
      address: string;
      revision: number;
      head: string;
    };
  };
}

/** Tells of an event, with its change set as it is now. `own` is our address, without a slash at its end. */
export async function messageOf({ db }: AppContext, event: ReviewEvent, own: string): Promise<Message> {
  const change = await loadChangeSet(db, event.stream);
  if (!change) throw new Error(`There is no change set ${event.stream}.`);
  const repository = await nameOfRepository(db, change.repository);
  const names = await namesOf(db);
  const name = (id: string) => names.get(id) ?? "someone";
  const address = `${own}/r/${repository}/c/${change.number}`;
  const { number, title, state, source, target } = change;
  return {
    type: `change-set.${event.kind}`,
    timestamp: new Date(event.at).toISOString(),
    data: {
      event: event.id,
      by: name(event.by),
      says: kindOf(event).says(event, { change, name, address }),
      changeSet: {
        repository: repository,
        number,
        title,
        state,
        source,
        target,
        address,
        revision: newest(change).number,
        head: newest(change).head,
      },
    },
  };
}
