import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterEach, expect, it } from "vitest";
import { freePort } from "@/server/app/free-port";
import { listening } from "./listening";
import { Stop } from "./stop";

const open: Server[] = [];
const server = () => {
  const made = createServer();
  open.push(made);
  return made;
};
const portOf = (at: Server) => (at.address() as AddressInfo).port;
afterEach(() => {
  for (const one of open.splice(0)) one.close();
});

it("is at the port that was asked for, on this machine alone where that is asked", async () => {
  const port = await freePort();
  const one = server();
  expect(await listening(one, port, { alone: true, anyPort: false })).toBe(port);
  expect(one.address()).toMatchObject({ port, address: "127.0.0.1" });
});

it("is at another port where any will do and the one that was free is taken meanwhile", async () => {
  const first = server();
  const port = await listening(first, await freePort(), { alone: true, anyPort: true });
  const second = server();
  const other = await listening(second, port, { alone: true, anyPort: true });
  expect([portOf(first), portOf(second)]).toEqual([port, other]);
  expect(other).not.toBe(port);
  await expect(listening(server(), port, { alone: true, anyPort: false })).rejects.toThrow(
    new Stop(`Port ${port} is in use already: choose another with PORT.`),
  );
  // What went wrong otherwise is told as it is: such an address is nobody's.
  await expect(listening(server(), 70_000, { alone: true, anyPort: true })).rejects.toThrow(/70000|port/i);
});
