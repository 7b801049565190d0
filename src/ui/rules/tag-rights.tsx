"use client";
import { type Rules, TAG_RIGHTS } from "@/core/rules/rule";

const DEEDS = { create: "made", move: "moved", delete: "deleted" } as const;
const BY = { contributor: "contributors and keepers", keeper: "keepers only", nobody: "nobody" } as const;

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
        {(Object.keys(DEEDS) as (keyof typeof DEEDS)[]).map((action) => (
          <li key={action}>
            {onChange ? (
              <label className="flex items-center gap-2">
                <span className="whitespace-nowrap">are {DEEDS[action]} by</span>
                <select
                  className="field"
                  value={tags[action]}
                  onChange={(event) =>
                    onChange({ ...tags, [action]: event.target.value as (typeof TAG_RIGHTS)[number] })
                  }
                >
                  {TAG_RIGHTS.map((right) => (
                    <option key={right} value={right}>
                      {BY[right]}
                    </option>
                  ))}
                </select>
              </label>
            ) : (
              `They are ${DEEDS[action]} by ${BY[tags[action]]}.`
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
