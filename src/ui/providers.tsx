"use client";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { Tooltip } from "radix-ui";
import { type ReactNode, useState } from "react";

/** What every page stands in. The nonce lets dialogs add the one style sheet they need under the page's policy. */
export function Providers({ nonce, children }: { nonce: string | undefined; children: ReactNode }) {
  if (nonce && typeof window !== "undefined") setNonce(nonce);
  const [client] = useState(
    () =>
      new QueryClient({ defaultOptions: { queries: { staleTime: 30_000, retry: 1, refetchOnWindowFocus: false } } }),
  );
  return (
    <QueryClientProvider client={client}>
      <Tooltip.Provider delayDuration={400}>{children}</Tooltip.Provider>
    </QueryClientProvider>
  );
}
