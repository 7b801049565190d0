import { visible } from "@/core/cautions/visible";
import { counted, inFigures } from "@/core/plain/words";
import { Cut } from "./cut";

/** A folder of the outline, which opens and closes, with how much there is left to read in it. */
export function FolderChoice({
  name,
  depth,
  open,
  left,
  onClick,
}: {
  name: string;
  depth: number;
  open: boolean;
  /** Lines. */
  left: number;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      aria-expanded={open}
      title={`${visible(name)}: ${left > 0 ? `${counted(left, "line")} left to read` : "nothing left to read"}`}
      onClick={onClick}
      className="flex h-full w-full items-center gap-1.5 px-4 text-left text-[13.5px] text-soft hover:bg-well"
      style={{ paddingLeft: 16 + Math.min(depth, 8) * 12 }}
    >
      <span aria-hidden className="w-3 flex-none">
        {open ? "▾" : "▸"}
      </span>
      <span className="flex min-w-0 flex-1">
        <Cut name={visible(name)} />
      </span>
      {!open && left > 0 && <span className="flex-none text-[12.5px] font-semibold text-brass">{inFigures(left)}</span>}
    </button>
  );
}
