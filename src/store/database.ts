import { existsSync } from "node:fs";
import {
  CompiledQuery,
  type DatabaseConnection,
  DefaultConnectionProvider,
  Kysely,
  Migrator,
  SqliteDialect,
  SqliteDriver,
  type Transaction,
} from "kysely";
import Sqlite from "libsql";
import { AskingOnce } from "./asking-once";
import { KeptAnswers } from "./kept-answers";
import { KeptStatements } from "./kept-statements";
import { migrations } from "./migrations";
import type { Schema } from "./schema";

export type Database = Kysely<Schema>;
/** A connection with or without a transaction around it. */
export type Queries = Kysely<Schema> | Transaction<Schema>;

/**
 * Opens the database file, makes it when there is none, and brings its tables up to date. What a finished transaction wrote survives
 * a killed process and a lost power supply (write-ahead log, synchronous FULL).
 */
export async function openDatabase(file: string): Promise<Database> {
  const sqlite = new Sqlite(file, { timeout: 10_000 });
  sqlite.exec(
    "pragma journal_mode = wal; pragma synchronous = full; pragma foreign_keys = on; pragma busy_timeout = 10000;",
  );
  const db = connected(sqlite);
  const done = migratedIn(sqlite);
  const unknown = done.find((name) => !Object.hasOwn(migrations, name));
  if (unknown) {
    await db.destroy();
    throw new DataTooNew(file, unknown);
  }
  const [pending] = Object.keys(migrations).filter((name) => !done.includes(name));
  if (!pending) return db;
  if (done.length > 0) copyBefore(sqlite, file, pending);
  const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
  const { error } = await migrator.migrateToLatest();
  if (error) {
    await db.destroy();
    throw new Error(
      `The database at ${file} could not be brought up to date: ${error instanceof Error ? error.message : error}`,
    );
  }
  return db;
}

/** The database was written by a newer version: this one would not understand it, and might spoil it. */
export class DataTooNew extends Error {
  constructor(file: string, migration: string) {
    super(
      `The database at ${file} belongs to a newer version of Earnest Lens (it has the step “${migration}”). Start that version, or restore a backup of this one. Nothing was changed.`,
    );
  }
}

/** The steps by which the tables came to be as they are. */
function migratedIn(sqlite: InstanceType<typeof Sqlite>): string[] {
  const { there } = sqlite
    .prepare("select count(*) as there from sqlite_master where name = 'kysely_migration'")
    .get() as { there: number };
  if (there === 0) return [];
  return (sqlite.prepare("select name from kysely_migration").all() as { name: string }[]).map(({ name }) => name);
}

/** Copies the database beside itself before its tables are changed. A copy of an earlier try is kept: it is from before all of them. */
function copyBefore(sqlite: InstanceType<typeof Sqlite>, file: string, step: string): void {
  const copy = `${file}.before-${step}`;
  if (!existsSync(copy)) copyTo(sqlite, copy);
}

/** Writes a copy of the whole database as it is at one moment, while others may read and write it. */
export function copyTo(sqlite: InstanceType<typeof Sqlite>, file: string): void {
  sqlite.exec(`vacuum into '${file.replaceAll("'", "''")}'`);
}

/** A query builder over a connection: it keeps statements, and the answers that still hold. */
function connected(sqlite: InstanceType<typeof Sqlite>): Database {
  const answers = new KeptAnswers(sqlite);
  const database = new KeptStatements(sqlite, (sql, changes) => answers.ran(sql, changes)) as never;
  const dialect = new SqliteDialect({ database });
  const driver = new WriteFirstDriver({ database });
  const executor = new AskingOnce(
    dialect.createQueryCompiler(),
    dialect.createAdapter(),
    new DefaultConnectionProvider(driver),
    answers,
  );
  return new Kysely<Schema>({ config: { dialect }, dialect, driver, executor });
}

/**
 * Transactions take the write lock at once. Begun as readers they would fail, not wait, when another process (the command line, say)
 * writes between their reading and their writing.
 */
class WriteFirstDriver extends SqliteDriver {
  #begun: Promise<void> | null = null;

  override async acquireConnection(): Promise<DatabaseConnection> {
    this.#begun ??= this.init();
    await this.#begun;
    return super.acquireConnection();
  }

  override async beginTransaction(connection: DatabaseConnection): Promise<void> {
    await connection.executeQuery(CompiledQuery.raw("begin immediate"));
  }
}
