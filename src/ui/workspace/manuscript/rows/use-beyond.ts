import { type RefObject, useCallback, useEffect, useRef } from "react";

/** In pixels, as far as anything is drawn: what lies above, below or to the left of what is seen counts as seen, so that the right alone makes a difference. */
const FAR = 10_000_000;

/**
 * Marks the rows whose line goes on to the right of what is seen, with the attribute `data-beyond`: what stands there would be taken for nothing. Beside the lines stands a
 * margin that covers them; its width is there for the style sheet as `--margin`.
 *
 * @returns what is told of the end of each line as it is drawn
 */
export function useBeyond(
  scroller: RefObject<HTMLElement | null>,
  margin: RefObject<HTMLElement | null>,
): (end: HTMLElement | null) => (() => void) | undefined {
  const ends = useRef(new Set<HTMLElement>());
  const watching = useRef<IntersectionObserver | null>(null);
  useEffect(() => {
    const [root, beside] = [scroller.current, margin.current];
    if (!root || !beside) return;
    const begin = () => {
      watching.current?.disconnect();
      root.style.setProperty("--margin", `${beside.offsetWidth}px`);
      const rootMargin = `${FAR}px -${beside.offsetWidth}px ${FAR}px ${FAR}px`;
      watching.current = new IntersectionObserver(mark, { root, rootMargin });
      for (const end of ends.current) watching.current.observe(end);
    };
    const sizes = new ResizeObserver(begin);
    sizes.observe(beside);
    begin();
    return () => {
      sizes.disconnect();
      watching.current?.disconnect();
      watching.current = null;
    };
  }, [scroller, margin]);
  return useCallback((end) => {
    if (!end) return;
    ends.current.add(end);
    watching.current?.observe(end);
    return () => {
      ends.current.delete(end);
      watching.current?.unobserve(end);
    };
  }, []);
}

/** The attribute is none of those that rows are drawn with: they are not drawn again for it. */
function mark(seen: readonly IntersectionObserverEntry[]): void {
  for (const { target, boundingClientRect, rootBounds } of seen) {
    const isBeyond = rootBounds !== null && boundingClientRect.left > rootBounds.right;
    target.closest("[role=row]")?.toggleAttribute("data-beyond", isBeyond);
  }
}
