"use client";
import type { ListShape } from "@/core/reading/files";
import { useRemembered } from "../../kept/use-remembered";

/** How the outline lists the files, and the way to the other shape. */
export function useShape(): [ListShape, () => void] {
  const [shape, setShape] = useRemembered<ListShape>("outline", "order");
  return [shape, () => setShape(shape === "order" ? "tree" : "order")];
}
