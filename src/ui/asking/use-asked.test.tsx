import { QueryClient, QueryClientProvider, type UseQueryOptions } from "@tanstack/react-query";
import { cleanup, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, expect, it } from "vitest";
import { asMade, useAsked } from "./use-asked";

afterEach(cleanup);

const never = () => new Promise<string>(() => undefined);
const QUESTIONS: Record<string, Partial<UseQueryOptions<string>>> = {
  "nothing known": {},
  "not to be asked yet": { enabled: false },
  "known already": { initialData: "six berths" },
  "known by a function": { initialData: () => "six berths" },
  "known, and not to be asked": { initialData: "six berths", enabled: false },
  "what was known before": { placeholderData: (before) => before },
};

/** Otherwise what the browser draws first would not be what it was sent. */
it.each(Object.keys(QUESTIONS))("says where pages are made what a browser begins with: %s", (name) => {
  const options = { staleTime: 30_000, ...QUESTIONS[name], queryKey: [name], queryFn: never };
  const begun: unknown[] = [];
  renderHook(() => begun.push({ ...useAsked(options) }), { wrapper: InClient });
  expect(begun[0]).toMatchObject(asMade(options));
});

function InClient({ children }: { children: ReactNode }) {
  return <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>;
}
