"use client";
import { Key } from "../key";
import { KEYS } from "./keys";
import { Sheet } from "./sheet";

export function KeysSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Sheet title="Keys" about="They work while nothing is being typed." open={open} onClose={onClose} wide>
      <dl className="grid grid-cols-[auto_1fr_auto_1fr] items-center gap-x-4 gap-y-2 max-[700px]:grid-cols-[auto_1fr] overflow-y-auto px-6 py-4">
        {KEYS.map(({ key, does }) => (
          <div key={key} className="contents">
            <dt className="text-right">
              <Key>{key}</Key>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Sheet>
  );
}
