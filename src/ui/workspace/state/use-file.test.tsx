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

/** A file with colours of each side that is none of `refused`; and the colours with which it was drawn, one after the other. */
function opened(refused: readonly string[] = []) {
  const server = new FakeServer({
    "GET /api/repos/{repo}/files": () => ({
      comparison: compareFiles(bytes("ebb\nslack\n"), bytes("flood\nslack\n")),
      ...{ text: "flood\nslack\n", removed: "ebb\n", untold: null },
    }),
    [COLOURS]: ({ query }) =>
      refused.includes(query.id)
        ? refuses("missing", "There are no such contents here.")
        : { lines: [[3, query.id === OLD ? 1 : 2]] },
  });
  const drawn = new Set<unknown>();
  const { result } = renderHook(
    () => {
      const opened = useFile("quay", { repo: "quay", number: "1" }, ALL, file("tide.ts"), false);
      drawn.add(opened.colours);
      return opened;
    },
    { wrapper: Asking },
  );
  return { server, now: () => result.current, drawn: () => [...drawn] };
}

it("has the colours of both sides at once, never those of one alone", async () => {
  const { now, drawn, server } = opened();
  const both = { old: [[3, 1]], next: [[3, 2]] };
  await waitFor(() => expect(now().colours).toEqual(both));
  expect(drawn()).toEqual([{ old: [], next: [] }, both]);
  expect(server.of(COLOURS).map(({ query }) => query.id)).toEqual([OLD, NEXT]);
});

it("has those of one side where the other has none", async () => {
  const { now } = opened([OLD]);
  await waitFor(() => expect(now().colours).toEqual({ old: [], next: [[3, 2]] }));
});
