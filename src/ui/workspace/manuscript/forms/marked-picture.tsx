"use client";
import { useEffect, useRef } from "react";
import { counted, inFigures } from "@/core/plain/words";
import { markedPixels, type PixelDifference } from "@/core/reading/forms/pixels";
import type { ComparedPictures } from "./use-pixels";

/** What differs between two pictures, in words. */
export function sayPixels({ count, box, differs }: PixelDifference): string {
  if (!box) return "No pixel differs, as far as this browser draws them: what differs is not to be seen, or moves.";
  const [width, height] = [box.right - box.left, box.bottom - box.top];
  const where = `within ${width} × ${height} of them, ${box.left} from the left and ${box.top} from the top`;
  return `${inFigures(count)} of ${counted(differs.length, "pixel")} ${count === 1 ? "differs" : "differ"}, ${where}.`;
}

/** The later picture, pale, with what differs from the earlier one in one colour, and a frame around it. */
export function MarkedPicture({ width, height, difference, next }: ComparedPictures) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const drawing = canvas.current?.getContext("2d");
    if (!drawing) return;
    drawing.putImageData(new ImageData(markedPixels(next, difference, CLAY), width, height), 0, 0);
  }, [width, height, difference, next]);
  const { box } = difference;
  const share = (part: number, whole: number) => `${(100 * part) / whole}%`;
  return (
    <div className="relative inline-block border border-rule">
      <canvas
        ref={canvas}
        width={width}
        height={height}
        className="block max-w-full"
        role="img"
        aria-label="What differs"
      />
      {box && (
        <span
          className="absolute outline-2 outline-brass outline-offset-2"
          style={{
            left: share(box.left, width),
            top: share(box.top, height),
            width: share(box.right - box.left, width),
            height: share(box.bottom - box.top, height),
          }}
        />
      )}
    </div>
  );
}

/** On white, as the marked picture is at night, too. */
const CLAY = [176, 58, 32] as const;
