"use client";
import { startTransition, useEffect, useState } from "react";
import { afterPicture } from "./after-picture";

/**
 * The same value, later: once the picture that it changed is there. For what takes long to draw, and is not what the person waits for. It is drawn in
 * pieces, and a key that is pressed meanwhile goes before it. Where there was nothing yet, the value is there at once; and so it
 * is where it is one of something else, given by `of`: what stands there is never that of another.
 */
export function useBehindPicture<T>(value: T, of?: unknown): T {
  const [shown, setShown] = useState({ value, of });
  useEffect(() => {
    let wanted = true;
    void afterPicture().then(() => {
      if (wanted) startTransition(() => setShown({ value, of }));
    });
    return () => {
      wanted = false;
    };
  }, [value, of]);
  return shown.of === of ? (shown.value ?? value) : value;
}
