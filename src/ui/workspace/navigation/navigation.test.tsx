import { act, renderHook } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { wholeView } from "@/core/doors/endpoints/change-view";
import type { Points } from "@/core/reading/points";
import type { ReadingFile } from "@/core/views/api";
import { ANCHOR, answerFor, file, type Happening, remark, revised } from "../../testing/change";
import { useCommitWalk } from "./use-commits";
import { nextIn, useFilesWalk } from "./use-files-walk";
import { type Address, FIRST, useNavigation } from "./use-navigation";
import { useThreadsWalk } from "./use-threads-walk";

const NOWHERE: Address = { file: null, line: null, thread: null, name: null };
const ALL: Points = { kind: "revision", from: "base", to: 1 };
const viewOf = (...happenings: Happening[]) => wholeView(answerFor("ben", happenings));
const search = () => window.location.search;

beforeEach(() => window.history.replaceState(null, "", "/r/harbour/c/3"));

describe("what is open", () => {
  it("is named by the address of the page, and nothing that is not needed", () => {
    const { result } = renderHook(() => useNavigation(viewOf(), ALL, NOWHERE));
    expect(search()).toBe("");
    act(() => result.current.choose("a.ts"));
    expect(search()).toBe("?file=a.ts");
    act(() => result.current.chooseLine("a.ts", "old", 7));
    expect(search()).toBe("?file=a.ts&line=old%3A7");
    act(() => result.current.chooseLine("a.ts", "new", 4, "t1"));
    expect(search()).toBe("?file=a.ts&thread=t1");
    act(() => result.current.setPoints({ kind: "commits", first: "1", last: "2" }));
    expect(search()).toContain("from=before%3A1&to=at%3A2");
    act(() => result.current.choose(null));
    act(() => result.current.setPoints(ALL));
    expect(search()).toBe("");
  });

  it("is gone through by back and forward, file by file; lines within one are no steps", async () => {
    const steps = () => window.history.length;
    const { result } = renderHook(() => useNavigation(viewOf(remark("ben")), ALL, NOWHERE));
    const before = steps();
    act(() => result.current.choose("a.ts"));
    act(() => result.current.chooseLine("a.ts", "new", 7));
    act(() => result.current.choose("b.ts"));
    expect(steps()).toBe(before + 2);
    const back = async (to: string) => {
      // As the browser does it: the address first, then the word of it.
      window.history.replaceState(null, "", `/r/harbour/c/3${to}`);
      await act(async () => void window.dispatchEvent(new PopStateEvent("popstate")));
    };
    await back("?file=a.ts&line=new%3A7");
    expect(result.current).toMatchObject({ chosen: "a.ts", target: { side: "new", line: 7 } });
    await back("?from=r1&to=r1&thread=t1");
    expect(result.current).toMatchObject({ chosen: null, activeThread: "t1", points: { from: 1, to: 1 } });
    await back("");
    expect(result.current).toMatchObject({ chosen: null, activeThread: null, points: ALL });
    expect(steps()).toBe(before + 2);
  });

  it("has a step of its own from a name to where that leads, and asks about the name again on the way back", async () => {
    const { result } = renderHook(() => useNavigation(viewOf(), ALL, NOWHERE));
    act(() => result.current.chooseLine("a.ts", "new", 7));
    act(() => result.current.setNamed({ side: "new", line: 7, name: "fits" }));
    const [from, before] = [search(), window.history.length];
    expect(from).toBe("?file=a.ts&line=new%3A7&name=fits");
    act(() => result.current.chooseLine("a.ts", "new", 40));
    expect(search()).toBe("?file=a.ts&line=new%3A40");
    expect(window.history.length).toBe(before + 1);
    window.history.replaceState(null, "", `/r/harbour/c/3${from}`);
    await act(async () => void window.dispatchEvent(new PopStateEvent("popstate")));
    expect(result.current.target).toMatchObject({ side: "new", line: 7, name: "fits" });
    // That the name is found there again is no step.
    act(() => result.current.setNamed({ side: "new", line: 7, name: "fits" }));
    expect(window.history.length).toBe(before + 1);
    act(() => result.current.chooseLine("a.ts", "new", 12));
    expect(window.history.length).toBe(before + 2);
  });

  it("asks about no name any more where a file says so, and is not made anew where none was asked about", () => {
    let made = 0;
    const { result } = renderHook(() => {
      made++;
      return useNavigation(viewOf(), ALL, NOWHERE);
    });
    act(() => result.current.chooseLine("a.ts", "new", 7));
    act(() => result.current.setNamed({ side: "new", line: 7, name: "fits" }));
    act(() => result.current.setNamed(null));
    expect(search()).toBe("?file=a.ts&line=new%3A7");
    const before = made;
    act(() => result.current.setNamed(null));
    expect(made).toBe(before);
  });

  it("is what the address named at first: a line, or a thread where it was written", () => {
    const at = (address: Partial<Address>) =>
      renderHook(() => useNavigation(viewOf(remark("ben")), ALL, { ...NOWHERE, ...address })).result.current.target;
    expect(at({ file: "a.ts", line: "old:12" })).toMatchObject({ side: "old", line: 12 });
    expect(at({ thread: "t1" })).toMatchObject({ side: "new", line: ANCHOR.start, thread: "t1" });
    expect(at({ line: "sideways:3" })).toBeNull();
    expect(at({ thread: "gone" })).toBeNull();
  });

  it("is of the revision that was shown before single commits, whatever comes meanwhile", () => {
    const of = (view: ReturnType<typeof viewOf>, points: Points = ALL) =>
      renderHook(({ now }) => useNavigation(now, points, NOWHERE), { initialProps: { now: view } });
    const { result, rerender } = of(viewOf());
    act(() => result.current.setPoints({ kind: "commits", first: "1", last: "1" }));
    rerender({ now: viewOf(revised("ada", 2)) });
    act(() => result.current.setPoints({ kind: "commits", first: "1", last: "2" }));
    expect(result.current.revision).toBe(1);
    act(() => result.current.setPoints({ kind: "revision", from: 1, to: 2 }));
    act(() => result.current.setPoints({ kind: "commits", first: "3", last: "3" }));
    expect(result.current.revision).toBe(2);
    // An address that names commits alone is of the newest.
    const opened = of(viewOf(revised("ada", 2)), { kind: "commits", first: "1", last: "1" });
    expect(opened.result.current.revision).toBe(2);
  });

  it("can be the same line twice, and goes to the first file from the brief", () => {
    const { result } = renderHook(() => useNavigation(viewOf(), ALL, NOWHERE));
    act(() => result.current.chooseLine("a.ts", "new", 3));
    const first = result.current.target;
    act(() => result.current.chooseLine("a.ts", "new", 3));
    expect(result.current.target).not.toEqual(first);
    act(() => result.current.choose(null));
    act(() => result.current.showPoints({ kind: "revision", from: "read", to: 1 }));
    expect(result.current.chosen).toBe(FIRST);
    expect(search()).not.toContain("file");
  });
});

