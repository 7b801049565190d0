"use client";
import { ask } from "../asking/ask";
import { useAsked } from "../asking/use-asked";

/** Whatever fits some words, on all of the installation; nothing for fewer than two characters. */
export function useFound(words: string, enabled = true) {
  return useAsked({
    queryKey: ["anything", words],
    enabled: enabled && words.length >= 2,
    queryFn: ({ signal }) => ask("GET /api/find", { query: { words }, signal }),
    staleTime: 10_000,
    retry: false,
  });
}
