import { act, renderHook, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { UnsentRemark } from "@/core/views/api";
import { ANCHOR, answerFor, commits, remark } from "../../testing/change";
import { FakeServer, type Request, refuses } from "../../testing/fake-server";
import { Asking } from "../../testing/in-workspace";
import { useChange } from "./use-change";

const CHANGE = "/api/repos/{repo}/changes/{number}" as const;
const NOTE: UnsentRemark = {
  ...{ kind: "remark", id: "n1", body: "Why?", changedAt: 1, weight: "settle", suggestions: [], anchor: ANCHOR },
};

function reading(answers: ConstructorParameters<typeof FakeServer>[0] = {}, first = answerFor("ben")) {
  const server = new FakeServer({ [`GET ${CHANGE}`]: () => first, ...answers });
  const tell = vi.fn<(words: string, undo?: () => void) => void>();
  const { result } = renderHook(() => useChange(first, tell), { wrapper: Asking });
  return { server, tell, now: () => result.current };
}
/** An answer of the server that is held back until the test says. */
function held() {
  let answer!: () => void;
  const waiting = new Promise<void>((resolve) => {
    answer = resolve;
  });
  return { answer, waiting };
}
const unsent = (now: ReturnType<typeof reading>["now"]) => now().view.unsent.map(({ id }) => id);

describe("a command", () => {
  it("shows what the server answers, and asks only for what is not known", async () => {
    const told = answerFor("ben", [remark("ben")]);
    const { server, now } = reading({ [`POST ${CHANGE}`]: () => told });
    await act(async () => expect(await now().command({ kind: "step-back" })).toBeNull());
    await waitFor(() => expect(now().view.threads).toHaveLength(1));
    expect(server.of(`POST ${CHANGE}`)[0].query).toEqual({ have: "e0" });
    // The next answer leaves out what is here already.
    server.now({ [`POST ${CHANGE}`]: () => ({ ...told, change: null, mine: { ...told.mine, picked: ["s1"] } }) });
    await act(async () => void (await now().command({ kind: "step-back" })));
    expect(server.of(`POST ${CHANGE}`)[1].query).toEqual({ have: "e1" });
    await waitFor(() => expect(now().view.picked).toEqual(["s1"]));
    expect(now().view.threads).toHaveLength(1);
  });

  it("is the same when it is asked again after its answer was lost, and another one when it was refused", async () => {
    const { server, now } = reading({ [`POST ${CHANGE}`]: () => refuses("conflict", "Not now.") });
    const keys = () => server.of(`POST ${CHANGE}`).map(({ body }) => (body as { key: string }).key);
    const ask = async (reason: string | null) => {
      await act(async () => expect(await now().command({ kind: "withdraw" })).toBe(reason));
    };
    await ask("Not now.");
    await ask("Not now.");
    expect(new Set(keys()).size).toBe(2);
    server.away = true;
    await ask("The server cannot be reached just now.");
    server.away = false;
    // Whether it got through is not known: so it is asked by the same key, which carries it out once.
    server.now({ [`POST ${CHANGE}`]: () => answerFor("ben") });
    await ask(null);
    await ask(null);
    expect(new Set(keys()).size).toBe(4);
  });
});

describe("a note", () => {
  it("is there at once, and gone again when the server refuses it", async () => {
    const { answer, waiting } = held();
    const { now, tell } = reading({
      [`PUT ${CHANGE}/unsent/{id}`]: async () => {
        await waiting;
        return refuses("conflict", "This change set is merged already.");
      },
    });
    act(() => now().startNote(ANCHOR));
    await waitFor(() => expect(now().view.unsent).toHaveLength(1));
    expect(now().freshNote).toBe(now().view.unsent[0].id);
    await act(async () => answer());
    await waitFor(() => expect(now().view.unsent).toEqual([]));
    expect(tell).toHaveBeenCalledWith("This change set is merged already.");
  });

  it("is not lost to an answer that was asked for before it", async () => {
    const { now } = reading({
      [`PUT ${CHANGE}/unsent/{id}`]: () => new Promise(() => {}),
      [`POST ${CHANGE}`]: () => answerFor("ben"),
    });
    act(() => now().startNote(ANCHOR));
    await waitFor(() => expect(unsent(now)).toHaveLength(1));
    const begun = unsent(now);
    await act(async () => void (await now().command({ kind: "step-back" })));
    expect(unsent(now)).toEqual(begun);
  });

  it("that stands on the same lines is opened again, not doubled", async () => {
    const first = answerFor("ben", [], { unsent: [NOTE] });
    const { now, server } = reading({ [`PUT ${CHANGE}/unsent/{id}`]: () => NOTE }, first);
    act(() => now().startNote(ANCHOR));
    expect(now().freshNote).toBe("n1");
    expect(server.of(`PUT ${CHANGE}/unsent/{id}`)).toEqual([]);
    act(() => now().startNote({ ...ANCHOR, end: 5 }));
    await waitFor(() => expect(now().view.unsent).toHaveLength(2));
    await waitFor(() => expect(server.of(`PUT ${CHANGE}/unsent/{id}`)).toHaveLength(1));
  });

  it("that is dropped can be brought back", async () => {
    const first = answerFor("ben", [], { unsent: [NOTE] });
    const { now, tell } = reading(
      {
        [`GET ${CHANGE}`]: () => answerFor("ben"),
        [`DELETE ${CHANGE}/unsent/{id}`]: () => null,
        [`PUT ${CHANGE}/unsent/{id}`]: () => NOTE,
      },
      first,
    );
    act(() => now().dropNote(NOTE));
    await waitFor(() => expect(unsent(now)).toEqual([]));
    await waitFor(() => expect(tell).toHaveBeenCalledWith("Deleted your unsent remark.", expect.any(Function)));
    await act(async () => tell.mock.calls[0][1]?.());
    await waitFor(() => expect(unsent(now)).toEqual(["n1"]));
  });

  it("is never overtaken: neither by what was typed before, nor by its deletion", async () => {
    const first = held();
    const { now, server } = reading({
      [`PUT ${CHANGE}/unsent/{id}`]: async ({ parts, body }: Request) => {
        if ((body as UnsentRemark).body === "W") await first.waiting;
        return { ...NOTE, id: parts.id, body: (body as UnsentRemark).body };
      },
      [`DELETE ${CHANGE}/unsent/{id}`]: () => null,
    });
    const told = () => server.asked.filter(({ name }) => !name.startsWith("GET"));
    let saved!: Promise<unknown>;
    act(() => {
      saved = Promise.all([now().saveNote({ ...NOTE, body: "W" }), now().saveNote({ ...NOTE, body: "Why" })]);
      now().dropNote(NOTE);
      // Another note waits for neither.
      void now().saveNote({ ...NOTE, id: "n2", body: "Besides" });
    });
    await waitFor(() => expect(told()).toHaveLength(2));
    await act(async () => first.answer());
    await act(async () => void (await saved));
    await waitFor(() => expect(told()).toHaveLength(4));
    expect(told().map(({ name, body }) => [name.split(" ")[0], (body as UnsentRemark)?.body])).toEqual([
      ["PUT", "W"],
      ["PUT", "Besides"],
      ["PUT", "Why"],
      ["DELETE", undefined],
    ]);
  });

  it("is kept as it stands before it is sent", async () => {
    const first = held();
    const { now, server } = reading({
      [`PUT ${CHANGE}/unsent/{id}`]: async ({ parts, body }: Request) => {
        await first.waiting;
        return { ...NOTE, id: parts.id, body: (body as UnsentRemark).body };
      },
      [`POST ${CHANGE}`]: () => answerFor("ben"),
    });
    const keep = () => now().saveNote({ ...NOTE, body: "Why not?" });
    now().writing("n1", { keep, pending: () => null, take: () => undefined, cancel: () => undefined });
    let sent!: Promise<string | null>;
    act(() => {
      sent = now().command({ kind: "send-one", note: "n1" });
    });
    await waitFor(() => expect(server.of(`PUT ${CHANGE}/unsent/{id}`)).toHaveLength(1));
    expect(server.of(`POST ${CHANGE}`)).toEqual([]);
    await act(async () => first.answer());
    await act(async () => expect(await sent).toBeNull());
    expect(server.of(`POST ${CHANGE}`)).toHaveLength(1);
  });

  it("that cannot be kept is not sent as it was before", async () => {
    const both = answerFor("ben", [], { unsent: [NOTE, { ...NOTE, id: "n2" }] });
    const { now, server } = reading({ [`POST ${CHANGE}`]: () => both }, both);
    const away = vi.fn(async () => "It has too many characters.");
    const send = async (outcome: string | null, one = false) => {
      const review = { kind: "send-review", revision: 1, verdict: "none", remark: "", read: commits(1) } as const;
      const command = one ? ({ kind: "send-one", note: "n1" } as const) : review;
      await act(async () => expect(await now().command(command)).toBe(outcome));
    };
    const leave = now().writing("n2", {
      ...{ keep: away, pending: () => ({ body: "Long" }), take: () => undefined, cancel: () => undefined },
    });
    await send(null, true);
    expect(away).not.toHaveBeenCalled();
    await send("It has too many characters.");
    expect(server.of(`POST ${CHANGE}`)).toHaveLength(1);
    await act(async () => leave());
    await send("It has too many characters.");
    // Sent from elsewhere meanwhile, it is no note any more, and stands in nobody's way.
    server.now({ [`POST ${CHANGE}`]: () => answerFor("ben") });
    await send(null, true);
    await send(null);
  });

  it("that takes too long to be kept is said not to be, so that it is tried again", async () => {
    const timeout = vi
      .spyOn(AbortSignal, "timeout")
      .mockReturnValue(AbortSignal.abort(new DOMException("", "TimeoutError")));
    const { now, server } = reading();
    server.away = true;
    await act(async () => expect(await now().saveNote(NOTE)).toBe("The server cannot be reached just now."));
    timeout.mockRestore();
  });

  it("stays when it could not be dropped", async () => {
    const first = answerFor("ben", [], { unsent: [NOTE] });
    const { now, tell, server } = reading({}, first);
    server.away = true;
    await act(async () => now().dropNote(NOTE));
    await waitFor(() => expect(unsent(now)).toEqual(["n1"]));
    expect(tell).toHaveBeenCalledWith("The server cannot be reached just now.");
  });
});

it("shows a pick at once, and takes it back when it is refused", async () => {
  const { answer, waiting } = held();
  const { now, tell, server } = reading({
    [`PUT ${CHANGE}/picks`]: async () => {
      await waiting;
      return refuses("forbidden", "Only the author can.");
    },
  });
  let done!: Promise<void>;
  act(() => {
    done = now().pick("t1", "s1", true);
  });
  await waitFor(() => expect(now().view.picked).toEqual(["s1"]));
  answer();
  await act(() => done);
  await waitFor(() => expect(now().view.picked).toEqual([]));
  expect(tell).toHaveBeenCalledWith("Only the author can.");
  expect(server.of(`PUT ${CHANGE}/picks`)[0].body).toEqual({ thread: "t1", suggestion: "s1", picked: true });
});

it("keeps the last of several picks, whatever is answered in between", async () => {
  const said: boolean[] = [];
  const first = held();
  const second = held();
  const server: { picked: string[] } = { picked: [] };
  const answer = () => {
    const whole = answerFor("ben");
    return { ...whole, mine: { ...whole.mine, picked: server.picked } };
  };
  const { now } = reading({
    [`GET ${CHANGE}`]: answer,
    [`POST ${CHANGE}`]: answer,
    [`PUT ${CHANGE}/picks`]: async ({ body }: Request) => {
      const { picked } = body as { picked: boolean };
      await [first, second][said.length]?.waiting;
      said.push(picked);
      server.picked = picked ? ["s1"] : [];
      return null;
    },
  });
  const done: Promise<void>[] = [];
  act(() => void done.push(now().pick("t1", "s1", true), now().pick("t1", "s1", false), now().pick("t1", "s1", true)));
  first.answer();
  await waitFor(() => expect(said).toEqual([true]));
  // An answer from between the picks: the server has heard of two of the three.
  second.answer();
  await act(async () => void (await now().command({ kind: "step-back" })));
  expect(now().view.picked).toEqual(["s1"]);
  await act(() => Promise.all(done).then(() => undefined));
  expect(said).toEqual([true, false, true]);
  await waitFor(() => expect(now().view.picked).toEqual(["s1"]));
});

it("tells of a pick while another thread’s is not answered", async () => {
  const { waiting, answer } = held();
  const said: string[] = [];
  const { now } = reading({
    [`PUT ${CHANGE}/picks`]: async ({ body }: Request) => {
      const { thread, picked } = body as { thread: string; picked: boolean };
      said.push(`${thread} ${picked}`);
      if (thread === "t1") await waiting;
    },
  });
  const done: Promise<void>[] = [];
  act(() => void done.push(now().pick("t1", "s1", true), now().pick("t1", "s1", false), now().pick("t2", "s2", true)));
  await waitFor(() => expect(said).toEqual(["t1 true", "t2 true"]));
  await act(async () => {
    answer();
    await Promise.all(done);
  });
  expect(said).toEqual(["t1 true", "t2 true", "t1 false"]);
});

it("shows what the server has where of two picks both are refused", async () => {
  const { now } = reading({ [`PUT ${CHANGE}/picks`]: () => refuses("forbidden", "Only the author can.") });
  const done: Promise<void>[] = [];
  act(() => void done.push(now().pick("t1", "s1", true), now().pick("t1", "s1", false)));
  await act(() => Promise.all(done).then(() => undefined));
  await waitFor(() => expect(now().view.picked).toEqual([]));
});
