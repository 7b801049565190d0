/**
 * A ref for a field that opens because somebody asked to write in it: it has the focus, and the caret stands behind what is
 * there already. The page does not scroll to it: it opens where one is.
 */
export function atEnd(field: HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement | null): void {
  if (!field) return;
  field.focus({ preventScroll: true });
  if (field instanceof HTMLSelectElement) return;
  try {
    field.setSelectionRange(field.value.length, field.value.length);
  } catch {
    // Dates and numbers have no caret that could be set.
  }
}
