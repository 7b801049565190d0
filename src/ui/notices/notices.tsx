"use client";
import { useQueryClient } from "@tanstack/react-query";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import type { NoticesView } from "@/core/views/desk-view";
import { ask, reasonFrom } from "../asking/ask";
import { When } from "../parts/when";
import { unreadQuery } from "./use-unread";

type Group = NoticesView["groups"][number];

/** Notices by change set: each group is marked read by itself or with all others, and back. */
export function Notices({ view: { groups, more } }: { view: NoticesView }) {
  const { refresh } = useRouter();
  const client = useQueryClient();
  const [undo, setUndo] = useState<string[]>([]);
  const [problem, setProblem] = useState("");
  const mark = async (events: string[], read: boolean) => {
    try {
      for (let at = 0; at < events.length; at += 500)
        await ask("PUT /api/notices", { body: { events: events.slice(at, at + 500), read } });
      setUndo(read ? events : []);
      setProblem("");
      void client.invalidateQueries({ queryKey: unreadQuery.queryKey });
      refresh();
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const unread = groups.flatMap(unreadIn);
  return (
    <>
      <p className="mt-4 flex min-h-8 flex-wrap items-baseline gap-x-6" role="status">
        <span>{unread.length === 0 ? "All of it is read." : `${counted(unread.length, "notice")} not read.`}</span>
        {unread.length > 0 && (
          <button type="button" className="quiet-button" onClick={() => void mark(unread, true)}>
            Mark all read
          </button>
        )}
        {undo.length > 0 && (
          <button type="button" className="quiet-button" onClick={() => void mark(undo, false)}>
            {counted(undo.length, "notice")} marked read: undo
          </button>
        )}
        {problem && <span className="text-clay">{problem}</span>}
      </p>
      {groups.length === 0 && (
        <p className="mt-3 rounded-md border border-dashed border-rule px-4 py-3 text-soft">
          Nothing yet. When somebody answers you, asks you or offers a new revision, it stands here.
        </p>
      )}
      {groups.map((group) => (
        <section
          key={`${group.repository} ${group.number}`}
          aria-label={group.title}
          className={`mt-5 rounded-md border border-l-4 border-rule bg-paper px-4 py-2.5 ${unreadIn(group).length > 0 ? "border-l-brass" : ""}`}
        >
          <div className="flex items-baseline justify-between gap-4">
            <h2 className="min-w-0 truncate font-serif max-[700px]:whitespace-normal text-[16px] font-semibold">
              <Link prefetch={false} className="hover:underline" href={`/r/${group.repository}/c/${group.number}`}>
                {visible(group.title)}
              </Link>
            </h2>
            {unreadIn(group).length > 0 && (
              <button type="button" className="quiet-button flex-none" onClick={() => void mark(unreadIn(group), true)}>
                Mark read
              </button>
            )}
          </div>
          <p className="text-soft">
            {group.repository} {group.number}, {group.state}
          </p>
          <ul className="mt-1">
            {group.notices.map(({ event, says, why, at, unread: isNew }) => (
              <li key={event} className={`flex items-baseline gap-3 py-0.5 ${isNew ? "" : "text-soft"}`}>
                <span className={`min-w-0 flex-1 ${isNew ? "font-semibold" : ""}`}>
                  {isNew && <span className="sr-only">not read: </span>}
                  {capital(visible(says))}. <span className="font-normal text-soft">{why}</span>
                </span>
                <span className="flex-none text-soft">
                  <When at={at} />
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
      {more && <p className="mt-4 text-soft">Older ones are not listed.</p>}
    </>
  );
}

function unreadIn({ notices }: Group): string[] {
  return notices.filter(({ unread }) => unread).map(({ event }) => event);
}

/** A sentence begins large, but for the name of a revision. */
function capital(words: string): string {
  return /^r\d/.test(words) ? words : words.charAt(0).toUpperCase() + words.slice(1);
}
