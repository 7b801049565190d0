"use client";
import Link from "next/link";
import { useState } from "react";
import { counted } from "@/core/plain/words";
import {
  DELETED_DAYS,
  type KeptRepository,
  type RepositoryRequest,
  type TakingView,
} from "@/core/views/setting-up-view";
import { ask } from "../asking/ask";
import { useCarried } from "../asking/use-carried";
import { When } from "../parts/when";
import { RepositoryCare } from "./repository-care";
import { TakeIn } from "./take-in";

/** The repositories of an installation: taken in, described, opened to all, archived, deleted and brought back. */
export function Repositories({
  kept,
  onKept,
  initialTakings,
}: {
  kept: KeptRepository[];
  onKept: (repositories: KeptRepository[]) => void;
  initialTakings: TakingView[];
}) {
  const [open, setOpen] = useState("");
  const { carry, ending } = useCarried();
  const change = (name: string, request: RepositoryRequest, words: string) =>
    carry(
      async () => onKept(await ask("POST /api/keeping/repositories/{name}", { parts: { name }, body: request })),
      words,
    );
  const lookAgain = () => void carry(async () => onKept(await ask("GET /api/keeping/repositories")), "");
  const here = kept.filter(({ deletedAt }) => deletedAt === null);
  const gone = kept.filter(({ deletedAt }) => deletedAt !== null);
  return (
    <>
      <TakeIn initial={initialTakings} begin={kept.length === 0} onTaken={lookAgain} />
      {ending}
      {here.length > 0 && (
        <ul className="divide-y divide-rule rounded-md border border-rule bg-paper">
          {here.map((one) => (
            <li key={one.name} className="px-4 py-2">
              <div className="flex flex-wrap items-baseline gap-x-4">
                <Link
                  prefetch={false}
                  href={`/r/${one.name}`}
                  className={`font-semibold underline decoration-rule underline-offset-2 hover:decoration-2 ${one.archivedAt === null ? "" : "text-soft"}`}
                >
                  {one.name}
                </Link>
                <span className="min-w-0 flex-1 text-soft max-[600px]:order-last max-[600px]:basis-full">
                  {standing(one)}
                </span>
                <button
                  type="button"
                  className="quiet-button"
                  aria-expanded={open === one.name}
                  onClick={() => setOpen(open === one.name ? "" : one.name)}
                >
                  {open === one.name ? "fold" : "change"}
                </button>
              </div>
              {one.origin?.problem && <p className="text-clay">It could not be fetched: {one.origin.problem}</p>}
              {open === one.name && (
                <RepositoryCare
                  key={one.name}
                  repository={one}
                  onCarry={(request, words) => void change(one.name, request, words)}
                />
              )}
            </li>
          ))}
        </ul>
      )}
      {gone.length > 0 && (
        <section aria-label="Deleted" className="mt-8">
          <h2 className="font-serif text-xl font-semibold">Deleted</h2>
          <p className="text-soft">Each can be brought back for {DELETED_DAYS} days; then it is removed for ever.</p>
          <ul className="mt-2 divide-y divide-rule rounded-md border border-rule bg-paper">
            {gone.map(({ name, deletedAt }) => (
              <li key={`${name} ${deletedAt}`} className="flex items-baseline gap-4 px-4 py-2">
                <span className="min-w-0 flex-1">
                  <span className="text-soft line-through">{name}</span>{" "}
                  <span className="text-[13px] text-soft">
                    <When at={deletedAt ?? 0} />
                  </span>
                </span>
                <button
                  type="button"
                  className="quiet-button"
                  onClick={() => void change(name, { kind: "restore" }, `${name} is back.`)}
                >
                  bring back
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function standing({ description, openToAll, archivedAt, open, people, branches }: KeptRepository): string {
  const words = [description, branches.length === 0 ? "empty" : ""];
  if (archivedAt !== null) words.push("archived");
  words.push(open === 0 ? "nothing open" : `${counted(open, "change set")} open`);
  words.push(
    openToAll
      ? "all who sign in may read it"
      : people.length === 0
        ? "administrators only"
        : counted(people.length, "person", "people"),
  );
  return words.filter(Boolean).join(" · ");
}
