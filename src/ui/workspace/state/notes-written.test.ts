import { expect, it, vi } from "vitest";
import { NotesWritten } from "./notes-written";

/** A field in which a note is written: `typed` is what waits there to be kept. */
function field(server: { refuses: string | null; has: string[] }) {
  let typed: { body: string } | null = null;
  return {
    type: (body: string) => {
      typed = { body };
    },
    waits: () => typed?.body ?? null,
    keep: async () => {
      if (typed && server.refuses) return server.refuses;
      if (typed) server.has.push(typed.body);
      typed = null;
      return null;
    },
    pending: () => typed,
    take: (pending: object) => {
      typed = pending as { body: string };
    },
    cancel: () => {
      typed = null;
    },
  };
}

function page() {
  const there = new Set(["n1", "n2"]);
  const server = { refuses: null as string | null, has: [] as string[] };
  const lost = vi.fn();
  return { there, server, lost, notes: new NotesWritten((note) => there.has(note), lost) };
}

it("has what was typed last in one place alone, so that nothing older comes after it", async () => {
  const { server, notes } = page();
  const [beside, sheet, again] = [field(server), field(server), field(server)];
  notes.begin("n1", beside);
  beside.type("A");
  server.refuses = "The server cannot be reached just now.";
  const close = notes.begin("n1", sheet);
  expect([beside.waits(), sheet.waits()]).toEqual([null, "A"]);
  sheet.type("AB");
  // Closed before it was kept: who still writes goes on with it.
  close();
  await expect(notes.keep("n2")).resolves.toBeNull();
  await expect(notes.keep("n1")).resolves.toMatch(/cannot be reached/);
  expect([beside.waits(), sheet.waits()]).toEqual(["AB", null]);
  server.refuses = null;
  await expect(notes.keep(null)).resolves.toBeNull();
  expect(server.has).toEqual(["AB"]);
  notes.begin("n1", again);
  expect(again.waits()).toBeNull();
});

it("counts what was left before it could be kept, until someone goes on with it, or it is no note any more", async () => {
  const { there, server, lost, notes } = page();
  server.refuses = "It has too many characters.";
  const [first, next, other] = [field(server), field(server), field(server)];
  const leave = notes.begin("n1", first);
  first.type("A");
  leave();
  await expect(notes.keep(null)).resolves.toBe("It has too many characters.");
  const leaveNext = notes.begin("n1", next);
  expect([first.waits(), next.waits()]).toEqual([null, "A"]);
  notes.begin("n2", other);
  leaveNext();
  await expect(notes.keep(null)).resolves.toBe("It has too many characters.");
  expect(lost).not.toHaveBeenCalled();
  there.delete("n1");
  await expect(notes.keep(null)).resolves.toBeNull();
  expect([next.waits(), server.has]).toEqual([null, []]);
  expect(lost.mock.calls).toEqual([[{ body: "A" }]]);
  // Of what is sent from elsewhere while it is written, too.
  const late = field(server);
  const leaveLate = notes.begin("n2", late);
  late.type("B");
  there.delete("n2");
  leaveLate();
  expect(lost).toHaveBeenLastCalledWith({ body: "B" });
});
