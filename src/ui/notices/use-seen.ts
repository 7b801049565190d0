"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { ask } from "../asking/ask";
import { unreadQuery } from "./use-unread";

/** Noting whom something concerns takes the server a moment, in milliseconds. */
const MOMENT = 2_000;

/** Who looks at a change set has read what was told of it, also what is told meanwhile; a page in the background is not looked at. */
export function useSeen({ repository, number, reviews, threads, revisions }: ChangeView): void {
  const client = useQueryClient();
  const size = `${revisions.length} ${reviews.length} ${threads.reduce((sum, { comments }) => sum + comments.length, 0)}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time something came
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const note = async () => {
      const body = { of: { repository, number }, read: true };
      client.setQueryData(unreadQuery.queryKey, await ask("PUT /api/notices", { body }));
    };
    const look = () => {
      clearTimeout(timer);
      if (document.visibilityState !== "visible") return;
      document.removeEventListener("visibilitychange", look);
      timer = setTimeout(() => void note().catch(() => undefined), MOMENT);
    };
    document.addEventListener("visibilitychange", look);
    look();
    return () => {
      clearTimeout(timer);
      document.removeEventListener("visibilitychange", look);
    };
  }, [client, repository, number, size]);
}
