"use client";
import { useEffect, useRef } from "react";

/** Every key of the workspace, in the order of the sheet that explains them. */
export const KEYS = [
  { key: "↓ ↑", does: "next, previous line" },
  { key: "D", does: "next difference, on into the next file" },
  { key: "Shift D", does: "previous difference" },
  { key: "F", does: "next file" },
  { key: "Shift F", does: "previous file" },
  { key: "M", does: "mark the file read and go to the next unread one" },
  { key: "N", does: "the next file that is not read" },
  { key: "U", does: "mark the file unread" },
  { key: "O", does: "open the hidden or folded lines nearest to where you are" },
  { key: "Shift O", does: "the whole file, or only what changed" },
  { key: "E", does: "open the block around the line, then the one around that" },
  { key: "Y", does: "what stood there before, and why it changed" },
  { key: "Z", does: "verify a fold: what proves it, and both sides whole" },
  { key: "V", does: "everything raw, or the quiet lines folded" },
  { key: "K", does: "this file in two columns, or in one" },
  { key: "Shift K", does: "all files: as it fits, in one column, in two" },
  { key: "L", does: "long lines wrapped, or in one" },
  { key: "Shift ↓ ↑", does: "select several lines" },
  { key: "W", does: "write a remark on the line or lines" },
  { key: "Shift W", does: "write a remark on the file as a whole" },
  { key: "H", does: "hide the remarks, or show them" },
  { key: "T", does: "next open thread" },
  { key: "R", does: "reply in the thread" },
  { key: "X", does: "resolve the thread, or open it again" },
  { key: "I", does: "then and now: what the lines of the thread said, and say" },
  { key: "Q", does: "next thread that waits for an answer of the author" },
  { key: "P", does: "take the suggestions you picked" },
  { key: "B", does: "the brief" },
  { key: "A", does: "all of the change set, or only what is new to you" },
  { key: "J", does: "the revisions, and from which to which you read" },
  { key: "C", does: "the next commit by itself" },
  { key: "Shift C", does: "the previous commit" },
  { key: "G", does: "one commit more along with those shown; with Shift one less" },
  { key: "/", does: "search in what changed, or in the changed files" },
  { key: "S", does: "send the review" },
  { key: "Ctrl K", does: "go to a file, or do something" },
  { key: "?", does: "this sheet" },
] as const;

type Bindings = Record<string, () => void>;

/**
 * Listens for keys while nothing is being typed and no dialog is open. Names are those of {@link KEYS} in lower case: "d", "shift d", "arrowdown". The
 * newest bindings are used without listening anew.
 */
export function useKeys(bindings: Bindings, enabled = true): void {
  const current = useRef(bindings);
  current.current = bindings;
  useEffect(() => {
    if (!enabled) return;
    const listen = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.altKey || event.metaKey || isTyping(event.target)) return;
      if (document.querySelector("[role=dialog],[role=menu]")) return;
      const handler = current.current[nameOf(event)];
      if (!handler) return;
      event.preventDefault();
      handler();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [enabled]);
}

function nameOf(event: KeyboardEvent): string {
  const key = event.key.length === 1 ? event.key.toUpperCase() : event.key;
  const letter = /^[A-Z]$/.test(key);
  return `${event.ctrlKey ? "ctrl " : ""}${event.shiftKey && (letter || key.length > 1) ? "shift " : ""}${key.toLowerCase()}`;
}

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}
