"use client";
import { Dialog } from "radix-ui";
import { type ReactNode, useContext } from "react";
import { atEnd } from "../../focus/at-end";
import { NoticeContext } from "../state/context";

/**
 * The foot of a sheet: what went wrong, or else what is to be known before it is done, the way back, and the deed itself. Two lines of either have their room from the beginning: what
 * is about to be pressed does not move.
 */
export function SheetFoot({
  problem,
  note,
  busy,
  action,
  doing,
  onAction,
  onClose,
}: {
  problem: string;
  note?: ReactNode;
  busy: boolean;
  action: string;
  doing: string;
  onAction: () => void;
  onClose: () => void;
}) {
  return (
    <div className="flex flex-none items-center gap-x-4 gap-y-2 border-t border-rule px-6 py-3 max-[700px]:flex-wrap max-[700px]:justify-end">
      <div className="flex min-h-10 min-w-0 flex-1 flex-col justify-center max-[700px]:min-h-0 max-[700px]:flex-none max-[700px]:basis-full">
        <p role="alert" className="text-clay">
          {problem}
        </p>
        {problem === "" && note}
      </div>
      <button type="button" className="button" onClick={onClose}>
        Not yet
      </button>
      <button type="button" data-deed className="button-main" disabled={busy} onClick={onAction}>
        {busy ? doing : action}
      </button>
    </div>
  );
}

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
  // What is said in the footing cannot be reached from here.
  const notice = useContext(NoticeContext);
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Dialog.Content
          className={`sheet fixed top-[7vh] left-1/2 z-50 flex max-h-[86vh] w-[94vw] -translate-x-1/2 flex-col ${wide ? "max-w-3xl" : "max-w-xl"}`}
          onOpenAutoFocus={(event) => {
            const first =
              event.currentTarget instanceof HTMLElement
                ? event.currentTarget.querySelector<HTMLTextAreaElement | HTMLInputElement>("textarea, input")
                : null;
            if (!first) return;
            event.preventDefault();
            atEnd(first);
          }}
          {...(about ? {} : { "aria-describedby": undefined })}
        >
          <div className="flex-none border-b border-rule px-6 py-4">
            <Dialog.Title className="font-serif text-xl font-semibold">{title}</Dialog.Title>
            {about && <Dialog.Description className="text-soft">{about}</Dialog.Description>}
          </div>
          {children}
          {notice && (
            <p role="status" className="flex-none border-t border-rule px-6 py-2 text-brass">
              {notice.words}{" "}
              {notice.undo && (
                <button type="button" className="quiet-button" onClick={notice.undo}>
                  undo
                </button>
              )}
            </p>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