function walking(files: ReadingFile[] | undefined, chosen: string | null, whole = true) {
  const tell = vi.fn();
  const onRead = vi.fn();
  const navigation = { choose: vi.fn(), chooseLine: vi.fn(), chosen } as never as ReturnType<typeof useNavigation>;
  const file = files?.find(({ path }) => path === chosen);
  const { result } = renderHook(() =>
    useFilesWalk(navigation, files, file, whole ? onRead : null, async (path) => path === "same.ts", tell),
  );
  return { walk: result.current, tell, onRead, choose: vi.mocked(navigation.choose), line: navigation.chooseLine };
}

describe("going through the files", () => {
  const files = [file("a.ts"), file("b.ts", { toRead: 0 }), file("c.ts", { read: "read" }), file("d.ts")];

  it("goes one by one, back to the brief, and says where it ends", () => {
    const first = walking(files, "a.ts");
    first.walk.step(1);
    // As the outline shows them: what is left first, then what is quiet, then what is read.
    expect(first.choose).toHaveBeenCalledWith("d.ts");
    first.walk.step(-1);
    expect(first.choose).toHaveBeenLastCalledWith(null);
    const last = walking(files, "c.ts");
    last.walk.step(1);
    expect(last.tell).toHaveBeenCalledWith("This is the last file.");
    last.walk.step(-1);
    expect(last.choose).toHaveBeenCalledWith("b.ts");
    const brief = walking(files, null);
    brief.walk.step(1);
    expect(brief.choose).toHaveBeenCalledWith("a.ts");
  });

  it("goes to what is left to read, past quiet and read ones, and round", () => {
    const { walk, choose } = walking(files, "a.ts");
    expect(walk.upcoming.map(({ path }) => path)).toEqual(["d.ts", "a.ts"]);
    walk.nextUnread();
    expect(choose).toHaveBeenCalledWith("d.ts");
    const round = walking(files, "d.ts");
    round.walk.nextUnread();
    expect(round.choose).toHaveBeenCalledWith("a.ts");
    const only = walking([files[0], files[2]], "a.ts");
    only.walk.nextUnread();
    expect(only.tell).toHaveBeenCalledWith("No other file is left to read.");
    const none = walking([files[2]], "c.ts");
    none.walk.nextUnread();
    expect(none.tell).toHaveBeenCalledWith("Nothing is left to read.");
  });

  it("marks a file read on the way, but not for having read some commits of it", () => {
    const { walk, onRead, choose } = walking(files, "a.ts");
    walk.readNext();
    expect(onRead).toHaveBeenCalledOnce();
    expect(choose).toHaveBeenCalledWith("d.ts");
    const commits = walking(files, "a.ts", false);
    commits.walk.readNext();
    expect(commits.onRead).not.toHaveBeenCalled();
    expect(commits.choose).toHaveBeenCalledWith("d.ts");
    const last = walking([files[2], files[3]], "d.ts");
    last.walk.readNext();
    expect(last.tell).toHaveBeenCalledWith("That was the last one: everything that is to be read is read.");
  });

  it("goes to the first of files that are on their way, and says so where it cannot tell which is meant", () => {
    for (const go of ["step", "nextUnread"] as const) {
      const brief = walking(undefined, null);
      brief.walk[go](1);
      expect(brief.choose).toHaveBeenCalledExactlyOnceWith(FIRST);
    }
    const open = walking(undefined, "a.ts");
    open.walk.step(1);
    open.walk.nextUnread();
    open.walk.readNext();
    expect(open.tell.mock.calls).toEqual(Array(3).fill(["The files are still on their way."]));
    expect([open.choose, open.onRead].flatMap(({ mock }) => mock.calls)).toEqual([]);
    const none = walking([], null);
    none.walk.step(1);
    expect(none.tell).toHaveBeenCalledWith("No file is compared here.");
  });

  it("finds a line in a file by the name that it had, and in one that did not change", async () => {
    const { walk, tell, line } = walking([file("new.ts", { oldPath: "old.ts" })], null);
    walk.jump("old.ts", "old", 3);
    expect(line).toHaveBeenCalledWith("new.ts", "old", 3);
    walk.jump("same.ts", "old", 9);
    await vi.waitFor(() => expect(line).toHaveBeenLastCalledWith("same.ts", "new", 9));
    walk.jump("none.ts", "new", 1);
    await vi.waitFor(() => expect(tell).toHaveBeenCalled());
    expect(tell).toHaveBeenCalledWith("none.ts is not among the files now compared.");
    expect(nextIn([1, 2, 3], 2, (n) => n > 3)).toBeUndefined();
  });
});

