import type { MouseEvent } from "react";

/**
 * For what has many links in it, as the framework's own is for one: a plain click on one of them is pushed, and the page is not loaded anew. Whoever asks for
 * a tab of its own, or has no scripts, has the links that they are.
 */
export function followed(push: (address: string) => void): (event: MouseEvent<HTMLElement>) => void {
  return (event) => {
    const { button, altKey, ctrlKey, metaKey, shiftKey, target } = event;
    if (event.defaultPrevented || button !== 0 || altKey || ctrlKey || metaKey || shiftKey) return;
    const link = target instanceof Element ? target.closest("a") : null;
    if (link?.target !== "" || link.origin !== window.location.origin) return;
    event.preventDefault();
    push(`${link.pathname}${link.search}${link.hash}`);
  };
}
