"use client";
import { useCallback, useRef } from "react";
import type { CommandRequest } from "@/core/review/families/table";
import { useChangeSet, useTell } from "./context";

/** A command, what is said when it was done, and what takes it back. */
export interface Deed {
  request: CommandRequest;
  says: string;
  /** Left out where nothing takes it back. */
  undo?: CommandRequest;
}

/** Carries out what a button stands for, and says what came of it, with the way back; or why it was refused. Tells whether it was done. */
export function useDo(): (deed: Deed) => Promise<boolean> {
  const { command } = useChangeSet();
  const tell = useTell();
  // What takes it back is asked of the change set as it is by then.
  const latest = useRef(command);
  latest.current = command;
  return useCallback(
    async ({ request, says, undo }) => {
      const refusal = await latest.current(request);
      if (refusal) {
        tell(refusal);
        return false;
      }
      const back = async (way: CommandRequest) => tell((await latest.current(way)) ?? "It is as it was.");
      tell(says, undo && (() => void back(undo)));
      return true;
    },
    [tell],
  );
}