describe("going to threads", () => {
  const view = viewOf(remark("ben"), [
    "ben",
    "reviewed",
    {
      ...{ revision: 1, verdict: "none", remark: "" },
      remarks: [
        { thread: "t2", comment: "k2", anchor: { ...ANCHOR, path: "a.ts", start: 9, end: 9 }, body: "Why?" },
        { thread: "t3", comment: "k3", anchor: { kind: "change", revision: 1 }, body: "In all." },
        { thread: "t4", comment: "k4", anchor: { ...ANCHOR, path: "elsewhere.ts" }, body: "Here?" },
      ],
    },
  ]);

  function threads(activeThread: string | null, others: string[] = []) {
    const tell = vi.fn();
    const navigation = { choose: vi.fn(), chooseLine: vi.fn(), setActiveThread: vi.fn(), activeThread } as never;
    const openOther = vi.fn(async (path: string) => others.includes(path));
    const files = [file("a.ts"), file("plan/hold.ts")];
    const { result } = renderHook(() => useThreadsWalk(navigation, view, files, 1, openOther, tell));
    const { choose, chooseLine } = navigation as ReturnType<typeof useNavigation>;
    return { walk: result.current, tell, choose: vi.mocked(choose), line: vi.mocked(chooseLine), openOther };
  }

  it("goes in the order of the files and lines, and round", () => {
    const open = () => true;
    const first = threads("t3");
    first.walk.next(open, "none");
    // After what stands on the whole come those in files that are not compared, then those in the files in order.
    expect(first.openOther).toHaveBeenCalledWith("elsewhere.ts");
    const third = threads("t2");
    third.walk.next(open, "none");
    expect(third.line).toHaveBeenCalledWith("plan/hold.ts", "new", 4, "t1");
    const last = threads("t1");
    last.walk.next(open, "none");
    expect(last.choose).toHaveBeenCalledWith(null, null, "t3");
    const none = threads(null);
    none.walk.next(() => false, "There is no open thread here.");
    expect(none.tell).toHaveBeenCalledWith("There is no open thread here.");
  });

  it("opens a file that did not change, or says that there is none", async () => {
    const there = threads(null, ["elsewhere.ts"]);
    there.walk.goTo({ ...ANCHOR, path: "elsewhere.ts" }, "t4");
    await vi.waitFor(() => expect(there.line).toHaveBeenCalledWith("elsewhere.ts", "new", 4, "t4"));
    const gone = threads(null);
    gone.walk.goTo({ ...ANCHOR, path: "gone.ts" }, null);
    await vi.waitFor(() => expect(gone.tell).toHaveBeenCalledWith("gone.ts is not among the files now compared."));
  });
});

