import { renderHook, waitFor } from "@testing-library/react";
import { expect, it } from "vitest";
import { compareFiles } from "@/core/diff/compare";
import type { Points } from "@/core/reading/points";
import { file } from "../../testing/change";
import { FakeServer, refuses } from "../../testing/fake-server";
import { Asking } from "../../testing/in-workspace";
import { useFile } from "./use-file";

const COLOURS = "GET /api/repos/{repo}/colours" as const;
const ALL: Points = { kind: "revision", from: "base", to: 1 };
const [OLD, NEXT] = ["a".repeat(40), "b".repeat(40)];
const bytes = (text: string) => new TextEncoder().encode(text);

/** A file with colours, unless they are `refused`; and the colours with which it was drawn, one after the other. Its old state can be left out. */
function opened(refused: string[] = [], old: string | null = OLD) {
  const server = new FakeServer({
    "GET /api/repos/{repo}/files": () => ({
      comparison: compareFiles(old === null ? null : bytes("ebb\nslack\n"), bytes("flood\nslack\n")),
      ...{ text: "flood\nslack\n", removed: old ? "ebb\n" : "", untold: null },
    }),
    [COLOURS]: ({ query }) =>
      refused.includes(query.path ?? "")
        ? refuses("missing", "There are no such contents here.")
        : { old: query.old ? [[3, 1]] : [], new: query.new ? [[3, 2]] : [] },
  });
  const drawn = new Set<unknown>();
  const { result, rerender } = renderHook(
    ({ path }) => {
      const opened = useFile("quay", { repo: "quay", number: "1" }, ALL, file(path, { oldId: old }), false);
      drawn.add(opened.colours);
      return opened;
    },
    { wrapper: Asking, initialProps: { path: "tide.ts" } },
  );
  return { server, now: () => result.current, drawn: () => [...drawn], go: (path: string) => rerender({ path }) };
}

it("asks for the colours of both sides at once, and is drawn with neither alone", async () => {
  const { now, drawn, server } = opened();
  const both = { old: [[3, 1]], new: [[3, 2]] };
  await waitFor(() => expect(now().colours).toEqual(both));
  expect(drawn()).toEqual([{ old: [], new: [] }, both]);
  expect(server.of(COLOURS).map(({ query }) => query)).toEqual([{ old: OLD, new: NEXT, path: "tide.ts" }]);
});

it("asks for no side that is not there", async () => {
  const { now, server } = opened([], null);
  await waitFor(() => expect(now().colours).toEqual({ old: [], new: [[3, 2]] }));
  expect(server.of(COLOURS).map(({ query }) => query)).toEqual([{ new: NEXT, path: "tide.ts" }]);
});

it("asks again for what it could not have, where that is opened again", async () => {
  const refused = ["tide.ts"];
  const { now, go, server } = opened(refused);
  await waitFor(() => expect(server.of(COLOURS)).toHaveLength(1));
  refused.pop();
  go("quay.ts");
  await waitFor(() => expect(now().colours.new).toEqual([[3, 2]]));
  go("tide.ts");
  expect(now().colours.new).toEqual([]);
  await waitFor(() => expect(now().colours.new).toEqual([[3, 2]]));
  expect(server.of(COLOURS).map(({ query }) => query.path)).toEqual(["tide.ts", "quay.ts", "tide.ts"]);
});
