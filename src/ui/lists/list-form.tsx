"use client";
import { useId, useState } from "react";
import { type KnownValues, valuesOf, writePart } from "@/core/house/lists/query";
import { KEYS, type Key } from "@/core/house/lists/words";

/** The same by choosing: a word, and what is to be said of it. */
export function ListForm({ known, onAdd }: { known: KnownValues; onAdd: (part: string) => void }) {
  const field = useId();
  const [key, setKey] = useState<Key>("state");
  const word = KEYS.get(key)!;
  const values = valuesOf(word.values, known);
  const [value, setValue] = useState("");
  const said = values && !values.includes(value) ? (values[0] ?? "") : value;
  return (
    <details>
      <summary className="cursor-pointer text-slate underline underline-offset-2 hover:decoration-2">
        by choosing
      </summary>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label className="grid gap-1">
          <span className="text-soft">What</span>
          <select className="field" value={key} onChange={(event) => setKey(event.target.value as Key)}>
            {[...KEYS.values()].map((one) => (
              <option key={one.key} value={one.key}>
                {one.key}
              </option>
            ))}
          </select>
        </label>
        <label className="grid gap-1" htmlFor={field}>
          <span className="text-soft">is</span>
          {values ? (
            <select id={field} className="field" value={said} onChange={(event) => setValue(event.target.value)}>
              {values.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          ) : (
            <input id={field} className="field" value={value} onChange={(event) => setValue(event.target.value)} />
          )}
        </label>
        <button type="button" className="button" disabled={said === ""} onClick={() => onAdd(writePart(key, said))}>
          Add it
        </button>
        <p className="w-full text-[13px] text-soft">{word.about}</p>
      </div>
    </details>
  );
}
