"use client";
import Link from "next/link";
import { useAsked } from "../asking/use-asked";
import { unreadQuery } from "./use-unread";

/** The way to the notices, with how many are not read. */
export function NoticesLink() {
  const { data } = useAsked(unreadQuery);
  const unread = data?.unread ?? 0;
  return (
    <Link
      prefetch={false}
      href="/notices"
      className={`flex min-h-6 flex-none items-center rounded px-2 hover:bg-brass-wash ${unread > 0 ? "font-semibold text-brass" : "text-soft"}`}
    >
      <span className="max-[700px]:sr-only">notices</span>
      {unread > 0 && <span className="ml-1.5">{unread > 99 ? "99+" : unread}</span>}
      {unread === 0 && (
        <span aria-hidden className="hidden max-[700px]:inline">
          ·
        </span>
      )}
    </Link>
  );
}
