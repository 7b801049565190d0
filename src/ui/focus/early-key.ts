import { isTypedInto } from "./taken";

/** So long ago, in milliseconds, a key may have been pressed to count still: what comes much later is no answer to it. */
const LATEST = 5_000;

interface Early {
  key: KeyboardEvent | null;
  stop: () => void;
}

declare global {
  interface Window {
    earlyKey?: Early;
  }
}

function hold(): void {
  const early: Early = { key: null, stop: () => window.removeEventListener("keydown", listen, true) };
  const listen = (event: KeyboardEvent) => {
    early.key = event;
  };
  window.addEventListener("keydown", listen, true);
  window.earlyKey = early;
}

/** Runs within the page before any of it is drawn: the page stands there, and says which keys it has, before its scripts are loaded. */
export const HOLD_EARLY_KEY = `(${hold})()`;

/**
 * The key that was pressed last before the page listened, pressed again now that it does. Only a sign of its own, which does nothing without the page; not
 * one that was held down; and one alone: who pressed a key three times since nothing happened meant it once.
 */
export function pressEarlyKey(): void {
  const early = window.earlyKey;
  if (!early) return;
  delete window.earlyKey;
  early.stop();
  const { key: event } = early;
  if (!event || event.repeat || event.ctrlKey || event.metaKey || isTypedInto(event.target)) return;
  // Some browsers look for words on the page at a stroke or a quote.
  if (!/^[^\s/']$/u.test(event.key) || performance.now() - event.timeStamp > LATEST) return;
  const { key, code, shiftKey, altKey } = event;
  const again = new KeyboardEvent("keydown", { key, code, shiftKey, altKey, bubbles: true, cancelable: true });
  document.body.dispatchEvent(again);
}
