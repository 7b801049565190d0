"use client";

interface Reviewer {
  id: string;
  fullName: string;
  /** The paths that the rule makes them a steward of, and that this changes; null for none. */
  steward: string | null;
}

/** Who is asked for a review as soon as it is open. Stewards of what changes stand first: the rule asks for them anyway. */
export function WhomToAsk({
  people,
  invited,
  onInvited,
}: {
  people: readonly Reviewer[];
  invited: readonly string[];
  onInvited: (invited: string[]) => void;
}) {
  const sorted = [...people].sort((a, b) => Number(b.steward !== null) - Number(a.steward !== null));
  return (
    <fieldset>
      <legend className="text-soft">Ask for a review at once</legend>
      <ul className="mt-1 grid max-h-48 grid-cols-2 gap-x-4 overflow-y-auto rounded-md border border-rule bg-paper px-3 py-2 max-[560px]:grid-cols-1">
        {sorted.map(({ id, fullName, steward }) => (
          <li key={id}>
            <label className="flex items-baseline gap-2 py-0.5">
              <input
                type="checkbox"
                className="accent-[var(--brass)]"
                checked={invited.includes(id)}
                onChange={(event) =>
                  onInvited(event.target.checked ? [...invited, id] : invited.filter((one) => one !== id))
                }
              />
              <span className="min-w-0">
                {fullName}
                {steward && <span className="text-soft"> · steward of {steward}</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
