"use client";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

/** A dialog on a sheet of paper. Escape and a click beside it close it. */
export function Sheet({
  title,
  about,
  open,
  onClose,
  wide = false,
  children,
}: {
  title: string;
  about?: string;
  open: boolean;
  onClose: () => void;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Dialog.Content
          className={`sheet fixed top-[7vh] left-1/2 z-50 flex max-h-[86vh] w-[94vw] -translate-x-1/2 flex-col ${wide ? "max-w-3xl" : "max-w-xl"}`}
          onOpenAutoFocus={(event) => {
            const first =
              event.currentTarget instanceof HTMLElement ? event.currentTarget.querySelector("textarea, input") : null;
            if (!(first instanceof HTMLElement)) return;
            event.preventDefault();
            first.focus();
          }}
          {...(about ? {} : { "aria-describedby": undefined })}
        >
          <div className="flex-none border-b border-rule px-6 py-4">
            <Dialog.Title className="font-serif text-xl font-semibold">{title}</Dialog.Title>
            {about && <Dialog.Description className="text-soft">{about}</Dialog.Description>}
          </div>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
