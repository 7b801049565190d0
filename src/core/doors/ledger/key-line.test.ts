import fc from "fast-check";
import { expect, it } from "vitest";
import { keyLine, readKeyLine } from "./key-line";

const base64 = fc.uint8Array({ minLength: 24, maxLength: 90 }).map((bytes) => Buffer.from(bytes).toString("base64"));

it("is read again however a terminal wrapped it", () => {
  fc.assert(
    fc.property(base64, base64, fc.constantFrom(" ", "\n", "  \r\n "), (key, signature, gap) => {
      const line = keyLine({ public: key, signature });
      expect(readKeyLine(`${gap}${line.replaceAll(" ", gap)}${gap}`)).toEqual({ public: key, signature });
    }),
  );
});

it("reads nothing else", () => {
  for (const text of [
    "",
    "lens-key",
    "lens-key a b",
    "ssh-key AAAA BBBB",
    `${keyLine({ public: "A".repeat(24), signature: "B".repeat(24) })} more`,
  ])
    expect(readKeyLine(text)).toBeNull();
});
