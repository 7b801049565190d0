"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import type { ChangeView, NewAnchor, Unsent, UnsentRemark, UnsentRequest } from "@/core/api";
import type { CommandRequest } from "@/core/review/families";
import { ask, reasonFrom, Unreached } from "../ask";
import { newId } from "../new-id";
import { hasWords } from "./context";

/** The change set as the server last told it, the commands that change it, and the notes that only its reader sees. */
export function useChange(initial: ChangeView, tell: (words: string, undo?: () => void) => void) {
  const client = useQueryClient();
  const address = `/api/repos/${initial.repository}/changes/${initial.number}`;
  const key = useMemo(() => ["change", initial.id], [initial.id]);
  // Notes that were begun or dropped here and whose telling is on its way: an answer that was asked for before knows nothing of it.
  const underway = useRef({ begun: new Set<string>(), dropped: new Set<string>() });
  const withNotes = useCallback(
    (fresh: ChangeView): ChangeView => {
      const { begun, dropped } = underway.current;
      const known = new Set(fresh.unsent.map(({ id }) => id));
      const mine = client.getQueryData<ChangeView>(key)?.unsent ?? [];
      const missing = mine.filter(({ id }) => begun.has(id) && !known.has(id));
      return { ...fresh, unsent: [...fresh.unsent.filter(({ id }) => !dropped.has(id)), ...missing] };
    },
    [client, key],
  );
  const { data: view } = useQuery({
    queryKey: key,
    queryFn: async ({ signal }) => withNotes(await ask<ChangeView>(address, { signal })),
    initialData: initial,
    refetchInterval: ({ state }) => (state.data?.following ? 2_000 : false),
  });
  const [freshNote, setFreshNote] = useState<string | null>(null);

  const edit = useCallback(
    (change: (notes: Unsent[]) => Unsent[]) => {
      client.setQueryData<ChangeView>(key, (now) => now && { ...now, unsent: change(now.unsent) });
    },
    [client, key],
  );

  const attempts = useRef(new Map<string, string>());
  const command = useCallback(
    async (request: CommandRequest): Promise<string | null> => {
      // The key belongs to what is asked, not to the attempt: when an answer was lost on the way and a person asks the same again, it
      // happens once.
      const asked = JSON.stringify(request);
      const attempt = attempts.current.get(asked) ?? newId();
      attempts.current.set(asked, attempt);
      try {
        const body = { key: attempt, ...request };
        client.setQueryData(key, withNotes(await ask<ChangeView>(address, { method: "POST", body })));
        attempts.current.delete(asked);
        return null;
      } catch (error) {
        if (!(error instanceof Unreached)) attempts.current.delete(asked);
        return reasonFrom(error);
      }
    },
    [client, key, address, withNotes],
  );

  const saveNote = useCallback(
    async (note: Unsent, leaving = false): Promise<string | null> => {
      try {
        const kept = await ask<Unsent>(`${address}/unsent/${note.id}`, {
          method: "PUT",
          body: requestOf(note),
          keepalive: leaving,
        });
        edit((notes) =>
          notes.some(({ id }) => id === kept.id)
            ? notes.map((other) => (other.id === kept.id ? kept : other))
            : [...notes, kept],
        );
        return null;
      } catch (error) {
        return reasonFrom(error);
      }
    },
    [address, edit],
  );

  const begin = useCallback(
    (note: Unsent) => {
      edit((now) => [...now, note]);
      setFreshNote(note.id);
      underway.current.begun.add(note.id);
      void saveNote(note).then((refusal) => {
        underway.current.begun.delete(note.id);
        if (!refusal) return;
        edit((now) => now.filter(({ id }) => id !== note.id));
        tell(refusal);
      });
    },
    [edit, saveNote, tell],
  );

  const startNote = useCallback(
    (anchor: NewAnchor) => {
      const notes = client.getQueryData<ChangeView>(key)?.unsent ?? [];
      const same = notes.find((note) => note.kind === "remark" && samePlace(note, anchor));
      if (same) return setFreshNote(same.id);
      begin({
        ...{ kind: "remark", id: newId(), body: "", changedAt: Date.now(), weight: "settle", suggestions: [] },
        anchor: anchor.kind === "lines" ? { text: [], ...anchor } : anchor,
      });
    },
    [client, key, begin],
  );
  const startTask = useCallback(
    () => begin({ kind: "task", id: newId(), body: "", changedAt: Date.now(), assignee: null }),
    [begin],
  );

  const dropNote = useCallback(
    (note: Unsent) => {
      edit((notes) => notes.filter(({ id }) => id !== note.id));
      setFreshNote(null);
      const bring = () => void saveNote(note).then((refusal) => refusal && tell(refusal));
      const { dropped } = underway.current;
      dropped.add(note.id);
      const told = ask(`${address}/unsent/${note.id}`, { method: "DELETE" });
      const forget = () => dropped.delete(note.id);
      told.then(forget, forget);
      told.then(
        () =>
          hasWords(note) &&
          tell(note.kind === "task" ? "Deleted the unsent task." : "Deleted your unsent remark.", bring),
        (error) => {
          edit((notes) => [...notes, note]);
          tell(reasonFrom(error));
        },
      );
    },
    [address, edit, saveNote, tell],
  );

  const pick = useCallback(
    async (thread: string, suggestion: string, picked: boolean) => {
      const mark = (on: boolean) =>
        client.setQueryData<ChangeView>(key, (now) => {
          if (!now) return now;
          const others = now.picked.filter((id) => id !== suggestion);
          return { ...now, picked: on ? [...others, suggestion] : others };
        });
      mark(picked);
      try {
        await ask(`${address}/picks`, { method: "PUT", body: { thread, suggestion, picked } });
        // The message of the commit is made of what is picked.
        await client.invalidateQueries({ queryKey: key });
      } catch (error) {
        mark(!picked);
        tell(reasonFrom(error));
      }
    },
    [client, key, address, tell],
  );

  return useMemo(
    () => ({ view, address, command, saveNote, startNote, startTask, dropNote, pick, freshNote }),
    [view, address, command, saveNote, startNote, startTask, dropNote, pick, freshNote],
  );
}

function requestOf(note: Unsent): UnsentRequest {
  if (note.kind === "closing") return { kind: "closing", body: note.body };
  if (note.kind === "task") return { kind: "task", body: note.body, assignee: note.assignee };
  const { kind, body, weight, anchor } = note;
  const suggestions = note.suggestions.map(({ id, start, end, lines }) => ({ id, start, end, lines }));
  return { kind, body, weight, anchor, suggestions };
}

/** Whether a remark stands exactly where another would: then that one is opened. */
function samePlace({ anchor }: UnsentRemark, other: NewAnchor): boolean {
  if (anchor.kind !== other.kind || anchor.revision !== other.revision) return false;
  if (anchor.kind === "commit") return other.kind === "commit" && anchor.commit === other.commit;
  if (anchor.kind === "change" || other.kind === "change" || other.kind === "commit") return anchor.kind === other.kind;
  if (anchor.blob !== other.blob || anchor.side !== other.side || anchor.path !== other.path) return false;
  if (anchor.kind === "file" || other.kind === "file") return anchor.kind === other.kind;
  const part = (lines: { part?: { from: number; to: number } }) => `${lines.part?.from}-${lines.part?.to}`;
  return anchor.start === other.start && anchor.end === other.end && part(anchor) === part(other);
}
