import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterEach, beforeEach, expect, it } from "vitest";
import { ASKED_FIRST, loadAhead, OWN } from "./load-ahead";

let server: Server;
let asked: string[];
let words: Set<unknown>;
beforeEach(async () => {
  asked = [];
  words = new Set();
  server = createServer((request, response) => {
    asked.push(request.url ?? "");
    words.add(request.headers[OWN]);
    // Pages lead whoever is nobody elsewhere; streams of news never end by themselves.
    if (request.url === "/") response.writeHead(307, { location: "/elsewhere" });
    response.write("data: …\n\n");
    if (!request.url?.endsWith("/events")) response.end();
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
});
afterEach(() => {
  server.closeAllConnections();
  server.close();
});

const addressOf = () => `http://127.0.0.1:${(server.address() as AddressInfo).port}`;

it("asks once for each, follows nowhere, waits for no end, and says who it is", async () => {
  await loadAhead(addressOf(), "word", () => true);
  expect(asked).toEqual(ASKED_FIRST);
  expect([...words]).toEqual(["word"]);
});

it("asks for nothing while others wait, and goes on after that", async () => {
  const looked: number[] = [];
  const isQuiet = () => {
    looked.push(asked.length);
    return asked.length !== 2 || looked.filter((had) => had === 2).length > 3;
  };
  await loadAhead(addressOf(), "word", isQuiet);
  expect(asked).toEqual(ASKED_FIRST);
  expect(looked.filter((had) => had === 2)).toHaveLength(4);
});

it("leaves it to them where there is no quiet moment", async () => {
  await loadAhead(addressOf(), "word", () => asked.length < 2, 1_500);
  expect(asked).toEqual(ASKED_FIRST.slice(0, 2));
});
