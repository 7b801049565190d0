import type { Flag, HeldLabel } from "@/core/house/labels/labels";

/** What each flag has on its field, on a sheet of 14 by 10. */
const DRAWN: Record<Flag, string> = {
  plain: "M0 0h14v10H0z",
  halves: "M0 0h7v10H0z",
  bars: "M0 0h14v2.5H0zM0 5h14v2.5H0z",
  cross: "M5.5 0h3v3.5H14v3H8.5V10h-3V6.5H0v-3h5.5z",
  border: "M0 0h14v10H0zM3 2.6v4.8h8V2.6z",
  quarters: "M0 0h7v5H0zM7 5h7v5H7z",
  pale: "M4.7 0h4.6v10H4.7z",
  saltire: "M0 0h3l4 2.9L11 0h3v1.6L9.3 5 14 8.4V10h-3L7 7.1 3 10H0V8.4L4.7 5 0 1.6z",
};

/** The flag of a label: told apart by its pattern, without a colour. */
export function FlagMark({ flag }: { flag: Flag }) {
  return (
    <svg aria-hidden viewBox="-0.5 -0.5 15 11" width={15} height={11} className="flex-none text-slate">
      <path d="M0 0h14v10H0z" fill="none" stroke="currentColor" />
      <path d={DRAWN[flag]} fill="currentColor" fillRule="evenodd" />
    </svg>
  );
}

/** A label as it is read beside a change set. */
export function LabelTag({ label: { name, flag, byPath } }: { label: HeldLabel }) {
  return (
    <span
      className="inline-flex items-center gap-1 whitespace-nowrap align-middle font-sans text-[12.5px] font-normal text-soft"
      title={byPath ? "By what it touches" : undefined}
    >
      <FlagMark flag={flag} />
      <span className="sr-only">label </span>
      {name}
    </span>
  );
}
