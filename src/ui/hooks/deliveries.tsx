"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { counted } from "@/core/plain/words";
import { reasonFrom } from "../asking/ask";
import { useAsked } from "../asking/use-asked";
import { When } from "../parts/when";
import { askHooks } from "./ask-hooks";

/** The last messages to one address, with what was answered; any can be sent again. */
export function Deliveries({ repository, hook }: { repository: string | null; hook: string }) {
  const asks = askHooks(repository);
  const key = ["deliveries", repository, hook];
  const client = useQueryClient();
  const [problem, setProblem] = useState("");
  const { data, error } = useAsked({
    queryKey: key,
    refetchInterval: 3_000,
    queryFn: ({ signal }) => asks.deliveries(hook, signal),
  });
  const again = async (delivery: string) => {
    try {
      await asks.again(hook, delivery);
      await client.invalidateQueries({ queryKey: key });
      setProblem("");
    } catch (failure) {
      setProblem(reasonFrom(failure));
    }
  };
  const wrong = problem || (error ? reasonFrom(error) : "");
  return (
    <div className="py-2">
      {wrong && (
        <p role="alert" className="text-clay">
          {wrong}
        </p>
      )}
      <ol className="grid gap-1">
        {data?.map(({ id, kind, at, tries, doneAt, givenUp, answer }) => (
          <li key={id} className="flex flex-wrap items-baseline gap-x-3 border-l-2 border-rule pl-3">
            <span className="font-semibold">{kind}</span>
            <span className="text-[13px] text-soft">
              <When at={at} />
            </span>
            <span
              className={`min-w-0 flex-1 break-words text-[13px] ${doneAt === null && tries > 0 ? "text-clay" : "text-soft"}`}
            >
              {doneAt !== null ? "taken" : givenUp ? "given up" : tries > 0 ? "waits, to be tried again" : "waits"}
              {tries > 0 && ` after ${counted(tries, "try", "tries")}`}
              {answer && `: ${answer}`}
            </span>
            {(doneAt !== null || givenUp) && (
              <button type="button" className="quiet-button" onClick={() => void again(id)}>
                send again
              </button>
            )}
          </li>
        ))}
        {data?.length === 0 && <li className="text-soft">Nothing happened since.</li>}
      </ol>
    </div>
  );
}
