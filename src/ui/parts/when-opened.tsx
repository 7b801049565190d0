"use client";
import { type ReactNode, useState } from "react";

/** What is opened by somebody: made when that is done first, and there from then on with what was written into it. A page that is made does without. */
export function WhenOpened({ open, children }: { open: boolean; children: ReactNode }) {
  const [ever, setEver] = useState(open);
  if (open && !ever) setEver(true);
  return ever || open ? children : null;
}
