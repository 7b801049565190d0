import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { type ReactNode, useEffect } from "react";
import { type Mock, vi } from "vitest";
import type { ChangeAnswer } from "@/core/doors/endpoints/change-parts";
import { wholeView } from "@/core/doors/endpoints/change-view";
import type { CommandRequest } from "@/core/review/families/table";
import { ctrlEnter } from "../focus/ctrl-enter";
import { Actions } from "../workspace/actions/use-actions";
import {
  type Attention,
  AttentionContext,
  ChangeContext,
  type ChangeState,
  TellContext,
} from "../workspace/state/context";

/** Wraps in what every page stands in, for components and hooks that ask: what keeps the answers of the server, and Ctrl Enter. */
export function Asking({ children }: { children: ReactNode }) {
  useEffect(ctrlEnter, []);
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return <QueryClientProvider client={client}>{children}</QueryClientProvider>;
}

/** Shows parts of the workspace of a change set, and tells what they do with it. Commands succeed unless said otherwise. */
export function showInWorkspace(
  answer: ChangeAnswer,
  ui: ReactNode,
  more: Partial<ChangeState> & Partial<Attention> = {},
) {
  const command = vi.fn<(request: CommandRequest) => Promise<string | null>>(async () => null);
  const tell = vi.fn<(words: string, undo?: () => void) => void>();
  const notes = {
    saveNote: vi.fn(async () => null),
    writing: vi.fn(() => () => undefined),
    dropNote: vi.fn(),
    startNote: vi.fn(),
    startTask: vi.fn(),
    leaveNote: vi.fn(),
  };
  const pick = vi.fn(async () => {});
  const goTo = vi.fn();
  const setActiveThread = vi.fn();
  const { shown = 1, activeThread = null, ...rest } = more;
  const attention: Attention = { shown, activeThread, setActiveThread, goTo };
  const place = { repo: "harbour", number: "3" };
  const wrapped = (from: ChangeAnswer) => {
    const change: ChangeState = { view: wholeView(from), place, command, ...notes, pick, freshNote: null, ...rest };
    return (
      <Asking>
        <Actions>
          <TellContext value={tell}>
            <ChangeContext value={change}>
              <AttentionContext value={attention}>{ui}</AttentionContext>
            </ChangeContext>
          </TellContext>
        </Actions>
      </Asking>
    );
  };
  const { rerender } = render(wrapped(answer));
  return {
    user: userEvent.setup(),
    ...{ command, tell, pick, goTo, setActiveThread, ...notes },
    /** The change set is told anew. */
    again: (next: ChangeAnswer) => rerender(wrapped(next)),
  };
}

export type Told = Mock<(words: string, undo?: () => void) => void>;
