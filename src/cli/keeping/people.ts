import { createInterface } from "node:readline/promises";
import { Writable } from "node:stream";
import type { Command } from "commander";
import { SCOPES, tokenRequest } from "@/core/views/access-view";
import { groupRequest, inviteRequest } from "@/core/views/setting-up-view";
import { need, say, withLens } from "../stop";
import { addAccountCommands } from "./keeping";

interface NewAccount {
  fullName: string;
  email: string;
  administrator?: boolean;
  machine?: boolean;
  owner?: string;
}

export function addPeopleCommands(program: Command): void {
  const person = program.command("person").description("people who can sign in");
  person
    .command("add <name>")
    .description("add a person; asks for a password, or reads it from standard input")
    .requiredOption("--full-name <name>", "how others see them")
    .option("--email <address>", "goes into the commits they make here", "")
    .option("--administrator", "may do everything everywhere")
    .option("--machine", "a program's account: it signs in by token, and its word is no verdict")
    .option("--owner <name>", "to whom a machine account belongs; who answers for what it does")
    .action((name: string, { fullName, email, administrator, machine, owner }: NewAccount) =>
      withLens(
        async (app, server) => {
          // Nobody knows a machine's password, so nobody signs in as one.
          const password = machine ? app.newId() + app.newId() : await askPassword(`Password for ${name}: `);
          const account = { name, fullName, password, administrator, machine, owner };
          need(
            await server.addAccount(app, server.COMMAND_LINE, {
              ...account,
              email: email || (machine ? "" : `${name}@localhost`),
            }),
          );
          if (machine) return say(`${fullName} is there. Give it a token with: npm run lens -- person token ${name}`);
          say(
            `${fullName} can sign in as ${name}.${administrator ? "" : ` Give them a role with: npm run lens -- role set ${name} REPOSITORY contributor`}`,
          );
        },
        { begins: true },
      ),
    );
  person
    .command("password <name>")
    .description("set a new password; ends the person's sessions and tokens")
    .action((name: string) =>
      withLens(async (app, server) => {
        const password = await askPassword(`New password for ${name}: `);
        need(await server.changeAccount(app, server.COMMAND_LINE, name, { kind: "password", password }));
        say(`${name} has a new password; their sessions and tokens have ended.`);
      }),
    );
  person
    .command("invite <label>")
    .description("make a link by which somebody makes an account of their own; it works once")
    .option("--role <role in repository...>", "such as contributor:planner; may be said several times", [])
    .option("--days <number>", "how long it works", "7")
    .action((label: string, given: { role: string[]; days: string }) =>
      withLens(async (app, server) => {
        const roles = Object.fromEntries(given.role.map((one) => one.split(":").reverse()));
        const request = need(server.checked(inviteRequest, { label, roles, days: Number(given.days) }));
        const word = need(await server.invite(app, server.COMMAND_LINE, request));
        say(`${app.settings.address ?? `http://localhost:${app.settings.port}`}/join#${word}`);
      }),
    );
  addAccountCommands(person);
  person
    .command("token <name>")
    .description("make a personal token, for programs and git; it is shown this once")
    .option("--label <words>", "what it is for", "made on the command line")
    .option("--scopes <words>", `of ${SCOPES.join(", ")}, parted by commas`, SCOPES.join(","))
    .option("--days <number>", "how long it lasts; 0 for ever", "90")
    .action((name: string, given: { label: string; scopes: string; days: string }) =>
      withLens(async (app, server) => {
        const days = Number(given.days) === 0 ? null : Number(given.days);
        const asked = { label: given.label, scopes: given.scopes.split(/[ ,]+/), days };
        const request = need(server.checked(tokenRequest, asked));
        say(need(await server.makeToken(app, name, request, server.COMMAND_LINE)));
      }),
    );
  const group = program.command("group").description("groups of people, and what they may do by them");
  group
    .command("set <name>")
    .description("make a group, or say anew who is in it and what they may do by it")
    .option("--members <names...>", "names of people", [])
    .option("--role <role in repository...>", "such as contributor:planner; may be said several times", [])
    .action((name: string, given: { members: string[]; role: string[] }) =>
      withLens(async (app, server) => {
        const roles = Object.fromEntries(given.role.map((one) => one.split(":").reverse()));
        const request = need(server.checked(groupRequest, { name, members: given.members, roles }));
        need(await server.keepGroup(app, server.COMMAND_LINE, request));
        say(`${name} is kept.`);
      }),
    );
  group
    .command("drop <name>")
    .description("take a group away; its members keep what they were given themselves")
    .action((name: string) =>
      withLens(async (app, server) => {
        need(await server.dropGroup(app, server.COMMAND_LINE, name));
        say(`${name} is no group any more.`);
      }),
    );
  group
    .command("list")
    .description("list the groups")
    .action(() =>
      withLens(async (app, server) => {
        for (const { name, members, roles } of await server.groupsOf(app))
          say(`${name}\t${members.join(", ")}\t${roles.map((one) => `${one.role} in ${one.repository}`).join(", ")}`);
      }),
    );
  person
    .command("list")
    .description("list the people and their roles")
    .action(() =>
      withLens(async ({ db }) => {
        const roles = await db
          .selectFrom("people")
          .leftJoin("roles", "roles.person", "people.id")
          .leftJoin("repositories", "repositories.id", "roles.repository")
          .select([
            "people.name",
            "people.full_name",
            "people.administrator",
            "roles.role",
            "repositories.name as repository",
          ])
          .orderBy("people.name")
          .execute();
        for (const row of roles) {
          const what = row.administrator
            ? "administrator"
            : row.role
              ? `${row.role} in ${row.repository}`
              : "no role yet";
          say(`${row.name}\t${row.full_name}\t${what}`);
        }
        if (roles.length === 0)
          say("There is nobody yet: npm run lens -- person add NAME --full-name “…” --administrator");
      }),
    );
}

/** On a terminal the password is asked for and not shown; otherwise the first line of standard input is taken. */
async function askPassword(question: string): Promise<string> {
  const terminal = process.stdin.isTTY === true;
  if (terminal) process.stderr.write(question);
  const silent = new Writable({ write: (_chunk, _encoding, done) => done() });
  const lines = createInterface({ input: process.stdin, output: silent, terminal });
  try {
    for await (const line of lines) return line;
    return "";
  } finally {
    lines.close();
    if (terminal) process.stderr.write("\n");
  }
}
