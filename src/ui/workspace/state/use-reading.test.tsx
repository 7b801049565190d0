import { act, renderHook, waitFor } from "@testing-library/react";
import { useState } from "react";
import { describe, expect, it, vi } from "vitest";
import { UNTOLD } from "@/core/reading/files";
import type { Points } from "@/core/reading/points";
import type { ReadingView } from "@/core/views/api";
import { file } from "../../testing/change";
import { FakeServer, refuses } from "../../testing/fake-server";
import { Asking } from "../../testing/in-workspace";
import { useReading, useTold, useToldAhead } from "./use-reading";

const READING = "GET /api/repos/{repo}/changes/{number}/reading" as const;
const MARKS = "PUT /api/repos/{repo}/changes/{number}/read-marks" as const;
const place = { repo: "quay", number: "1" };
const all: Points = { kind: "revision", from: "base", to: 1 };
const paths = ["a.ts", "b.ts", "c.ts"];

function answer(files: ReadingView["files"]): ReadingView {
  return { from: "base", to: "r1", files, complete: true, conflicts: [], leftOut: null, merged: 0 };
}
const untold = paths.map((path) => file(path, { oldId: UNTOLD, newId: UNTOLD }));

describe("the ids of a long list", () => {
  function listed(points: Points) {
    const server = new FakeServer({
      [READING]: ({ query }) => {
        const from = paths.indexOf(query.path);
        const more = Number(query.next ?? 0);
        return answer(paths.slice(from, from + 1 + more).map((path) => file(path)));
      },
    });
    const { result } = renderHook(
      () => {
        const [chosen, choose] = useState(-1);
        return { tellAhead: useToldAhead(place, points), choose, ...useTold(place, points, untold[chosen]) };
      },
      { wrapper: Asking },
    );
    return { asked: () => server.of(READING).map(({ query }) => query), now: () => result.current };
  }

  it("are told of what is in sight and what follows, once, so that nothing is asked for what is chosen then", async () => {
    const { asked, now } = listed(all);
    await act(async () => now().tellAhead(untold.slice(0, 2)));
    await waitFor(() => expect(asked()).toHaveLength(1));
    expect(asked()[0]).toMatchObject({ from: "base", to: "r1", path: "a.ts" });
    await act(async () => now().tellAhead(untold.slice(1)));
    act(() => now().choose(2));
    expect(now().told).toMatchObject({ path: "c.ts", newId: "b".repeat(40) });
    expect(asked()).toHaveLength(1);
  });

  it("are asked for when it is chosen, where what is new to somebody may have changed by then", async () => {
    const { asked, now } = listed({ kind: "revision", from: "read", to: 1 });
    await act(async () => now().tellAhead(untold));
    expect(asked()).toHaveLength(0);
    act(() => now().choose(1));
    await waitFor(() => expect(now().told?.newId).toBe("b".repeat(40)));
    expect(asked()).toHaveLength(1);
  });
});

describe("a file that is marked read", () => {
  it("is so at once, alone, and is not where the server says no", async () => {
    const server = new FakeServer({ [MARKS]: () => null as never });
    const tell = vi.fn();
    const files = paths.map((path) => file(path));
    const { result } = renderHook(() => useReading(place, all, answer(files), tell), { wrapper: Asking });
    const read = () => result.current.files?.filter((one) => one.read === "read").map(({ path }) => path);
    await act(async () => result.current.markRead(files[1], 1, true));
    expect(read()).toEqual(["b.ts"]);
    expect(result.current.files?.[0]).toBe(files[0]);
    expect(server.of(MARKS)[0].body).toMatchObject({ path: "b.ts", revision: 1, read: true });
    server.now({ [MARKS]: () => refuses("conflict", "Not now.") });
    await act(async () => result.current.markRead(files[2], 1, true));
    expect(read()).toEqual(["b.ts"]);
    expect(tell).toHaveBeenCalledWith("Not now.");
  });

  it("goes in turn with what is taken back at once, and a refusal of the first leaves the last", async () => {
    let refuse!: () => void;
    const first = new Promise<void>((resolve) => {
      refuse = resolve;
    });
    const server = new FakeServer({
      [MARKS]: async ({ body }) => {
        if ((body as { read: boolean }).read) await first.then(() => refuses("conflict", "Not now."));
        return null;
      },
    });
    const tell = vi.fn();
    const files = [file("a.ts")];
    const { result } = renderHook(() => useReading(place, all, answer(files), tell), { wrapper: Asking });
    const state = () => result.current.files?.[0].read;
    let done!: Promise<unknown>;
    act(() => {
      done = Promise.all([
        result.current.markRead(files[0], 1, true),
        result.current.markRead({ ...files[0], read: "read" }, 1, false),
      ]);
    });
    expect(state()).toBe("unread");
    expect(server.of(MARKS)).toHaveLength(1);
    await act(async () => {
      refuse();
      await done;
    });
    expect(server.of(MARKS).map(({ body }) => (body as { read: boolean }).read)).toEqual([true, false]);
    expect(state()).toBe("unread");
    expect(tell).toHaveBeenCalledWith("Not now.");
  });
});

describe("files that somebody has before them to their ends", () => {
  const looking = () => {
    const server = new FakeServer({ [MARKS]: () => null as never });
    const files = paths.map((path) => file(path));
    const shown = renderHook(() => useReading(place, all, answer(files), vi.fn()), { wrapper: Asking });
    return { ...shown, server, told: () => server.of(MARKS).map(({ body }) => body) };
  };

  it("are told of together when the page is left, each once", async () => {
    const { result, told } = looking();
    act(() => {
      for (const path of ["a.ts", "b.ts", "a.ts"]) result.current.markLooked(path, 1);
      result.current.markLooked("a.ts", 2);
    });
    expect(told()).toEqual([]);
    dispatchEvent(new Event("pagehide"));
    expect(told()).toEqual([
      { paths: ["a.ts", "b.ts"], revision: 1, looked: true },
      { paths: ["a.ts"], revision: 2, looked: true },
    ]);
  });

  it("are told of when another page takes the place of this one, and again where that was refused", async () => {
    const { result, server, told, unmount } = looking();
    server.now({ [MARKS]: () => refuses("unavailable", "Not now.") });
    act(() => result.current.markLooked("a.ts", 1));
    await act(async () => dispatchEvent(new Event("pagehide")));
    act(() => result.current.markLooked("a.ts", 1));
    unmount();
    expect(told()).toEqual(Array.from({ length: 2 }, () => ({ paths: ["a.ts"], revision: 1, looked: true })));
  });
});
