/** What can be gone to by Tab. */
const TABBABLE = 'a[href],button,input,select,textarea,summary,[tabindex="0"]';
/** What is one thing to whoever uses it: when something in it goes away, what comes next is within it. */
const PLACES = '[role="dialog"],article,form,section,nav,main';

/** By which somebody says where they are. */
const ACTS = ["pointerdown", "keydown"] as const;

/** Where the focus was last: the element, and, from the inside out, the places that it is in with what else can be gone to there. */
interface Stand {
  element: HTMLElement;
  places: { place: HTMLElement; order: HTMLElement[] }[];
}

/**
 * Keeps the focus on something as long as the page is open. When what has it goes away (a field that was sent, a button that is
 * no longer offered, a row that a list has no longer), what comes next gets it: the card or the sheet it was in, or what
 * stood behind it there, or before it; in the end what `fallback` names. Never the body of the page, where keys do nothing and
 * a screen reader begins from the top. Gives what ends it.
 */
export function keepFocus(fallback: () => HTMLElement | null): () => void {
  let last: Stand | null = null;
  /** What had the focus before it was handed on because its button could not be used for a while. */
  let resting: HTMLElement | null = null;
  let waiting: ReturnType<typeof setTimeout> | undefined;
  /** What the focus went away from just now. */
  let leaving: EventTarget | null = null;

  const note = () => {
    const element = document.activeElement;
    if (!(element instanceof HTMLElement) || element === document.body) return;
    last = { element, places: placesOf(element) };
    resting = null;
  };
  /** Gives the focus back to what rested, unless somebody went elsewhere. */
  const giveBack = () => {
    const active = document.activeElement;
    if (!resting || !usable(resting) || (active !== document.body && active !== last?.element)) return false;
    resting.focus();
    return true;
  };
  /** Who presses or types something where the focus was handed to is there, and stays. */
  const stay = (event: Event) => {
    if (!(event instanceof KeyboardEvent && event.repeat)) resting = null;
  };
  const look = () => {
    waiting = undefined;
    if (!last || giveBack()) return;
    const active = document.activeElement;
    if (active !== document.body && active !== null && usable(active as HTMLElement)) return;
    // It was left by somebody, and what is said of that below is about to come.
    if (leaving === last.element && usable(last.element)) return;
    const was = last.element;
    const next = nextAfter(last) ?? fallback();
    next?.focus({ preventScroll: true });
    // A button that is busy is gone back to as soon as it can be used again.
    if (was.isConnected) resting = was;
  };
  /** Whoever clicks beside everything, or leaves a field, wants the focus nowhere: that is let be. */
  const left = ({ target }: FocusEvent) => {
    leaving = target;
    setTimeout(() => {
      leaving = null;
      const there = target instanceof HTMLElement && usable(target);
      if (there && last?.element === target && document.activeElement === document.body) last = null;
    });
  };
  const later = () => {
    // Behind what closes a dialog, which gives the focus back to where it came from.
    waiting ??= setTimeout(look, 20);
  };
  // Given back at once: what is typed between would go into the one field, and then to the button.
  const observer = new MutationObserver(() => void (giveBack() || later()));
  observer.observe(document.body, {
    childList: true,
    subtree: true,
    attributes: true,
    attributeFilter: ["disabled", "hidden"],
  });
  document.addEventListener("focusin", note, true);
  document.addEventListener("focusout", left, true);
  for (const act of ACTS) document.addEventListener(act, stay, true);
  note();
  return () => {
    observer.disconnect();
    clearTimeout(waiting);
    document.removeEventListener("focusin", note, true);
    document.removeEventListener("focusout", left, true);
    for (const act of ACTS) document.removeEventListener(act, stay, true);
  };
}

function usable(element: HTMLElement): boolean {
  return element.isConnected && !element.matches(":disabled") && element.closest("[hidden],[inert]") === null;
}

function placesOf(element: HTMLElement): Stand["places"] {
  const places: Stand["places"] = [];
  for (let place = element.closest<HTMLElement>(PLACES); place; ) {
    places.push({ place, order: [...place.querySelectorAll<HTMLElement>(TABBABLE)] });
    place = place.parentElement?.closest<HTMLElement>(PLACES) ?? null;
  }
  return places;
}

function nextAfter({ element, places }: Stand): HTMLElement | null {
  for (const { place, order } of places) {
    if (!usable(place)) continue;
    if (place.hasAttribute("tabindex")) return place;
    // What stands now behind what stood before it: what came in its place, or else its neighbour.
    const at = order.indexOf(element);
    const now = [...place.querySelectorAll<HTMLElement>(TABBABLE)].filter(usable);
    const before = order
      .slice(0, Math.max(0, at))
      .reverse()
      .find((one) => now.includes(one));
    const next = now[before ? now.indexOf(before) + 1 : 0] ?? before;
    if (next) return next;
  }
  return null;
}
