"use client";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { Tooltip } from "radix-ui";
import { createContext, type ReactNode, useState } from "react";

/** Whether this installation shows the mail it would send: the demo does. */
export const MailShown = createContext(false);

/** What every page stands in. The nonce lets dialogs add the one style sheet they need under the page's policy. */
export function Providers({
  nonce,
  mail,
  children,
}: {
  nonce: string | undefined;
  mail: boolean;
  children: ReactNode;
}) {
  if (nonce && typeof window !== "undefined") setNonce(nonce);
  const [client] = useState(
    () =>
      new QueryClient({ defaultOptions: { queries: { staleTime: 30_000, retry: 1, refetchOnWindowFocus: false } } }),
  );
  return (
    <QueryClientProvider client={client}>
      <MailShown value={mail}>
        <Tooltip.Provider delayDuration={400}>{children}</Tooltip.Provider>
      </MailShown>
    </QueryClientProvider>
  );
}
