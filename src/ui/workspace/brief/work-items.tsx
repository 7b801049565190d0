"use client";
import { useState } from "react";
import type { LinkedItem } from "@/core/house/work/trailers";
import type { WorkItemView } from "@/core/views/keeping-view";
import { ask, reasonFrom } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { atEnd } from "../../focus/at-end";
import { useChangeSet } from "../state/context";
import { useDo } from "../state/use-do";

/** Why the change is made: the work items that are linked, and the way to link one. */
export function WorkItems() {
  const { view } = useChangeSet();
  const act = useDo();
  const [open, setOpen] = useState(false);
  const parts = { repo: view.repository };
  const items = view.workItems;
  const { data: known, error } = useAsked({
    queryKey: ["work", parts.repo, ...items.map(({ item }) => item), view.state],
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/work", { parts, query: { items: items.map(({ item }) => item).join(",") }, signal }),
    enabled: items.length > 0,
  });
  if (items.length === 0 && !view.me.link.may) return null;
  return (
    <section aria-label="Work items" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Work items</h2>
      {items.length === 0 && <p className="text-soft">None is linked.</p>}
      {error && (
        <p role="alert" className="text-[13px] text-clay">
          {reasonFrom(error)}
        </p>
      )}
      <ul className="mt-1 divide-y divide-rule">
        {items.map((linked) => {
          const found = known?.find(({ item }) => item === linked.item);
          return (
            <li key={linked.item} className="py-1.5">
              <p className="flex items-baseline gap-2">
                <span className="flex-none text-soft">
                  {found?.address ? (
                    <a className="underline" href={found.address} rel="noreferrer">
                      #{linked.item}
                    </a>
                  ) : (
                    `#${linked.item}`
                  )}
                </span>
                <span className={`min-w-0 flex-1 ${found?.state === "done" ? "text-soft line-through" : ""}`}>
                  {found?.title ?? (error ? "cannot be asked for now" : known ? "is not in the tracker" : "…")}
                </span>
                {linked.from === "link" && view.me.link.may && (
                  <button
                    type="button"
                    className="quiet-button flex-none text-[13px]"
                    aria-label={`Unlink work item ${linked.item}`}
                    onClick={() =>
                      void act({
                        request: { kind: "unlink", item: linked.item },
                        says: `Work item ${linked.item} is not linked any more.`,
                        undo: { kind: "link", item: linked.item, closes: linked.closes },
                      })
                    }
                  >
                    unlink
                  </button>
                )}
              </p>
              <p className="text-[13px] text-soft">{linkWords(linked, found, view.state === "merged")}</p>
            </li>
          );
        })}
      </ul>
      {view.me.link.may &&
        (open ? (
          <FindItem
            parts={parts}
            onLink={(item, closes) => {
              setOpen(false);
              void act({
                request: { kind: "link", item, closes },
                says: `Work item ${item} is linked${closes ? ", and ends when this is merged" : ""}.`,
                undo: { kind: "unlink", item },
              });
            }}
            onClose={() => setOpen(false)}
          />
        ) : (
          <button type="button" className="button mt-2" onClick={() => setOpen(true)}>
            Link a work item …
          </button>
        ))}
    </section>
  );
}

const BY = { link: "", commit: ", by a commit message", description: ", by the description" };

function linkWords({ closes, from }: LinkedItem, item: WorkItemView | undefined, merged: boolean): string {
  const whose = item?.person ? `${item.person}’s · ` : "";
  const what = closes ? (merged ? "ended by the merge" : "ends when this is merged") : "a reason";
  return `${whose}${what}${BY[from]}`;
}

/** Looks an item up by its number or words; one that is not there yet can be written at once. */
function FindItem({
  parts,
  onLink,
  onClose,
}: {
  parts: { repo: string };
  onLink: (item: string, closes: boolean) => void;
  onClose: () => void;
}) {
  const [words, setWords] = useState("");
  const [closes, setCloses] = useState(true);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const {
    data: found,
    error,
    isPlaceholderData,
  } = useAsked({
    queryKey: ["work", parts.repo, "find", words],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/work", { parts, query: { words }, signal }),
    placeholderData: (before) => before,
  });
  const write = async () => {
    setBusy(true);
    try {
      const item = await ask("POST /api/repos/{repo}/work", { parts, body: { kind: "new", title: words } });
      if (item) onLink(item, closes);
    } catch (error) {
      setProblem(reasonFrom(error));
    }
    setBusy(false);
  };
  return (
    <div className="mt-2 grid gap-1.5 rounded-md border border-rule bg-page p-2">
      <label className="grid gap-0.5 text-[13px] text-soft">
        Number, or words of it
        <input
          ref={atEnd}
          className="field"
          value={words}
          onChange={(event) => setWords(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Escape") onClose();
            // The only one that fits is the one that is meant.
            if (event.key === "Enter" && words.trim() !== "" && found?.length === 1 && !isPlaceholderData)
              onLink(found[0].item, closes);
          }}
        />
      </label>
      <label className="flex items-center gap-2 text-[13px]">
        <input type="checkbox" checked={closes} onChange={(event) => setCloses(event.target.checked)} />
        merging ends it
      </label>
      <ul className="max-h-44 overflow-y-auto">
        {(found ?? []).map(({ item, title, state }) => (
          <li key={item}>
            <button
              type="button"
              className="flex w-full gap-2 rounded px-1 py-0.5 text-left hover:bg-brass-wash"
              onClick={() => onLink(item, closes)}
            >
              <span className="flex-none text-soft">#{item}</span>
              <span className="min-w-0 flex-1 truncate">{title}</span>
              {state === "done" && <span className="flex-none text-soft">done</span>}
            </button>
          </li>
        ))}
      </ul>
      {found?.length === 0 && words.trim() !== "" && (
        <button
          type="button"
          className="button justify-self-start text-[13px]"
          disabled={busy || isPlaceholderData}
          onClick={() => void write()}
        >
          Write it as a new item
        </button>
      )}
      {(problem || error) && (
        <p role="alert" className="text-[13px] text-clay">
          {problem || reasonFrom(error)}
        </p>
      )}
      <button type="button" className="quiet-button justify-self-start text-[13px]" onClick={onClose}>
        cancel
      </button>
    </div>
  );
}
