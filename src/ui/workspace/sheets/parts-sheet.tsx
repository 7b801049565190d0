"use client";
import { Command } from "cmdk";
import { useDeferredValue, useState } from "react";
import { visible } from "@/core/cautions/visible";
import type { MarkedPart, PartMark } from "@/core/definitions/marked-outline";
import { counted } from "@/core/plain/words";
import type { Points } from "@/core/reading/points";
import type { ReadingFile } from "@/core/views/api";
import { CommandSheet } from "../../parts/command-sheet";
import { useMarkedOutline } from "../state/use-outline";

const MOST = 400;

const MARKS: Record<PartMark, { sign: string; look: string }> = {
  same: { sign: "", look: "" },
  changed: { sign: "±", look: "text-brass" },
  added: { sign: "+", look: "text-teal" },
  removed: { sign: "−", look: "text-clay" },
  moved: { sign: "⇄", look: "text-soft" },
};

/** What a file is made of, with what the change made of each part: by typing one goes there. */
export function PartsSheet({
  open,
  file,
  points,
  onGo,
  onClose,
}: {
  open: boolean;
  file: ReadingFile;
  points: Points;
  onGo: (path: string, side: "old" | "new", line: number) => void;
  onClose: () => void;
}) {
  return open ? <Parts {...{ file, points, onGo, onClose }} /> : null;
}

function Parts({ file, points, onGo, onClose }: Omit<Parameters<typeof PartsSheet>[0], "open">) {
  const outline = useMarkedOutline(points, file);
  const [typed, setTyped] = useState("");
  const words = typed.trim().toLowerCase();
  const sought = useDeferredValue(words);
  const fitting = (outline ?? []).filter(({ name, mark }) => `${name} ${mark}`.toLowerCase().includes(sought));
  const shown = fitting.slice(0, MOST);
  return (
    <CommandSheet
      title="What this file is made of"
      look="top-[9vh] w-[94vw] max-w-2xl"
      items={shown.map(itemOf)}
      settled={outline !== null && sought === words}
      open
      onClose={onClose}
    >
      <Command.Input
        value={typed}
        onValueChange={setTyped}
        placeholder="Go to a part of this file: by its name, or changed, added, removed, moved …"
        className="w-full border-b border-rule bg-paper px-5 py-3 text-[16px] outline-none"
      />
      <p role="status" className="px-5 pt-2 text-[13px] text-soft">
        {say(outline, fitting.length)}
      </p>
      <Command.List className="max-h-[62vh] overflow-y-auto p-2">
        {shown.map((part) => (
          <Command.Item
            key={itemOf(part)}
            value={itemOf(part)}
            onSelect={() => {
              onClose();
              onGo(part.side === "old" ? (file.oldPath ?? file.path) : file.path, part.side, part.line + 1);
            }}
            className="flex min-h-6 cursor-pointer items-baseline gap-3 rounded px-3 py-0.5 data-[selected=true]:bg-brass-wash"
          >
            <span className={`w-4 flex-none text-center font-mono font-semibold ${MARKS[part.mark].look}`} aria-hidden>
              {MARKS[part.mark].sign}
            </span>
            <span
              className={`min-w-0 truncate font-mono text-[12.5px] ${part.mark === "removed" ? "line-through" : ""}`}
              style={{ paddingLeft: sought === "" ? Math.min(part.within.length, 6) * 16 : 0 }}
            >
              {visible(part.name)}
            </span>
            <span className="min-w-0 flex-1 truncate text-[13px] text-soft">
              {part.kind}
              {sought !== "" && part.within.length > 0 && ` in ${visible(part.within.join(" › "))}`}
            </span>
            <span className="flex-none text-[13px] text-soft">
              {part.mark === "same" ? "" : `${part.mark}, `}line {part.line + 1}
            </span>
          </Command.Item>
        ))}
      </Command.List>
    </CommandSheet>
  );
}

function itemOf({ side, line, name, kind }: MarkedPart): string {
  return `${side} ${line} ${kind} ${name}`;
}

function say(outline: readonly MarkedPart[] | null, fitting: number): string {
  if (!outline) return "Reading it …";
  if (outline.length === 0) return "Nothing in this file has a name that is known here.";
  if (fitting === 0) return "No part of it has that in its name.";
  const touched = outline.filter(({ mark }) => mark !== "same").length;
  const rest = fitting > MOST ? ` The first ${MOST} are listed.` : "";
  return `${counted(fitting, "part")}; of all ${touched === 0 ? "none is" : touched === 1 ? "one is" : `${touched} are`} touched by the change.${rest}`;
}
