import { createServer, type Socket } from "node:net";

/** A message in the mailbox of a stand-in. Its number there is its place, 1-based, which is its UID too. */
export interface KeptMessage {
  source: Buffer;
  flags: Set<string>;
}

/** A stand-in for a mail server that people fetch their mail from (IMAP4rev1, RFC 3501): one mailbox of one account, as much as a client needs to read it. */
export class ImapServer {
  readonly messages: KeptMessage[] = [];
  /** What clients asked for, one command each, without their tags. */
  readonly asked: string[] = [];
  private readonly server = createServer((socket) => new Session(this, socket));
  port = 0;

  constructor(
    readonly user: string,
    readonly password: string,
  ) {}

  async start(): Promise<void> {
    await new Promise<void>((resolve) => this.server.listen(0, "127.0.0.1", resolve));
    const address = this.server.address();
    this.port = typeof address === "object" && address ? address.port : 0;
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()));
  }

  put(source: string | Buffer): KeptMessage {
    const message = { source: Buffer.from(source), flags: new Set<string>() };
    this.messages.push(message);
    return message;
  }
}

class Session {
  private rest = "";
  private isIn = false;

  constructor(
    private readonly server: ImapServer,
    private readonly socket: Socket,
  ) {
    socket.on("error", () => socket.destroy());
    socket.on("data", (bytes) => this.hear(bytes.toString("latin1")));
    this.say("* OK ready");
  }

  private say(line: string | Buffer): void {
    this.socket.write(Buffer.concat([Buffer.from(line), Buffer.from("\r\n")]));
  }

  private hear(text: string): void {
    this.rest += text;
    for (let end = this.rest.indexOf("\r\n"); end >= 0; end = this.rest.indexOf("\r\n")) {
      const [, tag, command, args = ""] = /^(\S+) (\S+) ?(.*)$/.exec(this.rest.slice(0, end)) ?? [];
      this.rest = this.rest.slice(end + 2);
      if (tag) this.carryOut(tag, command.toUpperCase(), args);
    }
  }

  private carryOut(tag: string, command: string, args: string): void {
    this.server.asked.push(`${command} ${args}`.trim());
    const does = COMMANDS[command];
    const needsName = command === "UID" || command === "SELECT";
    if (!does) this.say(`${tag} BAD There is no such command.`);
    else if (needsName && !this.isIn) this.say(`${tag} NO Sign in first.`);
    else this.say(`${tag} ${does.call(this, args)}`);
    if (command === "LOGOUT") this.socket.end();
  }

  /** Takes a name and a password; gives the answer. */
  signIn(name: string, password: string): string {
    this.isIn = name === this.server.user && password === this.server.password;
    return this.isIn ? "OK in" : "NO [AUTHENTICATIONFAILED] That is not the password.";
  }

  tell(line: string | Buffer): void {
    this.say(line);
  }

  get messages(): KeptMessage[] {
    return this.server.messages;
  }
}

/** What each command does; gives the rest of the line that ends it. */
const COMMANDS: Record<string, (this: Session, args: string) => string> = {
  CAPABILITY() {
    this.tell("* CAPABILITY IMAP4rev1");
    return "OK told";
  },
  LOGIN(args) {
    const [name, password] = [...args.matchAll(/"((?:[^"\\]|\\.)*)"|(\S+)/g)].map(
      ([, quoted, bare]) => quoted?.replace(/\\(.)/g, "$1") ?? bare,
    );
    return this.signIn(name ?? "", password ?? "");
  },
  LIST(args) {
    this.tell(args === '"" ""' ? '* LIST (\\Noselect) "/" ""' : '* LIST () "/" "INBOX"');
    return "OK told";
  },
  NOOP: () => "OK nothing",
  SELECT(args) {
    if (!/^"?INBOX"?$/i.test(args)) return "NO There is no such mailbox.";
    this.tell("* FLAGS (\\Seen)");
    this.tell(`* ${this.messages.length} EXISTS`);
    this.tell("* OK [UIDVALIDITY 1] valid");
    this.tell(`* OK [UIDNEXT ${this.messages.length + 1}] next`);
    this.tell("* OK [PERMANENTFLAGS (\\Seen)] kept");
    return "OK [READ-WRITE] open";
  },
  UID(args) {
    const [, what, rest] = /^(\S+) (.*)$/.exec(args) ?? [];
    if (what?.toUpperCase() === "SEARCH") {
      const unread = this.messages.flatMap(({ flags }, i) => (flags.has("\\Seen") ? [] : [i + 1]));
      this.tell(`* SEARCH ${unread.join(" ")}`.trimEnd());
      return "OK found";
    }
    const [, number, asked] = /^(\d+) (.*)$/.exec(rest ?? "") ?? [];
    const message = this.messages[Number(number) - 1];
    if (!message) return "OK nothing";
    if (what?.toUpperCase() === "STORE") message.flags.add("\\Seen");
    const parts = [`UID ${number}`, `FLAGS (${[...message.flags].join(" ")})`];
    if (/RFC822\.SIZE/i.test(asked)) parts.push(`RFC822.SIZE ${message.source.length}`);
    if (/BODY\.PEEK\[\]/i.test(asked)) {
      const head = Buffer.from(`* ${number} FETCH (${parts.join(" ")} BODY[] {${message.source.length}}\r\n`);
      this.tell(Buffer.concat([head, message.source, Buffer.from(")")]));
    } else this.tell(`* ${number} FETCH (${parts.join(" ")})`);
    return "OK done";
  },
  LOGOUT() {
    this.tell("* BYE");
    return "OK out";
  },
};
