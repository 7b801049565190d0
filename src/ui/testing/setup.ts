import { cleanup } from "@testing-library/react";
import { afterEach, vi } from "vitest";

/** A page of each test's own: nothing is left of the one before, and nobody is asked but who the test says. */
afterEach(() => {
  cleanup();
  window.localStorage.clear();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});
