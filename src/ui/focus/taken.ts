/** Whether an element is one that is typed into. */
export function isTypedInto(element: EventTarget | null): boolean {
  return (
    element instanceof HTMLElement && (element.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/.test(element.tagName))
  );
}

/** Whether a sheet or a menu is open over the page. */
export function isCovered(): boolean {
  return document.querySelector("[role=dialog],[role=menu]") !== null;
}
