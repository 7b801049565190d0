"use client";
import { type Rules, TAG_RIGHTS } from "@/core/rules/rule";
import { TAG_ACTIONS, TAG_MAKERS, tagWords } from "@/core/rules/rule-words";

/** Who may make, move and delete tags. What files lack, the server fills in: until then it is as every repository begins. */
export function TagRights({
  tags = { create: "contributor", move: "keeper", delete: "keeper" },
  onChange,
}: {
  tags?: Rules["tags"];
  onChange: ((tags: Rules["tags"]) => void) | null;
}) {
  return (
    <section aria-label="Tags" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Tags</h2>
      <ul className="mt-1 flex flex-wrap gap-x-8 gap-y-2">
        {(Object.keys(TAG_ACTIONS) as (keyof typeof TAG_ACTIONS)[]).map((action, i) => (
          <li key={action}>
            {onChange ? (
              <label className="flex items-center gap-2">
                <span className="whitespace-nowrap">are {TAG_ACTIONS[action]} by</span>
                <select
                  className="field"
                  value={tags[action]}
                  onChange={(event) =>
                    onChange({ ...tags, [action]: event.target.value as (typeof TAG_RIGHTS)[number] })
                  }
                >
                  {TAG_RIGHTS.map((right) => (
                    <option key={right} value={right}>
                      {TAG_MAKERS[right]}
                    </option>
                  ))}
                </select>
              </label>
            ) : (
              tagWords(tags)[i]
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
