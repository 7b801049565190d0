import {
  type CompiledQuery,
  type ConnectionProvider,
  DefaultQueryExecutor,
  type DialectAdapter,
  type QueryCompiler,
  type QueryResult,
} from "kysely";
import type { KeptAnswers } from "./kept-answers";

/** Asks the database what is not known yet. What is asked in a transaction is always asked: that sees what it wrote, and nobody else does. */
export class AskingOnce extends DefaultQueryExecutor {
  readonly #answers: KeptAnswers;

  constructor(compiler: QueryCompiler, adapter: DialectAdapter, connections: ConnectionProvider, answers: KeptAnswers) {
    super(compiler, adapter, connections);
    this.#answers = answers;
  }

  override async executeQuery<R>(asked: CompiledQuery<unknown>): Promise<QueryResult<R>> {
    const { sql, parameters, query } = asked;
    if (query.kind !== "SelectQueryNode") return super.executeQuery(asked);
    const known = this.#answers.find(sql, parameters);
    if (known) return { rows: known as R[] };
    const at = this.#answers.now;
    const result = await super.executeQuery<R>(asked);
    return { ...result, rows: this.#answers.keep(sql, parameters, result.rows, at) };
  }
}
