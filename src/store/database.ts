import {
  CompiledQuery,
  type DatabaseConnection,
  type Driver,
  Kysely,
  Migrator,
  SqliteDialect,
  SqliteDriver,
  type Transaction,
} from "kysely";
import Sqlite from "libsql";
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
  const db = new Kysely<Schema>({ dialect: new WriteFirstDialect({ database: sqlite }) });
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

class WriteFirstDialect extends SqliteDialect {
  readonly #config: ConstructorParameters<typeof SqliteDialect>[0];
  constructor(config: ConstructorParameters<typeof SqliteDialect>[0]) {
    super(config);
    this.#config = config;
  }
  override createDriver(): Driver {
    return new WriteFirstDriver(this.#config);
  }
}

/**
 * Transactions take the write lock at once. Begun as readers they would fail, not wait, when another process (the command line, say)
 * writes between their reading and their writing.
 */
class WriteFirstDriver extends SqliteDriver {
  override async beginTransaction(connection: DatabaseConnection): Promise<void> {
    await connection.executeQuery(CompiledQuery.raw("begin immediate"));
  }
}
