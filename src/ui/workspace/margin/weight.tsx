"use client";
import type { Weight } from "@/core/review/shapes";

/** The two weights of a remark, in the words of the interface. */
export const WEIGHTS: Record<Weight, { label: string; about: string }> = {
  settle: { label: "to settle", about: "It has to be settled before this merges." },
  aside: { label: "aside", about: "Said in passing: it holds nothing up." },
};

/** Says how much a remark weighs, and lets its writer change that where `onWeight` is given. */
export function WeightMark({ weight, onWeight }: { weight: Weight; onWeight?: ((weight: Weight) => void) | null }) {
  const { label, about } = WEIGHTS[weight];
  const look = `rounded border px-1.5 text-[11.5px] ${weight === "settle" ? "border-slate text-slate" : "border-rule text-soft"}`;
  if (!onWeight) {
    return (
      <span className={look} title={about}>
        {label}
      </span>
    );
  }
  const other = weight === "settle" ? "aside" : "settle";
  return (
    <button
      type="button"
      className={`${look} hover:border-brass`}
      title={`${about} Press to make it “${WEIGHTS[other].label}”.`}
      onClick={() => onWeight(other)}
    >
      {label}
    </button>
  );
}
