"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import type { ChangeView, CommandRequest, Unsent } from "@/core/api";
import { ask, reasonFrom } from "../ask";
import { newId } from "../new-id";
import type { NewAnchor } from "./context";

/** The change set as the server last told it, the commands that change it, and the notes that only its reader sees. */
export function useChange(initial: ChangeView, tell: (words: string, undo?: () => void) => void) {
  const client = useQueryClient();
  const address = `/api/repos/${initial.repository}/changes/${initial.number}`;
  const key = useMemo(() => ["change", initial.id], [initial.id]);
  const { data: view } = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => ask<ChangeView>(address, { signal }),
    initialData: initial,
  });
  const [freshNote, setFreshNote] = useState<string | null>(null);

  const edit = useCallback(
    (change: (notes: Unsent[]) => Unsent[]) => {
      client.setQueryData<ChangeView>(key, (now) => now && { ...now, unsent: change(now.unsent) });
    },
    [client, key],
  );

  const command = useCallback(
    async (request: CommandRequest): Promise<string | null> => {
      try {
        client.setQueryData(key, await ask<ChangeView>(address, { method: "POST", body: request }));
        return null;
      } catch (error) {
        return reasonFrom(error);
      }
    },
    [client, key, address],
  );

  const saveNote = useCallback(
    async ({ id, anchor }: Pick<Unsent, "id" | "anchor">, body: string, leaving = false): Promise<string | null> => {
      try {
        const kept = await ask<Unsent>(`${address}/unsent/${id}`, {
          method: "PUT",
          body: { anchor, body },
          keepalive: leaving,
        });
        edit((notes) =>
          notes.some((note) => note.id === id) ? notes.map((note) => (note.id === id ? kept : note)) : [...notes, kept],
        );
        return null;
      } catch (error) {
        return reasonFrom(error);
      }
    },
    [address, edit],
  );

  const startNote = useCallback(
    (anchor: NewAnchor) => {
      const notes = client.getQueryData<ChangeView>(key)?.unsent ?? [];
      const same = notes.find(
        (note) =>
          note.anchor?.blob === anchor.blob && note.anchor.side === anchor.side && note.anchor.start === anchor.start,
      );
      if (same) return setFreshNote(same.id);
      const note: Unsent = {
        id: newId(),
        anchor: { kind: "lines", text: [], ...anchor },
        body: "",
        changedAt: Date.now(),
      };
      edit((now) => [...now, note]);
      setFreshNote(note.id);
      void saveNote(note, "").then((refusal) => {
        if (!refusal) return;
        edit((now) => now.filter(({ id }) => id !== note.id));
        tell(refusal);
      });
    },
    [client, key, edit, saveNote, tell],
  );

  const dropNote = useCallback(
    (note: Unsent) => {
      edit((notes) => notes.filter(({ id }) => id !== note.id));
      setFreshNote(null);
      const bring = () => void saveNote(note, note.body).then((refusal) => refusal && tell(refusal));
      ask(`${address}/unsent/${note.id}`, { method: "DELETE" }).then(
        () => note.body.trim() !== "" && tell("Deleted your unsent remark.", bring),
        (error) => {
          edit((notes) => [...notes, note]);
          tell(reasonFrom(error));
        },
      );
    },
    [address, edit, saveNote, tell],
  );

  return { view, address, command, saveNote, startNote, dropNote, freshNote };
}
