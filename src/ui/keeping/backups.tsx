"use client";
import { useQueryClient } from "@tanstack/react-query";
import { counted } from "@/core/plain/words";
import type { BackupsView } from "@/core/views/setting-up-view";
import { ask, reasonFrom } from "../asking/ask";
import { useAsked } from "../asking/use-asked";
import { useCarried } from "../asking/use-carried";
import { SureButton } from "../parts/sure-button";
import { When } from "../parts/when";
import { sizeOf } from "./size";

const KEY = ["backups"];

/** Backups: made here or by command, listed, and taken away. */
export function Backups() {
  const client = useQueryClient();
  const { carry, ending } = useCarried();
  const { data, error } = useAsked({
    queryKey: KEY,
    queryFn: ({ signal }) => ask("GET /api/keeping/backups", { signal }),
    refetchInterval: ({ state }) => (state.data?.making != null ? 1_000 : false),
  });
  const show = (now: BackupsView) => void client.setQueryData(KEY, now);
  const begin = () => carry(async () => show(await ask("POST /api/keeping/backups")), "");
  const drop = (name: string) =>
    carry(
      async () => show(await ask("DELETE /api/keeping/backups/{name}", { parts: { name } })),
      "The backup is taken away.",
    );
  return (
    <section aria-label="Backup">
      <h2 className="font-serif text-xl font-semibold">Backup</h2>
      <p>Everything as it is at one moment, also while people work.</p>
      {ending}
      {error && (
        <p role="alert" className="text-clay">
          {reasonFrom(error)}
        </p>
      )}
      <p className="mt-2 flex flex-wrap items-baseline gap-3">
        <button type="button" className="button" disabled={data?.making != null} onClick={() => void begin()}>
          Make one now
        </button>
        <span role="status" className="text-soft">
          {data?.making ?? ""}
        </span>
      </p>
      {data?.problem && (
        <p role="alert" className="mt-2 text-clay">
          {data.problem}
        </p>
      )}
      {data && data.backups.length > 0 && (
        <ul className="mt-2 divide-y divide-rule rounded-md border border-rule bg-paper">
          {data.backups.map(({ name, madeAt, repositories, size }) => (
            <li key={name} className="flex flex-wrap items-baseline gap-x-4 px-4 py-1.5">
              <span className="min-w-0 flex-1">
                <When at={madeAt} /> · {counted(repositories, "repository", "repositories")}, {sizeOf(size)}
                <code className="block break-all font-mono text-[12px] text-soft">{name}</code>
              </span>
              <SureButton about={name} yes="yes, for good" onYes={() => void drop(name)}>
                take away …
              </SureButton>
            </li>
          ))}
        </ul>
      )}
      {data && (
        <p className="mt-2 text-[13px] text-soft">
          They lie in <code className="break-all font-mono">{data.folder}</code>: copy them to another disk. Elsewhere
          at once: <code className="font-mono">npm run lens -- backup FOLDER</code>; back again:{" "}
          <code className="font-mono">lens restore FOLDER</code>.
        </p>
      )}
    </section>
  );
}
