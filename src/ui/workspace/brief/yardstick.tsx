"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { visible } from "@/core/cautions/visible";
import { counted, inFigures } from "@/core/plain/words";
import type { YardstickState } from "@/core/yardstick/yardstick";
import { ask, reasonFrom } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { useRemembered } from "../../kept/use-remembered";
import { useChangeSet, useTell } from "../state/context";

const STATES: Record<YardstickState, string> = {
  same: "is the same there: nothing to bring",
  different: "differs",
  new: "is not there yet",
  gone: "is still there, and goes with this",
  there: "is only there so: this does not have it",
};

/** How the change set stands to a branch or tag, such as what is released: file by file, to be read and remarked on from here. */
export function Yardstick({ onRead }: { onRead: (name: string, path: string | null) => void }) {
  const { view, place } = useChangeSet();
  const tell = useTell();
  const client = useQueryClient();
  const [name, setName] = useRemembered<string>(`yardstick ${view.repository}`, "");
  const [sure, setSure] = useState(false);
  const { data, error } = useAsked({
    queryKey: ["yardstick", place, name, view.revisions.length],
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/changes/{number}/yardstick", {
        parts: place,
        query: { name: name || undefined },
        signal,
      }),
    placeholderData: (before) => before,
  });
  const files = name === "" ? [] : (data?.files ?? []);
  const same = files.filter(({ state }) => state === "same");
  const lost = files.filter(({ changedThere }) => changedThere);
  const drop = async () => {
    setSure(false);
    try {
      const { revision } = await ask("POST /api/repos/{repo}/changes/{number}/yardstick", {
        parts: place,
        body: { name },
      });
      await client.invalidateQueries({ queryKey: ["change", view.id] });
      tell(`Left out in r${revision}.`);
    } catch (problem) {
      tell(reasonFrom(problem));
    }
  };
  return (
    <section aria-label="Against what is live" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Against what is live</h2>
      <label className="mt-1 grid gap-0.5 text-[13px] text-soft">
        Hold it against a branch or tag
        <select className="field text-ink" value={name} onChange={(event) => setName(event.target.value)}>
          <option value="">none</option>
          {(["tag", "branch"] as const).map((kind) => (
            <optgroup key={kind} label={kind === "tag" ? "Tags" : "Branches"}>
              {(data?.names ?? [])
                .filter((one) => one.kind === kind)
                .map((one) => (
                  <option key={one.name} value={one.name}>
                    {one.name}
                  </option>
                ))}
            </optgroup>
          ))}
        </select>
      </label>
      {error && name !== "" && <p className="text-[13px] text-clay">{reasonFrom(error)}</p>}
      {name !== "" && files.length > 0 && (
        <>
          <p className="mt-1 text-[13px]">
            {lost.length > 0 ? (
              <span className="font-semibold text-clay">
                {counted(lost.length, "file")} {lost.length === 1 ? "was" : "were"} changed there directly: that would
                be lost.
              </span>
            ) : (
              <span className="text-soft">Nothing was changed there directly.</span>
            )}{" "}
            {counted(files.length - same.length, "file")} {files.length - same.length === 1 ? "differs" : "differ"}
            {same.length > 0 && `, ${inFigures(same.length)} ${same.length === 1 ? "is" : "are"} the same there`}.
          </p>
          <ul className="mt-1 divide-y divide-rule text-[13px]">
            {files.slice(0, 200).map(({ path, state, changedThere }) => (
              <li key={path} className="py-1">
                <button
                  type="button"
                  className="block w-full text-left hover:underline disabled:no-underline"
                  disabled={state === "same"}
                  onClick={() => onRead(name, path)}
                >
                  <code className="block truncate font-mono text-[12px]">{visible(path)}</code>
                  <span className={changedThere ? "text-clay" : state === "same" ? "text-faint" : "text-soft"}>
                    {STATES[state]}
                    {changedThere && state !== "there" && "; it was changed there directly"}
                  </span>
                </button>
              </li>
            ))}
          </ul>
          {files.length > 200 && <p className="text-[13px] text-soft">and {files.length - 200} more</p>}
          <p className="mt-2 flex flex-wrap gap-3">
            <button type="button" className="button text-[13px]" onClick={() => onRead(name, null)}>
              Read against {name}
            </button>
            {same.length > 0 && same.length < files.length && view.me.take.may && (
              <button
                type="button"
                className="button text-[13px]"
                onBlur={() => setSure(false)}
                onClick={() => (sure ? void drop() : setSure(true))}
              >
                {sure ? "Yes, push that" : `Leave out ${counted(same.length, "file")} …`}
              </button>
            )}
          </p>
        </>
      )}
    </section>
  );
}
