"use client";
import { createContext, useContext } from "react";
import type { LineAnchor } from "@/core/anchor/anchor";
import type { ChangeView, CommandRequest, Unsent } from "@/core/api";

/** Where a new remark is to stand; the server takes the text of the lines down itself. */
export type NewAnchor = Omit<LineAnchor, "kind" | "text">;

/** What the parts of the workspace share. */
export interface WorkspaceState {
  view: ChangeView;
  /** Carries a command out; gives the reason when it is refused, else null. */
  command: (request: CommandRequest) => Promise<string | null>;
  startNote: (anchor: NewAnchor) => void;
  saveNote: (note: Pick<Unsent, "id" | "anchor">, body: string, leaving?: boolean) => Promise<string | null>;
  dropNote: (note: Unsent) => void;
  /** The note that has just been begun, to be typed into at once. */
  freshNote: string | null;
  activeThread: string | null;
  setActiveThread: (id: string | null) => void;
  /** Opens the file a remark is in and shows it. */
  goTo: (anchor: LineAnchor, thread: string | null) => void;
  /** Says something in the footing for a while. */
  tell: (words: string, undo?: () => void) => void;
}

export const WorkspaceContext = createContext<WorkspaceState | null>(null);

export function useWorkspace(): WorkspaceState {
  const state = useContext(WorkspaceContext);
  if (!state) throw new Error("Only parts of the workspace can use its state.");
  return state;
}

/** A person's name, or "You", to begin a sentence with. */
export function nameIn(view: ChangeView, id: string): string {
  return id === view.me.id ? "You" : (view.people[id]?.fullName ?? "Someone");
}

/** A person's name, or "you", within a sentence. */
export function byName(view: ChangeView, id: string): string {
  return id === view.me.id ? "you" : nameIn(view, id);
}
