"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { ChangeView } from "@/core/api";
import type { EventName } from "@/core/review/events";
import { nameIn } from "./context";

const WORDS: Partial<Record<EventName, string>> = {
  reviewed: "sent a review",
  replied: "answered",
  resolved: "resolved a thread",
  reopened: "opened a thread again",
  edited: "edited a comment",
  merged: "merged it",
  withdrawn: "withdrew it",
  asked: "asked for a review",
  "asked-again": "asked to look again",
  readied: "says that it is ready",
  lifted: "lifted a request for changes",
  "opened-again": "opened it again",
  retargeted: "offers it to another branch",
  "merge-unasked": "could not merge it by itself: the brief says why",
};

/**
 * Hears what others do to the change set while it is open: threads and the gate follow at once, and a new revision is told of; what is
 * being read stays as it is until the reader says otherwise.
 */
export function useNews(view: ChangeView, address: string, tell: (words: string) => void): void {
  const client = useQueryClient();
  const latest = useRef(view);
  latest.current = view;
  useEffect(() => {
    const source = new EventSource(`${address}/events`);
    // What happened before it was heard, be it between the page and this or while the server was away, is asked for.
    source.onopen = () => void client.invalidateQueries({ queryKey: ["change", latest.current.id] });
    source.onmessage = ({ data }) => {
      const { kind, by }: { kind: EventName; by: string } = JSON.parse(data);
      const now = latest.current;
      if (by === now.me.id) return;
      void client.invalidateQueries({ queryKey: ["change", now.id] });
      void client.invalidateQueries({ queryKey: ["progress", address] });
      const words = WORDS[kind];
      if (kind === "revised")
        tell(`r${now.revisions.length + 1} has come. What you read stays; the ladder leads to it.`);
      else if (words) tell(`${nameIn(now, by)} ${words}.`);
    };
    return () => source.close();
  }, [client, address, tell]);
}
