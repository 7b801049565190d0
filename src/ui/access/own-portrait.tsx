"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { HUES } from "@/core/house/labels/hues";
import type { Portrait } from "@/core/views/api";
import { ask } from "../asking/ask";
import { useCarried } from "../asking/use-carried";
import { PersonMark } from "../parts/person-mark";

/** How one is drawn for others: a colour for the initials, or a picture. */
export function OwnPortrait({ name, initial }: { name: string; initial: Portrait }) {
  const { refresh } = useRouter();
  const [portrait, setPortrait] = useState(initial);
  const { carry, ending } = useCarried();
  const take = (asking: () => Promise<Portrait>) =>
    void carry(async () => {
      setPortrait(await asking());
      refresh();
    }, "");
  return (
    <section aria-label="How you are drawn" className="mt-6 rounded-md border border-rule bg-paper px-4 py-3">
      <h2 className="font-serif text-lg font-semibold">How you are drawn</h2>
      {ending}
      <div className="mt-2 flex flex-wrap items-center gap-x-6 gap-y-3">
        <PersonMark name={name} portrait={portrait} size={44} said={false} />
        <fieldset className="flex flex-wrap gap-1">
          <legend className="text-[13px] text-soft">The colour of your initials</legend>
          {HUES.map((degrees, hue) => (
            <button
              key={degrees}
              type="button"
              aria-label={`Colour ${hue + 1}`}
              aria-pressed={portrait.hue === hue}
              className="size-7 rounded-full border-2 border-paper aria-pressed:border-ink"
              style={{ backgroundColor: `oklch(0.42 0.09 ${degrees})` }}
              onClick={() => take(() => ask("PUT /api/portrait", { body: { hue } }))}
            />
          ))}
        </fieldset>
        <label className="grid gap-0.5 text-[13px] text-soft">
          Or a picture, up to 512 kB
          <input
            type="file"
            accept="image/png,image/jpeg,image/gif,image/webp"
            onChange={({ target }) => {
              const [file] = target.files ?? [];
              if (file) take(() => ask("POST /api/portrait/picture", { body: file }));
              target.value = "";
            }}
          />
        </label>
        {portrait.picture && (
          <button
            type="button"
            className="quiet-button"
            onClick={() => take(() => ask("DELETE /api/portrait/picture"))}
          >
            take the picture away
          </button>
        )}
      </div>
    </section>
  );
}
