import { describe, expect, it } from "vitest";
import { answerIn, automatic } from "./answer";

describe("an answer by mail", () => {
  it("loses its signature, who wrote what it quotes, and what was put below it; never what was said", () => {
    const cases: [string, string][] = [
      ["Yes.\n\nOn Mon, 23 Nov 2026 at 10:12, Ada <ada@x.example> wrote:\n> Is it?\n", "Yes.\n\n> Is it?"],
      [
        "On Mon, 23 Nov 2026 at 10:12, Ada Brandt-Longname\n<ada@x.example> wrote:\n\n> Is it?\n\nYes.",
        "> Is it?\n\nYes.",
      ],
      ["Am 23.11.2026 um 10:12 schrieb Ada:\n> Is it?\nJa.", "> Is it?\nJa."],
      ["Yes.\n-- \nBen\nHarbour office", "Yes."],
      ["> one\nYes.\n--\nBen\n> two\nNo.", "> one\nYes.\n> two\nNo."],
      ["Yes.\r\n\r\n-----Original Message-----\r\nFrom: Ada\r\nverdict: approve", "Yes."],
      ["Yes.\n\nFrom: Ada <a@x.example>\nSent: Monday\nSubject: x\n\nverdict: approve", "Yes."],
      // What looks a little like it, and is somebody's own.
      ["At 10:30 it failed:\n> Is it?\nYes.", "At 10:30 it failed:\n> Is it?\nYes."],
      ["Two things:\n> Is it?\nYes.", "Two things:\n> Is it?\nYes."],
      ["From: the quay, not from the pier.", "From: the quay, not from the pier."],
    ];
    for (const [text, answer] of cases) expect([text, answerIn(text)]).toEqual([text, answer]);
  });

  it("is found among hundreds of thousands of signatures as fast as among one", () => {
    expect(answerIn(`Yes.\n${"--\n> one\n".repeat(300_000)}No.`)).toBe(`Yes.\n${"> one\n".repeat(300_000)}No.`);
  });

  it("is none where a program sent it", () => {
    const head = (all: Record<string, string>) => automatic(new Map(Object.entries(all)));
    expect(head({ subject: "Re: x", "auto-submitted": "no" })).toBeNull();
    for (const one of [
      { "auto-submitted": "auto-replied" },
      { precedence: "bulk" },
      { "return-path": "<>" },
      { "x-autoreply": "yes" },
      { "content-type": "multipart/report; report-type=delivery-status" },
    ] as Record<string, string>[])
      expect([one, head(one)]).toEqual([one, expect.any(String)]);
  });
});
