import { cleanup } from "@testing-library/react";
import { afterEach, vi } from "vitest";

/** A page of each test's own, though files share one: nothing is left of the test before, and nobody is asked but who the test says. */
afterEach(() => {
  cleanup();
  window.dispatchEvent(new Event("blur"));
  document.body.replaceChildren();
  window.history.replaceState(null, "", "/");
  window.localStorage.clear();
  window.sessionStorage.clear();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});
