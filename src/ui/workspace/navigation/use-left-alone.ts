"use client";
import { useMemo, useRef } from "react";
import { goesOn } from "@/core/review/state";
import { useAsked } from "../../asking/use-asked";
import { useActions } from "../actions/use-actions";
import { leftAloneQuery } from "../brief/elsewhere";
import { type Tell, useChangeSet } from "../state/context";

/** A use of a definition that the change set makes another one, in a line that it leaves alone. */
export interface UseLeftAlone {
  name: string;
  path: string;
  /** 1-based. */
  line: number;
}

const NONE: UseLeftAlone[] = [];

/** The uses that the newest revision leaves alone, and going from one to the next. */
export function useLeftAlone(jump: (path: string, side: "old" | "new", line: number) => void, tell: Tell) {
  const { view, place } = useChangeSet();
  const { data } = useAsked({ ...leftAloneQuery(place, view.revisions.length), enabled: goesOn(view) });
  const uses = useMemo(
    () =>
      data?.items.flatMap(({ name, uses: of }) => of.map(({ path, line }): UseLeftAlone => ({ name, path, line }))) ??
      NONE,
    [data],
  );
  const at = useRef(-1);
  const step = (by: 1 | -1) => {
    at.current = (at.current + by + uses.length) % uses.length;
    const { name, path, line } = uses[at.current];
    jump(path, "new", line);
    tell(`Use ${at.current + 1} of ${uses.length} that is not in this change set: ${name}.`);
  };
  useActions({ "next-left-alone": uses.length > 0 ? () => step(1) : null });
  return uses;
}
