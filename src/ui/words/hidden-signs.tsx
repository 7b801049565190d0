"use client";
import { useId } from "react";
import { hiddenIn } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";

/**
 * Says under a field what of the text in it does not show, which a field of the browser cannot draw: what is sent is this text, and some of it may be written
 * by who wants to hide something. Nothing while all of it shows.
 */
export function HiddenSigns({
  text,
  what = "words",
  onText,
}: {
  text: string;
  what?: "words" | "code";
  onText: (text: string) => void;
}) {
  const id = useId();
  const { signs, without } = hiddenIn(text, what);
  if (signs.length === 0) return null;
  const count = signs.reduce((sum, sign) => sum + sign.count, 0);
  return (
    <p role="status" className="flex flex-wrap items-baseline gap-x-2 text-[13px] text-clay">
      <span id={id}>
        {counted(count, "sign")} above {count === 1 ? "does" : "do"} not show:{" "}
        {signs.map(({ code, count: times }) => (times === 1 ? code : `${code} (${times} times)`)).join(", ")}.
      </span>
      <button type="button" className="quiet-button min-h-[24px]" aria-describedby={id} onClick={() => onText(without)}>
        take the {count === 1 ? "sign" : "signs"} out
      </button>
    </p>
  );
}
