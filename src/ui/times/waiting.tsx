import type { Sample } from "@/core/house/times/times";
import { Changes, Question } from "./question";
import { spanWords } from "./spans";

const SHOWN = 20;

/** What waits for a first word now, the longest first. */
export function Waiting({ waiting }: { waiting: readonly Sample[] }) {
  return (
    <Question
      question="What waits for a first answer now?"
      about="To these nobody but their author has said anything yet; what waits longest stands first."
      empty={waiting.length === 0}
    >
      <ul className="divide-y divide-rule rounded-md border border-rule bg-paper">
        {waiting.slice(0, SHOWN).map(({ change, value }) => (
          <li key={`${change.repository} ${change.number}`} className="flex items-baseline gap-4 px-4 py-1.5">
            <div className="min-w-0 flex-1">
              <Changes changes={[change]} />
            </div>
            <span className="flex-none text-soft">for {spanWords(value)}</span>
          </li>
        ))}
      </ul>
      {waiting.length > SHOWN && <p className="mt-1 text-soft">And {waiting.length - SHOWN} more.</p>}
    </Question>
  );
}
