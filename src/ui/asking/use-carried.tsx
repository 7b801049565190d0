"use client";
import { useState } from "react";
import { reasonFrom } from "./ask";

/** Carries things out one at a time and says how each ended: in the words that are given for it, or why it could not be. */
export function useCarried() {
  const [problem, setProblem] = useState("");
  const [said, setSaid] = useState("");
  const carry = async (doing: () => Promise<void>, words: string) => {
    setSaid("");
    try {
      await doing();
      setProblem("");
      setSaid(words);
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const ending = (
    <>
      {problem && (
        <p role="alert" className="mb-3 rounded-md border border-l-4 border-rule border-l-clay px-3 py-2">
          {problem}
        </p>
      )}
      {said && (
        <p role="status" className="mb-3 text-teal">
          {said}
        </p>
      )}
    </>
  );
  return { carry, ending };
}
