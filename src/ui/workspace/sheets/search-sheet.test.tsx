import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { FoundPlace, SearchLine } from "@/core/reading/finding/search";
import { answerFor } from "../../testing/change";
import { FakeServer, refuses } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { SearchSheet } from "./search-sheet";

const place = (path: string, line: number): FoundPlace => ({
  ...{ path, line, side: "new", text: "  holdUntil(tide)", at: 2, length: 9 },
});

/** An answer whose lines are written by hand. */
function answering() {
  const encoder = new TextEncoder();
  let into: ReadableStreamDefaultController<Uint8Array>;
  const body = new ReadableStream<Uint8Array>({
    start: (controller) => {
      into = controller;
    },
  });
  return {
    response: new Response(body),
    say: (line: SearchLine | { refusal: { code: string; reason: string } }) =>
      into.enqueue(encoder.encode(`${JSON.stringify(line)}\n`)),
    end: () => into.close(),
  };
}

function sheet(answer: () => Response | never) {
  const server = new FakeServer({ "GET /api/repos/{repo}/changes/{number}/search": answer });
  const onGo = vi.fn();
  const props = {
    open: true,
    points: { kind: "revision" as const, from: "base" as const, to: 1 },
    onGo,
    onClose: vi.fn(),
  };
  return { server, onGo, ...showInWorkspace(answerFor("ben", []), <SearchSheet {...props} />) };
}
const field = () => screen.getByRole("combobox");

describe("searching", () => {
  it("shows places as they come, and says whether there are more to come", async () => {
    const answer = answering();
    const { user, onGo } = sheet(() => answer.response);
    await user.type(field(), "holdUntil");
    answer.say([place("a.ts", 3)]);
    await screen.findByText("1 place in 1 file so far …");
    expect(screen.getByText("a.ts")).toBeTruthy();
    answer.say([place("b.ts", 5)]);
    answer.say({ more: false, searched: 9 });
    answer.end();
    await screen.findByText("2 places in 2 files.");
    await user.keyboard("{ArrowDown}{Enter}");
    expect(onGo).toHaveBeenCalledWith(place("b.ts", 5));
  });

  it("draws what does not show, in what is found and in where it is", async () => {
    const answer = answering();
    const { user } = sheet(() => answer.response);
    await user.type(field(), "role");
    answer.say([
      { path: "a\u202etxt.ts", line: 3, side: "new", text: "if (role\u2066 == x) \u200b{", at: 4, length: 4 },
    ]);
    await screen.findByText("a⟨U+202E⟩txt.ts");
    const odd = [...document.querySelectorAll("[role=option] .odd")].map((one) => one.getAttribute("data-code"));
    expect(odd).toEqual(["U+2066", "U+200B"]);
    answer.end();
  });

  it("says that there is nothing only when all was looked through", async () => {
    const answer = answering();
    const { user } = sheet(() => answer.response);
    await user.type(field(), "holdUntil");
    await screen.findByText("Searching …");
    answer.say({ more: false, searched: 9 });
    answer.end();
    await screen.findByText(/“holdUntil” is nowhere there/);
  });

  it("tells why it was refused, at once or on the way", async () => {
    const answer = answering();
    let first = true;
    const { user, server } = sheet(() => {
      if (!first) return answer.response;
      first = false;
      return refuses("invalid", "That is no expression.");
    });
    await user.type(field(), "((");
    await screen.findByText("That is no expression.");
    await user.clear(field());
    await user.type(field(), "hold");
    answer.say([place("a.ts", 3)]);
    await screen.findByText(/so far/);
    answer.say({ refusal: { code: "too-many", reason: "Nobody waits for this any more." } });
    answer.end();
    await screen.findByText("Nobody waits for this any more.");
    const asked = server.of("GET /api/repos/{repo}/changes/{number}/search");
    await waitFor(() => expect(asked.map(({ query }) => query.words)).toEqual(["((", "hold"]));
  });
});
