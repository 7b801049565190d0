"use client";
import { createContext, useContext } from "react";
import type { Anchor } from "@/core/anchor/anchor";
import type { NewAnchor, Unsent } from "@/core/api";
import type { ChangeView } from "@/core/endpoints/change-view";
import type { CommandRequest } from "@/core/review/families";
import type { ChangePlace } from "../ask";

/** What the parts of the workspace share. */
export interface WorkspaceState {
  view: ChangeView;
  /** Where it is asked about. */
  place: ChangePlace;
  /** The revision up to which is read; null while another state is shown. */
  shown: number | null;
  /** Carries a command out; gives the reason when it is refused, else null. */
  command: (request: CommandRequest) => Promise<string | null>;
  /** Begins a remark; the server takes the text of the lines down itself. */
  startNote: (anchor: NewAnchor) => void;
  startTask: () => void;
  /** Keeps a note as it is written; gives the reason when that is refused, else null. */
  saveNote: (note: Unsent, leaving?: boolean) => Promise<string | null>;
  dropNote: (note: Unsent) => void;
  /** Picks a suggestion to be taken, or puts it back. */
  pick: (thread: string, suggestion: string, picked: boolean) => Promise<void>;
  /** The note that has just been begun, to be typed into at once. */
  freshNote: string | null;
  activeThread: string | null;
  setActiveThread: (id: string | null) => void;
  /** Opens the file (or the brief) a remark is in and shows it. */
  goTo: (anchor: Anchor, thread: string | null) => void;
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

/** Whether a note says anything that could be sent. */
export function hasWords(note: Unsent): boolean {
  return note.body.trim() !== "" || (note.kind === "remark" && note.suggestions.length > 0);
}
