import type { IncomingMessage } from "node:http";
import { expect, it } from "vitest";
import { readSettings } from "../app/settings";
import { value } from "../testing/bench";
import { whenceOf } from "./whence";

const from = (forwarded: string | undefined, env: Record<string, string>) =>
  whenceOf(
    {
      headers: { "x-forwarded-for": forwarded },
      socket: { remoteAddress: "::ffff:127.0.0.1" },
    } as unknown as IncomingMessage,
    value(readSettings({ LENS_DATA: "/tmp", ...env })),
  );

it("takes the word of a proxy where one stands before, and nobody’s otherwise", () => {
  const https = { LENS_ADDRESS: "https://lens.example.org" };
  expect(from("6.6.6.6", {})).toBe("127.0.0.1");
  // What the client wrote itself comes first; the proxy’s own word last.
  expect(from("6.6.6.6, 10.0.0.7", https)).toBe("10.0.0.7");
  expect(from(undefined, https)).toBe("127.0.0.1");
  expect(from("6.6.6.6", { ...https, LENS_PROXY: "no" })).toBe("127.0.0.1");
  expect(from("10.0.0.7", { LENS_ADDRESS: "http://lens.example.org", LENS_PROXY: "yes" })).toBe("10.0.0.7");
});
