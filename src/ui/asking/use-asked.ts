"use client";
import { type QueryKey, type UseQueryOptions, type UseQueryResult, useQuery } from "@tanstack/react-query";

type Shown = "error" | "isError" | "isFetching" | "isPlaceholderData";
/** What a part of a page knows of what it asked for. */
type Asked<T> = Pick<UseQueryResult<T>, Shown> & { data: T | undefined };

interface UseAsked {
  <T, U = T, K extends QueryKey = QueryKey>(
    options: UseQueryOptions<T, Error, U, K> & { initialData: T },
  ): Asked<U> & {
    data: U;
  };
  <T, U = T, K extends QueryKey = QueryKey>(options: UseQueryOptions<T, Error, U, K>): Asked<U>;
}

/**
 * What a part of a page asks the server for, and is told later. Where the page itself is made nobody waits for that, and each question would cost
 * more than the part that asks it: there it is told what the browser begins with, and no more.
 */
export const useAsked = (typeof window === "undefined" ? asMade : useQuery) as UseAsked;

/** What a question says before it is asked. */
export function asMade<T>({ initialData, enabled }: Pick<UseQueryOptions<T>, "initialData" | "enabled">): Asked<T> {
  const data = typeof initialData === "function" ? (initialData as () => T | undefined)() : initialData;
  return {
    data,
    error: null,
    isError: false,
    isFetching: data === undefined && enabled !== false,
    isPlaceholderData: false,
  };
}
