"use client";
import type { ReactNode } from "react";

/** One line of the outline that can be chosen. */
export function Choice({
  chosen,
  onClick,
  title,
  indent = 0,
  narrow = false,
  children,
}: {
  chosen: boolean;
  onClick: () => void;
  title?: string;
  /** How far it stands in, in steps. */
  indent?: number;
  /** Where only a mark is drawn. */
  narrow?: boolean;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      title={title}
      aria-current={chosen ? "true" : undefined}
      onClick={onClick}
      style={indent > 0 ? { paddingLeft: 16 + Math.min(indent, 8) * 12 } : undefined}
      className={`flex h-full w-full items-center gap-2 ${narrow ? "px-2" : "px-4"} text-left text-[13.5px] ${chosen ? "bg-brass-wash shadow-[inset_3px_0_0_var(--brass)]" : "hover:bg-well"}`}
    >
      {children}
    </button>
  );
}
