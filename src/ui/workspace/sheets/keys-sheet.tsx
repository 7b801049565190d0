"use client";
import { Key } from "../../key";
import { ACTION_IDS, ACTIONS, keyLabel, SUBJECTS } from "../actions/actions";
import { Sheet } from "./sheet";

const COLUMNS = [SUBJECTS.slice(0, 2), SUBJECTS.slice(2)];

/** Every key, by what it is for. */
export function KeysSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Sheet title="Keys" about="They work while nothing is being typed." open={open} onClose={onClose} wide>
      <div className="grid grid-cols-2 gap-x-8 overflow-y-auto px-6 py-4 max-[700px]:grid-cols-1">
        {COLUMNS.map((subjects) => (
          <div key={subjects[0]}>
            {subjects.map((subject) => (
              <section key={subject} className="mb-5" aria-label={subject}>
                <h3 className="mb-2 font-serif font-semibold">{subject}</h3>
                <dl>
                  {ACTION_IDS.filter((id) => ACTIONS[id].subject === subject && ACTIONS[id].keys.length > 0).map(
                    (id) => (
                      <div key={id} className="grid grid-cols-[5.5rem_1fr] items-baseline gap-x-3 py-0.5">
                        <dt className="text-right">
                          <Key>{ACTIONS[id].keys.map(keyLabel).join(", ")}</Key>
                        </dt>
                        <dd>{ACTIONS[id].label}</dd>
                      </div>
                    ),
                  )}
                </dl>
              </section>
            ))}
          </div>
        ))}
      </div>
    </Sheet>
  );
}
