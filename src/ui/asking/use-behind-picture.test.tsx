import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import { afterPicture } from "./after-picture";
import { useBehindPicture } from "./use-behind-picture";

afterEach(cleanup);

it("has what a picture changed behind that picture, and the last of what came meanwhile", async () => {
  const shown: string[] = [];
  const of = ({ words }: { words: string }) => {
    const behind = useBehindPicture(words);
    shown.push(`${words}: ${behind}`);
    return behind;
  };
  const { result, rerender } = renderHook(of, { initialProps: { words: "ebb" } });
  rerender({ words: "flood" });
  rerender({ words: "slack" });
  expect(result.current).toBe("ebb");
  await waitFor(() => expect(result.current).toBe("slack"));
  expect(shown).toEqual(["ebb: ebb", "flood: ebb", "slack: ebb", "slack: slack"]);
});

it("waits for nothing where nothing was there, and tells nobody who is gone", async () => {
  const { result, rerender, unmount } = renderHook(({ files }) => useBehindPicture(files), {
    initialProps: { files: undefined as string[] | undefined },
  });
  expect(result.current).toBeUndefined();
  rerender({ files: ["tide.ts"] });
  expect(result.current).toEqual(["tide.ts"]);
  await act(afterPicture);
  rerender({ files: ["quay.ts"] });
  expect(result.current).toEqual(["tide.ts"]);
  unmount();
  await afterPicture();
  expect(result.current).toEqual(["tide.ts"]);
});

it("never has what was of something else", async () => {
  const { result, rerender } = renderHook(({ words, of }) => useBehindPicture(words, of), {
    initialProps: { words: "ebb", of: "r1" },
  });
  rerender({ words: "flood", of: "r2" });
  expect(result.current).toBe("flood");
  await act(afterPicture);
  rerender({ words: "slack", of: "r2" });
  expect(result.current).toBe("flood");
  await waitFor(() => expect(result.current).toBe("slack"));
});
