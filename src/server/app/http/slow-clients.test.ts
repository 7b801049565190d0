import { createServer } from "node:http";
import { connect } from "node:net";
import { expect, it } from "vitest";
import { cutSlowBodies } from "./slow-clients";

it("cuts a body that hardly comes, and none that goes on, however long", async () => {
  const server = createServer((request, response) => {
    cutSlowBodies(request, 100);
    let size = 0;
    request.on("data", (chunk: Buffer) => {
      size += chunk.length;
    });
    request.on("end", () => response.end(String(size)));
    request.on("error", () => undefined);
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const { port } = server.address() as { port: number };
  const send = (bytes: number, every: number, times: number) =>
    new Promise<string>((resolve) => {
      const socket = connect(port, "127.0.0.1");
      let said = "";
      socket.on("data", (words) => {
        said += words;
        if (/\r\n\r\n[\s\S]*0\r\n|\r\n\r\n\d+$/.test(said)) socket.destroy();
      });
      socket.on("close", () => resolve(said));
      socket.on("error", () => undefined);
      socket.write(`POST / HTTP/1.1\r\nHost: x\r\nContent-Length: ${bytes * times}\r\n\r\n`);
      let sent = 0;
      const timer = setInterval(() => {
        if (sent++ < times && !socket.destroyed) socket.write("x".repeat(bytes));
        else clearInterval(timer);
      }, every);
    });
  const [slow, steady] = await Promise.all([send(1, 60, 30), send(400, 40, 30)]);
  expect(slow).toBe("");
  expect(steady).toMatch(/12000$/);
  server.close();
});
