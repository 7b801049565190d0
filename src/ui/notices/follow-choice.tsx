"use client";
import { useState } from "react";
import { ask, type ChangePlace, reasonFrom } from "../asking/ask";

/** Whether one gets mail about a change set, and the button that changes it. */
export function FollowChoice({ place, follows }: { place: ChangePlace; follows: boolean }) {
  const [now, setNow] = useState(follows);
  const [problem, setProblem] = useState("");
  const change = async () => {
    try {
      await ask("PUT /api/repos/{repo}/changes/{number}/follow", { parts: place, body: { follow: !now } });
      setNow(!now);
      setProblem("");
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  return (
    <>
      <p className="mt-3" role="status">
        {now
          ? "You get mail about this change set when you have to do with it: as its author, as a reviewer, or in a thread."
          : "You get no mail about this change set. It stands on your desk all the same when it waits for you."}
      </p>
      <button type="button" className="button-main mt-4" onClick={change}>
        {now ? "No more mail about it" : "Mail about it again"}
      </button>
      {problem && (
        <p role="alert" className="mt-2 text-clay">
          {problem}
        </p>
      )}
    </>
  );
}
