"use client";
import { type ReactNode, useContext } from "react";
import { MeShown } from "./providers";
import { TopBar } from "./top-bar";

/** A page that only says something, under the bar that all pages have. */
export function PlainPage({ title, children }: { title: string; children: ReactNode }) {
  const me = useContext(MeShown);
  return (
    <>
      {me && <TopBar me={me} trail={[{ label: "Desk", href: "/" }]} />}
      <main className="mx-auto max-w-lg px-6 py-20">
        <h1 className="font-serif text-3xl font-semibold">{title}</h1>
        {children}
      </main>
    </>
  );
}
