import type { GateFacts } from "../rules/facts";
import type { MergeKind, Rule } from "../rules/rule";
import type { Actor } from "./checks";
import type { ReviewCommand } from "./decide-review";
import type { ThreadCommand } from "./decide-thread";
import type { Checked, Invited, Kind, RevisionFacts, Taken } from "./events";

/** What a person asks for. Ids in it were made by the caller, so that deciding stays free of chance. */
export type Command =
  | { kind: "describe"; title: string; description: string }
  | {
      kind: "revise";
      revision: RevisionFacts;
      /** The number it is to have: what is told of it was found out about the one before. */
      number?: number;
      pusher?: string;
      how?: Kind;
      same?: boolean;
      resultSame?: boolean;
    }
  | { kind: "retarget"; target: string; revision: RevisionFacts; same: boolean; after?: number }
  | { kind: "take"; revision: RevisionFacts; taken: Taken[] }
  | ReviewCommand
  | ThreadCommand
  | { kind: "finish-task" | "reopen-task"; task: string }
  | { kind: "ask"; invited: Invited[] }
  | { kind: "unask"; invited: Invited }
  | { kind: "ask-again"; people: string[] }
  | { kind: "step-back" }
  | { kind: "lift"; person: string; reason: string }
  | { kind: "ready" | "draft" }
  | { kind: "withdraw" }
  | { kind: "open-again" }
  | { kind: "report"; checked: Checked }
  | { kind: "link"; item: string; closes: boolean }
  | { kind: "unlink"; item: string }
  | { kind: "merge-when-open"; how: MergeKind; message: string | null }
  | { kind: "merge-not"; why: string }
  | {
      kind: "merge";
      revision: number;
      commit: string;
      target: string;
      message: string;
      /** A merge commit unless said otherwise. */
      how?: MergeKind;
      /** Why the gate is passed although it is not met. */
      passing?: string;
    };

/** What deciding needs to know beyond the change set itself. */
export interface Facts {
  actor: Actor;
  rule: Rule;
  gate: GateFacts;
}
