import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";

// As the tests' own limit is: a moment of a busy machine is no failure.
configure({ asyncUtilTimeout: 50_000 });

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
