"use client";
import Link from "next/link";
import { DropdownMenu } from "radix-ui";
import { type ReactNode, useContext, useState } from "react";
import type { Me } from "@/core/views/api";
import { ask } from "../asking/ask";
import { whatIsRead } from "../focus/what-is-read";
import { GoAnywhere } from "../going/go-anywhere";
import { NoticesLink } from "../notices/notices-link";
import { PersonMark } from "../parts/person-mark";
import { WhenOpened } from "../parts/when-opened";
import { LookSheet } from "./look-sheet";
import { MailShown } from "./providers";

/** The bar above every page: where one is, the way back to the desk, and oneself. */
export function TopBar({
  me,
  trail,
  children,
}: {
  me: Me;
  trail: { label: string; href?: string }[];
  children?: ReactNode;
}) {
  return (
    <header className="flex h-11 flex-none items-center gap-4 border-b border-rule bg-page px-4">
      <button
        type="button"
        className="button sr-only focus:not-sr-only focus:absolute focus:z-50"
        onClick={() => whatIsRead()?.focus()}
      >
        Skip to what is read
      </button>
      <Link
        prefetch={false}
        href="/"
        className="flex items-center gap-2 font-serif text-[15px] font-semibold"
        aria-label="Earnest Lens: to the desk"
      >
        <LensMark />
        <span className="max-[700px]:hidden">Earnest Lens</span>
      </Link>
      <nav aria-label="Where you are" className="flex min-w-0 flex-1 items-center gap-2 text-soft">
        {trail.map(({ label, href }, i) => (
          <span
            key={label}
            className={`flex min-w-0 items-center gap-2 ${i < trail.length - 1 ? "max-[700px]:hidden" : ""}`}
          >
            {i > 0 && (
              <span aria-hidden className="max-[700px]:hidden">
                /
              </span>
            )}
            {href ? (
              <Link prefetch={false} href={href} className="truncate hover:underline">
                {label}
              </Link>
            ) : (
              <span className="truncate" aria-current="page">
                {label}
              </span>
            )}
          </span>
        ))}
      </nav>
      {children ?? <GoAnywhere />}
      <NoticesLink />
      <PersonMenu me={me} />
    </header>
  );
}

export function LensMark() {
  return (
    <svg width="20" height="20" viewBox="0 0 32 32" aria-hidden="true">
      <circle cx="14" cy="14" r="9" fill="none" stroke="var(--brass)" strokeWidth="4" />
      <path d="m21 21 7 7" stroke="var(--brass)" strokeWidth="5" strokeLinecap="round" />
    </svg>
  );
}

function PersonMenu({ me }: { me: Me }) {
  const { name: own, fullName: name, portrait } = me;
  const keeps = me.administrator;
  const mail = useContext(MailShown);
  const [looking, setLooking] = useState(false);
  const signOut = async () => {
    await ask("POST /api/sign-out");
    window.location.assign("/sign-in");
  };
  return (
    <>
      <WhenOpened open={looking}>
        <LookSheet open={looking} onClose={() => setLooking(false)} />
      </WhenOpened>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="rounded-full" aria-label={`${name}: theme, mail and sign out`}>
          <PersonMark name={name} portrait={portrait} size={28} said={false} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={6} className="sheet z-50 min-w-48 p-1">
            <DropdownMenu.Label className="px-3 py-1.5 text-soft">{name}</DropdownMenu.Label>
            <MenuItem onSelect={() => chooseTheme("paper")}>Paper</MenuItem>
            <MenuItem onSelect={() => chooseTheme("night")}>Night</MenuItem>
            <MenuItem onSelect={() => chooseTheme(null)}>As the system has it</MenuItem>
            <MenuItem onSelect={() => setLooking(true)}>How code looks …</MenuItem>
            <DropdownMenu.Separator className="my-1 h-px bg-rule" />
            <MenuItem onSelect={() => window.location.assign(`/people/${own}`)}>How you are drawn</MenuItem>
            <MenuItem onSelect={() => window.location.assign("/times")}>How long things take</MenuItem>
            <MenuItem onSelect={() => window.location.assign("/tokens")}>Tokens and sessions</MenuItem>
            {keeps && (
              <MenuItem onSelect={() => window.location.assign("/keeping")}>
                Keeping: accounts, repositories, log
              </MenuItem>
            )}
            {mail && <MenuItem onSelect={() => window.location.assign("/mail")}>Mail</MenuItem>}
            <MenuItem onSelect={signOut}>Sign out</MenuItem>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </>
  );
}

function MenuItem({ onSelect, children }: { onSelect: () => void; children: string }) {
  return (
    <DropdownMenu.Item
      onSelect={onSelect}
      className="cursor-pointer rounded px-3 py-1 outline-none data-[highlighted]:bg-brass-wash"
    >
      {children}
    </DropdownMenu.Item>
  );
}

function chooseTheme(theme: "paper" | "night" | null) {
  if (theme) document.documentElement.dataset.theme = theme;
  else delete document.documentElement.dataset.theme;
  const lasts = theme ? 31_536_000 : 0;
  // biome-ignore lint/suspicious/noDocumentCookie: the server reads it to draw the first picture in the right theme
  document.cookie = `lens_theme=${theme ?? ""}; path=/; max-age=${lasts}; samesite=lax`;
}
