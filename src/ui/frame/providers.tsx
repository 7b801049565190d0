"use client";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { Tooltip } from "radix-ui";
import { createContext, type ReactNode, useEffect, useState } from "react";
import type { Me } from "@/core/views/api";
import { SignInAgain } from "../access/sign-in-again";
import { ctrlEnter } from "../focus/ctrl-enter";
import { pressEarlyKey } from "../focus/early-key";
import { keepFocus } from "../focus/keep-focus";
import { whatIsRead } from "../focus/what-is-read";
import { DraftOwner, forgetOldDrafts } from "../kept/use-draft";
import { LookShown } from "./use-look";

/** Whether this installation shows the mail it would send: the demo does. */
export const MailShown = createContext(false);

/** Who is signed in; null for nobody. */
export const MeShown = createContext<Me | null>(null);

/** What every page stands in. The nonce lets dialogs add the one style sheet they need under the page's policy. */
export function Providers({
  nonce,
  mail,
  owner,
  me,
  look,
  children,
}: {
  nonce: string | undefined;
  mail: boolean;
  /** Whose drafts are shown. */
  owner: string;
  me: Me | null;
  /** How code is drawn for who looks, as it is kept. */
  look: string;
  children: ReactNode;
}) {
  if (nonce && typeof window !== "undefined") setNonce(nonce);
  const [client] = useState(
    () =>
      new QueryClient({ defaultOptions: { queries: { staleTime: 30_000, retry: 1, refetchOnWindowFocus: false } } }),
  );
  useEffect(forgetOldDrafts, []);
  useEffect(() => keepFocus(whatIsRead), []);
  useEffect(ctrlEnter, []);
  // Comes behind the effects of all that stands in it: whatever listens to keys does so by now.
  useEffect(pressEarlyKey, []);
  return (
    <QueryClientProvider client={client}>
      <DraftOwner value={owner}>
        <MailShown value={mail}>
          <MeShown value={me}>
            <LookShown value={look}>
              <Tooltip.Provider delayDuration={400}>
                {children}
                <SignInAgain />
              </Tooltip.Provider>
            </LookShown>
          </MeShown>
        </MailShown>
      </DraftOwner>
    </QueryClientProvider>
  );
}
