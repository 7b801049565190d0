"use client";
import { useState } from "react";
import type { Comparison } from "@/core/diff/compare";
import { inFigures } from "@/core/plain/words";
import type { ReadingFile } from "@/core/views/api";
import { addressOf } from "../../../asking/ask";
import { MarkedPicture, sayPixels } from "./marked-picture";
import { usePixels } from "./use-pixels";

/** How two states of an image are shown, and what the way there is called. */
const WAYS = { beside: "side by side", over: "one over the other", marked: "mark what differs" } as const;
type Way = keyof typeof WAYS;

/** Two states of an image: side by side, one over the other with a slider between them, or with what differs marked. */
export function Images({
  repository,
  file,
  comparison,
}: {
  repository: string;
  file: ReadingFile;
  comparison: Comparison;
}) {
  const [way, setWay] = useState<Way>("beside");
  const [split, setSplit] = useState(50);
  const address = (id: string) =>
    addressOf("GET /api/repos/{repo}/image", { parts: { repo: repository }, query: { id } });
  const both = file.oldId !== null && file.newId !== null;
  const pixels = usePixels(both ? address(file.oldId!) : null, both ? address(file.newId!) : null);
  const over = way === "over";
  const ways: Way[] = pixels?.difference.box ? ["beside", "over", "marked"] : ["beside", "over"];
  return (
    <div className="p-6 font-sans">
      {pixels && <p className="mb-3 text-soft">{sayPixels(pixels.difference)}</p>}
      {both && (
        <p className="mb-4 flex flex-wrap items-center gap-4">
          {ways.map((one) => (
            <button
              key={one}
              type="button"
              className={`button ${way === one ? "bg-brass-wash" : ""}`}
              aria-pressed={way === one}
              onClick={() => setWay(one)}
            >
              {WAYS[one]}
            </button>
          ))}
          {over && (
            <label className="flex items-center gap-2 text-soft">
              before
              <input
                type="range"
                min={0}
                max={100}
                value={split}
                onChange={(e) => setSplit(Number(e.target.value))}
                className="w-64 accent-[var(--brass)]"
                aria-label="How much of the new image lies over the old one"
              />
              after
            </label>
          )}
        </p>
      )}
      {both && way === "marked" && pixels ? (
        <MarkedPicture {...pixels} />
      ) : both && over && file.oldId && file.newId ? (
        <div className="relative inline-block border border-rule bg-well">
          <Picture address={address(file.oldId)} label="before" />
          <div className="absolute inset-0 overflow-hidden" style={{ clipPath: `inset(0 ${100 - split}% 0 0)` }}>
            <Picture address={address(file.newId)} label="after" />
          </div>
        </div>
      ) : (
        <div className={`grid items-start gap-4 ${both ? "grid-cols-2" : "grid-cols-1"}`}>
          {file.oldId && <Side address={address(file.oldId)} label="before" size={comparison.oldSize} />}
          {file.newId && <Side address={address(file.newId)} label="after" size={comparison.newSize} />}
        </div>
      )}
    </div>
  );
}

function Side({ address, label, size }: { address: string; label: string; size: number }) {
  const [dimensions, setDimensions] = useState("");
  return (
    <figure className={`border-2 bg-well p-1 ${label === "before" ? "border-clay" : "border-teal"}`}>
      <Picture address={address} label={label} onDimensions={setDimensions} />
      <figcaption className="pt-1 text-soft">
        {label === "before" ? "− before" : "+ after"}: {dimensions}
        {inFigures(size)} bytes
      </figcaption>
    </figure>
  );
}

function Picture({
  address,
  label,
  onDimensions,
}: {
  address: string;
  label: string;
  onDimensions?: (words: string) => void;
}) {
  return (
    // biome-ignore lint/performance/noImgElement: an image of the repository, shown as it is
    <img
      src={address}
      alt={label === "before" ? "As it was" : "As it is now"}
      className="max-w-full"
      onLoad={({ currentTarget }) => onDimensions?.(`${currentTarget.naturalWidth} × ${currentTarget.naturalHeight}, `)}
    />
  );
}
