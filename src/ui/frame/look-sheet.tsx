"use client";
import { Dialog } from "radix-ui";
import { SIZES, TABS } from "@/core/house/look";
import { useLook } from "./use-look";

const NAMES = ["small", "usual", "large", "larger", "largest"];
const EXAMPLE = "if (berth !== null && tide >= 2) {\n\treturn hold(berth); // until the pilot confirms\n}";

/** How code is drawn: chosen here, and seen at once. */
export function LookSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [look, setLook] = useLook();
  const choice = <T extends string | number | boolean>(
    legend: string,
    options: [value: T, words: string][],
    now: T,
    set: (value: T) => void,
  ) => (
    <fieldset className="flex flex-wrap gap-x-5 gap-y-1">
      <legend className="pb-0.5 text-[13px] text-soft">{legend}</legend>
      {options.map(([value, words]) => (
        <label key={String(value)} className="flex items-center gap-2">
          <input type="radio" name={legend} checked={now === value} onChange={() => set(value)} />
          {words}
        </label>
      ))}
    </fieldset>
  );
  return (
    <Dialog.Root open={open} onOpenChange={(now) => !now && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-black/35" />
        <Dialog.Content className="sheet fixed top-[12vh] left-1/2 z-50 grid max-h-[80vh] w-[92vw] max-w-lg -translate-x-1/2 gap-4 overflow-auto px-6 py-5">
          <Dialog.Title className="font-serif text-xl font-semibold">How code looks</Dialog.Title>
          <Dialog.Description className="-mt-3 text-soft">
            For you, in this browser. The size of everything else is the browser’s own.
          </Dialog.Description>
          {choice(
            "Size",
            SIZES.map(({ size }, i) => [size, NAMES[i]]),
            look.size,
            (size) => setLook({ ...look, size }),
          )}
          {choice(
            "Tabs go on to every",
            TABS.map((tabs) => [tabs, `${tabs} columns`]),
            look.tabs,
            (tabs) => setLook({ ...look, tabs }),
          )}
          {choice(
            "Signs such as !== and >=",
            [
              [false, "each character by itself"],
              [true, "drawn as one"],
            ],
            look.ligatures,
            (ligatures) => setLook({ ...look, ligatures }),
          )}
          <pre className="code-as-chosen overflow-x-auto rounded-md bg-well px-3 py-2" data-testid="example">
            {EXAMPLE}
          </pre>
          <p>
            <button type="button" className="button-main" onClick={onClose}>
              Done
            </button>
          </p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
