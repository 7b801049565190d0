"use client";
import { queryOptions } from "@tanstack/react-query";
import { ask } from "../asking/ask";

/** Between two looks at what is new, in milliseconds. */
const EVERY = 20_000;

/** How many notices are not read: asked again now and then, and when one comes back to the page. */
export const unreadQuery = queryOptions({
  queryKey: ["unread notices"],
  queryFn: ({ signal }) => ask("GET /api/notices/count", { signal }),
  refetchInterval: EVERY,
  refetchOnWindowFocus: true,
  retry: false,
});
