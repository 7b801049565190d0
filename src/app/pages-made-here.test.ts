import { type ComponentProps, createElement } from "react";
import { renderToString } from "react-dom/server";
import { afterEach, expect, it, vi } from "vitest";
import type { Me } from "@/core/views/api";
import { Providers } from "@/ui/frame/providers";
import { answerFor, file, remark } from "@/ui/testing/change";
import { Workspace } from "@/ui/workspace/workspace";

const router = { push: vi.fn(), replace: vi.fn(), refresh: vi.fn(), back: vi.fn() };
vi.mock("next/navigation", () => ({
  useRouter: () => router,
  usePathname: () => "/r/harbour/c/3",
  useSearchParams: () => new URLSearchParams(),
}));
afterEach(() => void vi.useRealTimers());

const me: Me = { name: "ben", fullName: "Ben Oram", administrator: false, portrait: { hue: 0, picture: null } };

/** A clock that runs on holds on to the request, and to all that its page was made of: pages were kept for two minutes each. */
it("leave no clock running where they are made", () => {
  vi.useFakeTimers();
  const changed = file("plan/hold.ts");
  const reading = { from: "base", to: "r1", files: [changed], complete: true, conflicts: [], leftOut: null, merged: 0 };
  const initial = answerFor("ben", [remark("ada")]);
  const frame = { nonce: undefined, mail: false, owner: "ben", me, look: "" } as ComponentProps<typeof Providers>;
  const page = (path: string | null) => {
    const address = { file: path, line: null, thread: null, name: null };
    const named = { from: "base", to: "r1" };
    return renderToString(
      createElement(Providers, frame, createElement(Workspace, { initial, named, reading, wrong: null, me, address })),
    );
  };
  expect(page(null)).toContain("Begin to read");
  expect(page(changed.path)).toContain(changed.path);
  expect(vi.getTimerCount()).toBe(0);
});
