"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import type { EventName } from "@/core/review/events";
import type { ChangePlace } from "../../asking/ask";
import { addressOf } from "../../asking/ask";

/**
 * Hears what others do to the change set while it is open: threads and the gate follow at once, and a new revision is told of; what is
 * being read stays as it is until the reader says otherwise.
 */
export function useNews(view: ChangeView, place: ChangePlace, tell: (words: string) => void): void {
  const client = useQueryClient();
  const latest = useRef(view);
  latest.current = view;
  useEffect(() => {
    const source = new EventSource(addressOf("GET /api/repos/{repo}/changes/{number}/events", { parts: place }));
    // What happened before it was heard, be it between the page and this or while the server was away, is asked for.
    source.onopen = () => void client.invalidateQueries({ queryKey: ["change", latest.current.id] });
    source.onmessage = ({ data }) => {
      const { kind, by, says }: { kind: EventName; by: string; says: string | null } = JSON.parse(data);
      const now = latest.current;
      if (by === now.me.id) return;
      void client.invalidateQueries({ queryKey: ["change", now.id] });
      void client.invalidateQueries({ queryKey: ["progress", place] });
      if (kind === "revised")
        tell(`r${now.revisions.length + 1} has come. What you are reading stays as it is; J leads to what is new.`);
      else if (says) tell(`${says.charAt(0).toUpperCase()}${says.slice(1)}.`);
    };
    return () => source.close();
  }, [client, place, tell]);
}
