"use client";
import { Key } from "../../key";
import { ACTION_IDS, ACTIONS, keyLabel, SUBJECTS } from "../actions/actions";
import { Sheet } from "./sheet";

/** Every key, by what it is for. */
export function KeysSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Sheet title="Keys" about="They work while nothing is being typed." open={open} onClose={onClose} wide>
      <div className="columns-2 gap-8 overflow-y-auto px-6 py-4 max-[700px]:columns-1">
        {SUBJECTS.map((subject) => (
          <section key={subject} className="mb-5" aria-label={subject}>
            <h3 className="mb-2 break-after-avoid font-serif font-semibold">{subject}</h3>
            <dl>
              {ACTION_IDS.filter((id) => ACTIONS[id].subject === subject && ACTIONS[id].keys.length > 0).map((id) => (
                <div key={id} className="grid break-inside-avoid grid-cols-[5.5rem_1fr] items-baseline gap-x-3 py-1">
                  <dt className="text-right">
                    <Key>{ACTIONS[id].keys.map(keyLabel).join(", ")}</Key>
                  </dt>
                  <dd>{ACTIONS[id].label}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Sheet>
  );
}
