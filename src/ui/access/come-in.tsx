"use client";
import { useEffect, useState } from "react";
import { ask, reasonFrom } from "../asking/ask";

/** Comes in by the word in the address, and goes on. */
export function ComeIn({ next }: { next: string }) {
  const [problem, setProblem] = useState("");
  useEffect(() => {
    const word = decodeURIComponent(window.location.hash.slice(1));
    ask("POST /api/here", { body: { word } }).then(
      () => window.location.replace(next),
      (error: unknown) => setProblem(reasonFrom(error)),
    );
  }, [next]);
  return problem === "" ? (
    <p role="status" className="mt-3 text-soft">
      Opening it …
    </p>
  ) : (
    <p role="alert" className="mt-3 text-clay">
      {problem}
    </p>
  );
}