describe("going through the commits", () => {
  const commits = ["1", "2", "3"].map((id) => ({ id, author: "Ada", at: 0, subject: `Commit ${id}`, body: "" }));

  function commitWalk(points: Points) {
    const onPoints = vi.fn();
    const tell = vi.fn();
    const { result } = renderHook(() => useCommitWalk(commits, points, onPoints, tell));
    return { walk: result.current, onPoints, tell };
  }
  const some = (first: string, last = first): Points => ({ kind: "commits", first, last });

  it("takes them one by one, or one more along with those shown", () => {
    const all = commitWalk(ALL);
    all.walk.step(1);
    expect(all.onPoints).toHaveBeenCalledWith(some("1"));
    const second = commitWalk(some("2"));
    second.walk.grow(1);
    expect(second.onPoints).toHaveBeenLastCalledWith(some("2", "3"));
    second.walk.step(-1);
    expect(second.onPoints).toHaveBeenLastCalledWith(some("1"));
    second.walk.upTo(0);
    expect(second.onPoints).toHaveBeenLastCalledWith(some("1", "2"));
    const last = commitWalk(some("2", "3"));
    last.walk.step(1);
    expect(last.tell).toHaveBeenCalledWith("That was the last commit; A shows all of it.");
    last.walk.grow(1);
    expect(last.tell).toHaveBeenLastCalledWith("There is no commit after these.");
    last.walk.grow(-1);
    expect(last.onPoints).toHaveBeenCalledWith(some("2"));
    expect(second.walk.shown).toEqual({ first: 1, last: 1 });
    expect(viewOf(revised("ada", 2)).revisions).toHaveLength(2);
  });
});
