import type { StrangerView } from "@/core/views/neighbours-view";

/** People of other servers and of clones, and who each of them is here. */
export function Strangers({
  strangers,
  people,
  onJoin,
}: {
  strangers: readonly StrangerView[];
  people: readonly string[];
  onJoin: (elsewhere: string, person: string | null) => Promise<void>;
}) {
  if (strangers.length === 0) return null;
  return (
    <section aria-label="People of other servers" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Their people</h2>
      <p className="mb-3 text-soft">Who is the same person here is shown as that person from then on.</p>
      <ul className="divide-y divide-rule rounded-md border border-rule bg-paper">
        {strangers.map(({ name, fullName, joined }) => (
          <li key={name} className="flex flex-wrap items-center gap-x-4 gap-y-1 px-4 py-2">
            <span className="min-w-0 grow basis-60">
              <span className="font-semibold">{fullName}</span> <span className="text-soft">{name}</span>
            </span>
            <label className="flex items-center gap-2 text-soft">
              is here
              <select
                className="field text-ink"
                aria-label={`Who ${fullName} is here`}
                value={joined ?? ""}
                onChange={(event) => void onJoin(name, event.target.value || null)}
              >
                <option value="">nobody</option>
                {people.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
          </li>
        ))}
      </ul>
    </section>
  );
}
