"use client";
import { createContext, useContext } from "react";
import type { Anchor } from "@/core/anchor/anchor";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import type { CommandRequest } from "@/core/review/families/table";
import type { NewAnchor, Unsent } from "@/core/views/api";
import type { ChangePlace } from "../../asking/ask";

/** What the parts of the workspace share, in three contexts: by how often they change. */

/** The change set, and what can be done with it. Changes when something is said or done in it. */
export interface ChangeState {
  view: ChangeView;
  /** Where it is asked about. */
  place: ChangePlace;
  /** Carries a command out; gives the reason when it is refused, else null. */
  command: (request: CommandRequest) => Promise<string | null>;
  /** Begins a remark; the server takes the text of the lines down itself. */
  startNote: (anchor: NewAnchor) => void;
  startTask: () => void;
  /** Keeps a note as it is written; gives the reason when that is refused, else null. */
  saveNote: (note: Unsent, leaving?: boolean) => Promise<string | null>;
  /** A note is being written somewhere: what is there is kept before it is sent. Gives what is called when it is left; what could not be kept by then still counts. */
  writing: (note: string, by: Writing) => () => void;
  dropNote: (note: Unsent) => void;
  /** Picks a suggestion to be taken, or puts it back. */
  pick: (thread: string, suggestion: string, picked: boolean) => Promise<void>;
  /** The note that has just been begun, to be typed into at once. */
  freshNote: string | null;
  /** It was typed into, or left: it does not ask for the focus any longer. */
  leaveNote: (id: string) => void;
}

/** What writes a note. */
export interface Writing {
  /** Keeps what is written now; gives the reason when that is refused, else null. */
  keep: () => Promise<string | null>;
  /** What is not kept yet; null where all is. */
  pending: () => object | null;
  /** Goes on with what was not kept elsewhere. */
  take: (pending: object) => void;
  /** Lets go of what is not kept: someone else goes on with it. */
  cancel: () => void;
}

/** Where the reader is. Changes as they go from file to file and from thread to thread. */
export interface Attention {
  /** The revision up to which is read; null while another state is shown. */
  shown: number | null;
  activeThread: string | null;
  setActiveThread: (id: string | null) => void;
  /** Opens the file (or the brief) a remark is in and shows it. */
  goTo: (anchor: Anchor, thread: string | null) => void;
}

/** Says something in the footing for a while. Never changes. */
export type Tell = (words: string, undo?: () => void) => void;

/** What is being said just now, with the way to undo it; null for nothing. */
export const NoticeContext = createContext<{ words: string; undo?: () => void } | null>(null);
export const ChangeContext = createContext<ChangeState | null>(null);
export const AttentionContext = createContext<Attention | null>(null);
export const TellContext = createContext<Tell | null>(null);

export const useChangeSet = () => given(useContext(ChangeContext));
export const useAttention = () => given(useContext(AttentionContext));
export const useTell = () => given(useContext(TellContext));

function given<T>(state: T | null): T {
  if (state === null) throw new Error("Only parts of the workspace can use its state.");
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
