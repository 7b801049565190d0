"use client";
import { Key } from "../../parts/key";

/** Stands where the margin would, so that nobody wonders where the remarks are. */
export function HiddenRemarks({ onShow }: { onShow: () => void }) {
  return (
    <aside aria-label="Remarks, hidden" className="w-9 flex-none border-l border-rule bg-page pt-2 text-center">
      <button
        type="button"
        className="text-faint hover:text-brass"
        title="The remarks are hidden: H shows them"
        onClick={onShow}
      >
        <span aria-hidden>✎̸</span>
        <span className="sr-only">Show the remarks</span>
        <span className="mt-1 block">
          <Key>H</Key>
        </span>
      </button>
    </aside>
  );
}
