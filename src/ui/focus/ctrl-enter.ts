/** Where there is one thing to do: a form, a sheet, a card. */
const AROUND = "form,article,[role='dialog'],[data-deeds]";

/**
 * Ctrl Enter (or ⌘ Enter) does the one thing that there is to do where one is: it presses the button that sends the form, or
 * the one of the sheet or card that says `data-deed`; one that cannot be pressed is not pressed by a key, either. Listens to the whole page; gives what ends it.
 */
export function ctrlEnter(): () => void {
  const listen = (event: KeyboardEvent) => {
    if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey) || event.defaultPrevented) return;
    if (!(event.target instanceof Element)) return;
    for (let around = event.target.closest(AROUND); around; around = around.parentElement?.closest(AROUND) ?? null) {
      const deed = around.querySelector<HTMLButtonElement>(
        around.matches("form") ? "button[type='submit']" : "button[data-deed]",
      );
      // A part that is kept as it is written has no deed of its own, and is no place to do that of the whole.
      if (!deed && around.hasAttribute("data-deeds")) return;
      if (!deed) continue;
      event.preventDefault();
      return deed.click();
    }
  };
  window.addEventListener("keydown", listen);
  return () => window.removeEventListener("keydown", listen);
}
