"use client";
import { queryOptions, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { newest } from "@/core/review/state";
import type { FileAt, ReadingFile } from "@/core/views/api";
import { ask } from "../../asking/ask";

/** All files of a commit, asked for once. */
export function treeQuery(repository: string, commit: string) {
  return queryOptions({
    queryKey: ["tree", repository, commit],
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/tree", { parts: { repo: repository }, query: { at: commit }, signal }),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Files of the newest revision that did not change and were opened all the same, and the way to open one; it tells whether there is such a file. */
export function useOtherFiles(view: ChangeView): [ReadingFile[], (path: string) => Promise<boolean>] {
  const client = useQueryClient();
  const [files, setFiles] = useState<ReadingFile[]>([]);
  const { head } = newest(view);
  const open = useCallback(
    async (path: string) => {
      const tree = await client.fetchQuery(treeQuery(view.repository, head)).catch(() => []);
      const found = tree.find((file) => file.path === path);
      if (!found) return false;
      setFiles((now) => [...now.filter((file) => file.path !== path), unchanged(found)]);
      return true;
    },
    [client, view.repository, head],
  );
  return [files, open];
}

function unchanged({ path, id, mode }: FileAt): ReadingFile {
  return {
    path,
    oldId: id,
    newId: id,
    oldMode: mode,
    newMode: mode,
    oldPath: null,
    copy: false,
    similarity: null,
    binary: false,
    generated: null,
    counts: [0, 0],
    toRead: 0,
    quiet: {},
    read: "read",
    facts: [],
    cautions: [],
    lock: null,
  };
}
