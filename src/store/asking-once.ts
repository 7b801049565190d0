import { AsyncLocalStorage } from "node:async_hooks";
import {
  type CompiledQuery,
  type ConnectionProvider,
  DefaultQueryExecutor,
  type DialectAdapter,
  type QueryCompiler,
  type QueryResult,
} from "kysely";
import type { KeptAnswers, Sources } from "./kept-answers";

const OURS = Symbol.for("earnest-lens.store.making");
const shared = globalThis as { [OURS]?: AsyncLocalStorage<Making> };

/** What is being made here, noted by what is asked for it. One for the process: each that there is makes every promise in it a little larger. */
function underway(): AsyncLocalStorage<Making> {
  shared[OURS] ??= new AsyncLocalStorage<Making>();
  return shared[OURS];
}

/** Asks the database what is not known yet. What is asked in a transaction is always asked: that sees what it wrote, and nobody else does. */
export class AskingOnce extends DefaultQueryExecutor {
  readonly #answers: KeptAnswers;

  constructor(compiler: QueryCompiler, adapter: DialectAdapter, connections: ConnectionProvider, answers: KeptAnswers) {
    super(compiler, adapter, connections);
    this.#answers = answers;
  }

  override async executeQuery<R>(asked: CompiledQuery<unknown>): Promise<QueryResult<R>> {
    const { sql, parameters, query } = asked;
    const making = underway().getStore();
    if (query.kind !== "SelectQueryNode") {
      making?.add(null);
      return super.executeQuery(asked);
    }
    const known = this.#answers.find(sql, parameters);
    if (known) {
      making?.add(known);
      return { rows: [...known.value] as R[] };
    }
    const at = this.#answers.now;
    const result = await super.executeQuery<R>(asked);
    const kept = this.#answers.keep(sql, parameters, result.rows, at);
    making?.add(kept);
    return kept ? { ...result, rows: [...kept.value] } : result;
  }

  /** For transactions: what is asked in one is not seen here, and nothing that is made of it is kept. */
  override withConnectionProvider(connections: ConnectionProvider): DefaultQueryExecutor {
    underway().getStore()?.add(null);
    return super.withConnectionProvider(connections);
  }

  /** What `make` gives, unless it is known under this name. */
  async once<T>(name: string, make: () => Promise<T>): Promise<T> {
    const outer = underway().getStore();
    const known = this.#answers.findMade(name);
    if (known) {
      outer?.add(known);
      return known.value as T;
    }
    const at = this.#answers.now;
    const making = new Making();
    const value = await underway().run(making, make);
    const kept = making.sources && this.#answers.keepMade(name, value, making.sources, at);
    outer?.add(kept);
    return value;
  }
}

/** Notes what something is made of, meanwhile. */
class Making {
  readonly #words = new Set<string>();
  #size = 0;
  #whole = true;

  /** Something that was asked for it; null for what is not known to stay as it is. */
  add(source: Sources | null): void {
    this.#whole &&= source !== null;
    if (!source) return;
    for (const word of source.words) this.#words.add(word);
    this.#size += source.size;
  }

  /** All of it; null where some of it may change unnoticed. */
  get sources(): Sources | null {
    return this.#whole ? { words: this.#words, size: this.#size } : null;
  }
}
