"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import type { ChangeAnswer, ChangePart, MinePart } from "@/core/doors/endpoints/change-parts";
import { wholeView } from "@/core/doors/endpoints/change-view";
import { shortened } from "@/core/plain/words";
import type { CommandRequest } from "@/core/review/families/table";
import type { NewAnchor, Unsent, UnsentRemark, UnsentRequest } from "@/core/views/api";
import { ask, type ChangePlace, reasonFrom, Unreached } from "../../asking/ask";
import { InTurn } from "../../asking/in-turn";
import { newId } from "../../asking/new-id";
import { useAsked } from "../../asking/use-asked";
import { hasWords, type Writing } from "./context";
import { NotesWritten } from "./notes-written";

/** So long, in milliseconds, is waited for a note to be kept, since what is typed next waits for it: then it is tried again. */
const PATIENCE = 20_000;
/** So many characters are shown of what was lost. */
const SHOWN = 200;
const AT = "/api/repos/{repo}/changes/{number}" as const;

/** The parts of a change set as they are kept here: what its log tells is always there. */
type Parts = ChangeAnswer & { change: ChangePart };

/** The change set as the server last told it, the commands that change it, and the notes that only its reader sees. */
export function useChange(initial: ChangeAnswer, tell: (words: string, undo?: () => void) => void) {
  const client = useQueryClient();
  const { id, repository, number } = (initial.change as ChangePart) ?? {};
  const place: ChangePlace = useMemo(() => ({ repo: repository, number: String(number) }), [repository, number]);
  const key = useMemo(() => ["change", id], [id]);
  // What was done here and whose telling is on its way: an answer that was asked for before knows nothing of it.
  const underway = useRef({ begun: new Set<string>(), dropped: new Set<string>(), picks: new Map<string, Picking>() });
  const kept = useCallback(() => client.getQueryData<Parts>(key), [client, key]);
  const joined = useCallback(
    (fresh: ChangeAnswer): Parts => {
      const { begun, dropped, picks } = underway.current;
      const before = kept();
      // Ids of events sort by time: what is older than what is shown was on its way too long.
      if (before && fresh.change && fresh.change.last < before.change.last) return before;
      const known = new Set(fresh.mine.unsent.map(({ id }) => id));
      const missing = (before?.mine.unsent ?? []).filter(({ id }) => begun.has(id) && !known.has(id));
      const unsent = [...fresh.mine.unsent.filter(({ id }) => !dropped.has(id)), ...missing];
      // Asked for with what is here already, only what came since was told.
      const change = fresh.change ?? (before?.change as ChangePart);
      return {
        ...fresh,
        change,
        mine: { ...fresh.mine, unsent, picked: withPicks(fresh.mine.picked, picks.values()) },
      };
    },
    [kept],
  );
  const query = useCallback(() => ({ have: kept()?.change.last }), [kept]);
  const { data: parts } = useAsked({
    queryKey: key,
    queryFn: async ({ signal }) => joined(await ask(`GET ${AT}`, { parts: place, query: query(), signal })),
    initialData: initial as Parts,
    refetchInterval: ({ state }) => (state.data?.around.following ? 2_000 : false),
  });
  const view = useMemo(() => wholeView(parts), [parts]);
  const [freshNote, setFreshNote] = useState<string | null>(null);

  // An answer that was asked for before something was done here must not undo it: it is let go, and asked for again when that is told.
  const owed = useRef(false);
  const put = useCallback(
    (change: (now: Parts | undefined) => Parts | undefined) => {
      if (client.isFetching({ queryKey: key }) > 0) owed.current = true;
      void client.cancelQueries({ queryKey: key }, { revert: false, silent: true });
      client.setQueryData<Parts>(key, change);
    },
    [client, key],
  );
  const editMine = useCallback(
    (change: (mine: MinePart) => MinePart) => put((now) => now && { ...now, mine: change(now.mine) }),
    [put],
  );
  const edit = useCallback(
    (change: (notes: Unsent[]) => Unsent[]) => editMine((mine) => ({ ...mine, unsent: change(mine.unsent) })),
    [editMine],
  );

  const settle = useCallback(() => {
    if (!owed.current) return;
    owed.current = false;
    void client.invalidateQueries({ queryKey: key });
  }, [client, key]);

  const isNote = useRef<(id: string) => boolean>(() => false);
  isNote.current = (note) => kept()?.mine.unsent.some(({ id }) => id === note) ?? false;
  const lost = useRef<(pending: { body?: string }) => void>(() => undefined);
  lost.current = ({ body = "" }) =>
    tell(`The note is gone, and what you wrote last with it: “${shortened(body, SHOWN)}”`);
  const [notes] = useState(
    () =>
      new NotesWritten(
        (note) => isNote.current(note),
        (pending) => lost.current(pending),
      ),
  );
  const writing = useCallback((note: string, by: Writing) => notes.begin(note, by), [notes]);

  const attempts = useRef(new Map<string, string>());
  const command = useCallback(
    async (request: CommandRequest): Promise<string | null> => {
      // What was typed a moment ago goes with it, and nothing that is still on its way comes back as a note afterwards.
      if (request.kind === "send-review" || request.kind === "send-one") {
        const refusal = await notes.keep(request.kind === "send-one" ? request.note : null);
        if (refusal) return refusal;
      }
      // The key belongs to what is asked, not to the attempt: when an answer was lost on the way and a person asks the same again, it
      // happens once.
      const asked = JSON.stringify(request);
      const attempt = attempts.current.get(asked) ?? newId();
      attempts.current.set(asked, attempt);
      try {
        const body = { key: attempt, ...request };
        const answer = await ask(`POST ${AT}`, { parts: place, query: query(), body });
        put(() => joined(answer));
        settle();
        attempts.current.delete(asked);
        return null;
      } catch (error) {
        if (!(error instanceof Unreached)) attempts.current.delete(asked);
        return reasonFrom(error);
      }
    },
    [place, joined, query, put, settle, notes],
  );

  const saveNote = useCallback(
    async (note: Unsent, leaving = false): Promise<string | null> => {
      const tellIt = () =>
        ask(`PUT ${AT}/unsent/{id}`, {
          parts: { ...place, id: note.id },
          body: requestOf(note),
          keepalive: leaving,
          signal: AbortSignal.timeout(PATIENCE),
        });
      try {
        // Nothing runs any more once the page is left.
        const saved = await (leaving ? tellIt() : notes.told.run(note.id, tellIt));
        edit((notes) =>
          notes.some(({ id }) => id === saved.id)
            ? notes.map((other) => (other.id === saved.id ? saved : other))
            : [...notes, saved],
        );
        settle();
        return null;
      } catch (error) {
        return reasonFrom(error);
      }
    },
    [place, edit, settle, notes],
  );

  const leaveNote = useCallback((id: string) => setFreshNote((now) => (now === id ? null : now)), []);
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
      const notes = kept()?.mine.unsent ?? [];
      const same = notes.find((note) => note.kind === "remark" && samePlace(note, anchor));
      if (same) return setFreshNote(same.id);
      begin({
        kind: "remark",
        id: newId(),
        body: "",
        changedAt: Date.now(),
        weight: "settle",
        suggestions: [],
        anchor: anchor.kind === "lines" ? { text: [], ...anchor } : anchor,
      });
    },
    [kept, begin],
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
      const told = notes.told.run(note.id, () =>
        ask(`DELETE ${AT}/unsent/{id}`, { parts: { ...place, id: note.id }, keepalive: true }),
      );
      const forget = () => {
        dropped.delete(note.id);
        settle();
      };
      told.then(forget, forget);
      told.then(
        () =>
          hasWords(note) &&
          tell(
            `Deleted your unsent ${note.kind === "closing" ? "closing word" : note.kind === "reply" ? "answer" : note.kind}.`,
            bring,
          ),
        (error) => {
          edit((notes) => [...notes, note]);
          tell(reasonFrom(error));
        },
      );
    },
    [place, edit, saveNote, tell, settle, notes],
  );

  const [picksTold] = useState(() => new InTurn());
  const pick = useCallback(
    async (thread: string, suggestion: string, picked: boolean) => {
      const { picks } = underway.current;
      const mark = (made: Picking) => editMine((mine) => ({ ...mine, picked: withPicks(mine.picked, [made]) }));
      const made = { suggestion, picked };
      picks.set(suggestion, made);
      mark(made);
      const tellIt = () => ask(`PUT ${AT}/picks`, { parts: place, body: { thread, ...made }, keepalive: true });
      // One after the other in a thread, so that of a pick and its taking back the later one holds; others do not wait for them.
      const refusal = await picksTold.run(thread, tellIt).then(() => null, reasonFrom);
      if (picks.get(suggestion) === made) {
        picks.delete(suggestion);
        if (refusal) mark({ suggestion, picked: !picked });
      }
      if (refusal) tell(refusal);
      // The message of the commit is made of what is picked; and after a refusal what holds is what the server has.
      if (picks.size === 0) await client.invalidateQueries({ queryKey: key });
    },
    [client, key, place, tell, editMine, picksTold],
  );

  return useMemo(
    () => ({
      view,
      place,
      command,
      saveNote,
      writing,
      startNote,
      startTask,
      dropNote,
      pick,
      freshNote,
      leaveNote,
    }),
    [view, place, command, saveNote, writing, startNote, startTask, dropNote, pick, freshNote, leaveNote],
  );
}

function requestOf(note: Unsent): UnsentRequest {
  if (note.kind === "closing") return { kind: "closing", body: note.body };
  if (note.kind === "task") return { kind: "task", body: note.body, assignee: note.assignee };
  if (note.kind === "reply") {
    const { kind, body, thread, resolves } = note;
    return { kind, body, thread, resolves };
  }
  const { kind, body, weight, anchor } = note;
  const suggestions = note.suggestions.map(({ id, start, end, lines }) => ({ id, start, end, lines }));
  return { kind, body, weight, anchor, suggestions };
}

/** A suggestion that is picked here, or put back. */
interface Picking {
  suggestion: string;
  picked: boolean;
}

/** The ids of what is picked, with what was picked and put back since. */
function withPicks(picked: string[], picks: Iterable<Picking>): string[] {
  const all = new Set(picked);
  for (const { suggestion, picked: on } of picks) on ? all.add(suggestion) : all.delete(suggestion);
  return [...all];
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
