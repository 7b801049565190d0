/** What is read on this page: the row that the cursor is on, or else what the page is about. */
export function whatIsRead(): HTMLElement | null {
  const row = document.querySelector<HTMLElement>('main [role="row"][tabindex="0"]');
  const main = document.querySelector<HTMLElement>("main");
  main?.setAttribute("tabindex", "-1");
  return row ?? main;
}
