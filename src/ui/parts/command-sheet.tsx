"use client";
import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { type ReactNode, useEffect, useRef, useState } from "react";

/** A dialog with a field on top and a list below that the arrow keys go through. */
export function CommandSheet({
  title,
  open,
  onClose,
  look,
  items,
  settled,
  children,
}: {
  title: string;
  open: boolean;
  onClose: () => void;
  /** Where it stands and how wide it is. */
  look: string;
  /** The values of what the list holds, in order: one of them is always chosen, so that Enter always means something. */
  items: readonly string[];
  /** Whether the list is already that of the words in the field. Enter waits for it: it never takes one from the list of the words before. */
  settled: boolean;
  children: ReactNode;
}) {
  const [last, setLast] = useState("");
  const chosen = items.includes(last) ? last : (items[0] ?? "");
  const [entered, setEntered] = useState(false);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!entered || !settled) return;
    setEntered(false);
    const places = list.current?.querySelectorAll<HTMLElement>("[cmdk-item]") ?? [];
    [...places].find(({ dataset }) => dataset.value === chosen)?.click();
  }, [entered, settled, chosen]);
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        {/* That of the dialog would keep the page from scrolling by styles for which all others are worked out anew: a list that is there for a moment needs none of it. */}
        <div aria-hidden className="pointer-events-auto fixed inset-0 z-40 bg-black/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`sheet fixed left-1/2 z-50 -translate-x-1/2 overflow-hidden ${look}`}
        >
          <Dialog.Title className="sr-only">{title}</Dialog.Title>
          <Command
            ref={list}
            shouldFilter={false}
            label={title}
            value={chosen}
            onValueChange={setLast}
            onKeyDown={(event) => {
              const early = event.key === "Enter" && !settled;
              setEntered(early);
              if (early) event.preventDefault();
            }}
          >
            {children}
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
