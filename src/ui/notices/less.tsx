"use client";
import type { Way, Wishes } from "@/core/doors/news/wishes";

/** How one is told, in words. */
export const WORDS: Record<Way, string> = { mail: "by mail, and here", page: "here only", neither: "not at all" };

type Quieter = Wishes["less"][number];

/** Repositories of which one wants to hear less, whatever it is. */
export function Less({
  repositories,
  less,
  onLess,
}: {
  repositories: string[];
  less: Quieter[];
  onLess: (less: Quieter[]) => void;
}) {
  const others = repositories.filter((name) => !less.some(({ repository }) => repository === name));
  const set = (repository: string, way: string) => {
    const rest = less.filter((one) => one.repository !== repository);
    onLess(way === "mail" ? rest : [...rest, { repository, way: way as Quieter["way"] }]);
  };
  return (
    <fieldset className="grid gap-2">
      <legend className="pb-1 text-[13px] text-soft">
        Repositories of which you want to hear less, whatever it is
      </legend>
      {less.map(({ repository, way }) => (
        <label key={repository} className="flex flex-wrap items-center gap-3">
          {repository}
          <select className="field w-auto" value={way} onChange={(event) => set(repository, event.target.value)}>
            <option value="page">{WORDS.page}</option>
            <option value="neither">{WORDS.neither}</option>
            <option value="mail">as said above</option>
          </select>
        </label>
      ))}
      {others.length > 0 && (
        <label className="flex flex-wrap items-center gap-3 text-soft">
          Less of
          <select
            className="field w-auto text-ink"
            value=""
            onChange={(event) => event.target.value && set(event.target.value, "page")}
          >
            <option value="">choose …</option>
            {others.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
      )}
    </fieldset>
  );
}
