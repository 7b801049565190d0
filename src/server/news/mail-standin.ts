import { mkdirSync } from "node:fs";
import { readdir, readFile, rename, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { simpleParser } from "mailparser";
import { SMTPServer } from "smtp-server";
import { monotonicFactory } from "ulid";
import { done, type Outcome, refuse } from "@/core/plain/outcome";

/** A mail server for trying things out: takes every message, sends none on, and keeps them as files. */
export interface StandIn {
  /** `smtp://localhost:port` */
  server: string;
  close: () => Promise<void>;
}

const LARGEST = 20 * 1024 * 1024;

/** Starts it on this machine alone; port 0 takes any that is free. `also` is told of each message, and to whom it goes. */
export async function startStandIn(
  folder: string,
  port: number,
  also: (raw: Buffer, to: string[]) => Promise<unknown> = async () => undefined,
): Promise<StandIn> {
  mkdirSync(folder, { recursive: true });
  const id = monotonicFactory();
  const server = new SMTPServer({
    disabledCommands: ["AUTH", "STARTTLS"],
    size: LARGEST,
    onData(stream, session, callback) {
      const chunks: Buffer[] = [];
      stream.on("data", (chunk: Buffer) => chunks.push(chunk));
      stream.on("end", async () => {
        if (stream.sizeExceeded) return callback(new Error("The message is too large."));
        try {
          const name = join(folder, `${id()}.eml`);
          await writeFile(`${name}.part`, Buffer.concat(chunks));
          await rename(`${name}.part`, name);
          await also(
            Buffer.concat(chunks),
            session.envelope.rcptTo.map(({ address }) => address),
          );
          callback();
        } catch (error) {
          callback(error instanceof Error ? error : new Error(String(error)));
        }
      });
    },
  });
  await new Promise<void>((resolve, reject) => {
    server.on("error", reject);
    server.listen(port, "127.0.0.1", () => resolve());
  });
  const address = server.server.address();
  const at = typeof address === "object" && address ? address.port : port;
  return {
    server: `smtp://127.0.0.1:${at}`,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
}

/** A message that arrived, for a list. */
export interface Arrived {
  id: string;
  subject: string;
  from: string;
  to: string;
  at: number;
}

const MOST = 200;

/** What arrived for an address (for everyone without one), the newest first. */
export async function arrivedFor(folder: string, email: string | null): Promise<Arrived[]> {
  const names = (await readdir(folder).catch(() => []))
    .filter((name) => name.endsWith(".eml"))
    .sort()
    .reverse();
  const list: Arrived[] = [];
  for (const name of names.slice(0, MOST)) {
    const { subject, from, to, date } = await simpleParser(await readFile(join(folder, name)), {
      skipTextToHtml: true,
    });
    const receivers = (Array.isArray(to) ? to : to ? [to] : []).flatMap(({ value }) => value);
    if (email !== null && !receivers.some(({ address }) => address === email)) continue;
    list.push({
      id: name.slice(0, -4),
      subject: subject ?? "",
      from: from?.value[0]?.name || from?.text || "",
      to: receivers.map(({ name: called, address }) => called || (address ?? "")).join(", "),
      at: date?.getTime() ?? 0,
    });
  }
  return list;
}

/** One message as text, with its head as it was sent. Who it is not for is told that it does not exist. */
export async function arrivedMessage(
  folder: string,
  id: string,
  email: string | null,
): Promise<Outcome<{ head: string; text: string; html: string }>> {
  const missing = refuse("missing", "There is no such message.");
  if (!/^[0-9A-Z]{26}$/.test(id)) return missing;
  const bytes = await readFile(join(folder, `${id}.eml`)).catch(() => null);
  if (!bytes) return missing;
  const { to, text, html, headerLines } = await simpleParser(bytes, { skipTextToHtml: true });
  const receivers = (Array.isArray(to) ? to : to ? [to] : []).flatMap(({ value }) => value);
  if (email !== null && !receivers.some(({ address }) => address === email)) return missing;
  const head = headerLines.map(({ line }) => line).join("\n");
  return done({ head, text: text ?? "", html: html || "" });
}
