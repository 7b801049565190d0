"use client";
import { type LoneKeys, useLoneKeys } from "../../focus/lone-keys";
import { Key } from "../../parts/key";
import { ACTION_IDS, ACTIONS, keyLabel, SUBJECTS } from "../actions/actions";
import { Sheet } from "./sheet";

const CHOICES: { how: LoneKeys; label: string }[] = [
  { how: "alone", label: "Single keys work by themselves" },
  { how: "alt", label: "Single keys work only with Alt" },
];
const COLUMNS = [SUBJECTS.slice(0, 2), SUBJECTS.slice(2)];

/** Every key, by what it is for. */
export function KeysSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [lone, setLone] = useLoneKeys();
  return (
    <Sheet title="Keys" about="They work while nothing is being typed." open={open} onClose={onClose} wide>
      <fieldset className="flex flex-none flex-wrap items-baseline gap-x-5 border-b border-rule px-6 py-2">
        <legend className="sr-only">How single keys are pressed</legend>
        {CHOICES.map(({ how, label }) => (
          <label key={how} className="flex items-baseline gap-1.5">
            <input type="radio" name="lone-keys" checked={lone === how} onChange={() => setLone(how)} />
            {label}
          </label>
        ))}
      </fieldset>
      <section
        aria-label="Keys by what they do"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what is scrolled is scrolled by keys, too
        tabIndex={0}
        className="grid grid-cols-2 gap-x-8 overflow-y-auto px-6 py-4 max-[700px]:grid-cols-1"
      >
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
                          {ACTIONS[id].keys.map((key) => (
                            <Key key={key}>{keyLabel(key)}</Key>
                          ))}
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
      </section>
    </Sheet>
  );
}
