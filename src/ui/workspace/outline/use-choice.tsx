"use client";
import { visible } from "@/core/cautions/visible";
import type { UseLeftAlone } from "../navigation/use-left-alone";
import { Choice } from "./choice";
import { Cut } from "./cut";

/** A use of what changed that the change set leaves alone: what is used, and the file and line. */
export function UseChoice({ use, chosen, onClick }: { use: UseLeftAlone; chosen: boolean; onClick: () => void }) {
  return (
    <Choice chosen={chosen} onClick={onClick} title={sayUse(use)}>
      <span className="flex min-w-0 flex-1 items-baseline gap-2">
        <span className="max-w-[55%] flex-none truncate font-mono text-[12.5px]">{visible(use.name)}</span>
        <span className="flex min-w-0 text-soft">
          <Cut name={visible(use.path.slice(use.path.lastIndexOf("/") + 1))} />
        </span>
      </span>
      <span className="flex-none text-[12.5px] text-soft">{use.line}</span>
    </Choice>
  );
}

/** Such a use in words. */
export function sayUse({ name, path, line }: UseLeftAlone): string {
  return `${visible(name)} in ${visible(path)}, line ${line}: not in this change set`;
}
