import { ledgerTips } from "@/git/ledger";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { ledgerKey } from "./keys";

/**
 * Which ledgers of a clone need not be looked at: all of them is in the log and all of the log is in them, for as long as neither has more, and the same keys
 * are believed. With thousands of reviews that have come to an end it is what makes an exchange fast.
 */
export class SettledLedgers {
  private constructor(
    private readonly app: AppContext,
    private readonly repository: { id: string },
    private readonly keys: string,
    private readonly kept: ReadonlyMap<string, string>,
    private stands: ReadonlyMap<string, string>,
  ) {}

  static async of(app: AppContext, repository: { id: string }, believed: ReadonlySet<string>): Promise<SettledLedgers> {
    const keys = [(await ledgerKey(app)).id, ...[...believed].sort()].join(",");
    const rows = await app.db.selectFrom("settled_ledgers").selectAll().execute();
    const settled = new SettledLedgers(
      app,
      repository,
      keys,
      new Map(rows.map((one) => [one.stream, one.stand])),
      new Map(),
    );
    await settled.look();
    return settled;
  }

  /** Whether nothing has come to it since, as it stood when it was last looked. */
  has(stream: string): boolean {
    const stand = this.stands.get(stream);
    return stand !== undefined && this.kept.get(stream) === stand;
  }

  /** Looks how all of them stand now. */
  async look(): Promise<void> {
    const tips = await ledgerTips(folderOf(this.app, this.repository), "refs/lens/ledger");
    const rows = await this.app.db
      .selectFrom("events")
      .innerJoin("change_sets", "change_sets.id", "events.stream")
      .select(["events.stream", ({ fn }) => fn.countAll<number>().as("many")])
      .where("change_sets.repository", "=", this.repository.id)
      .groupBy("events.stream")
      .execute();
    const many = new Map(rows.map((one) => [one.stream, one.many]));
    this.stands = new Map([...tips].map(([stream, tip]) => [stream, `${tip} ${many.get(stream) ?? 0} ${this.keys}`]));
  }

  /** Notes ledgers of which nothing was left out, as they stand now. */
  async note(streams: readonly string[]): Promise<void> {
    await this.look();
    await this.app.db.transaction().execute(async (tx) => {
      for (const stream of streams) {
        const stand = this.stands.get(stream);
        if (stand === undefined || this.kept.get(stream) === stand) continue;
        await tx
          .insertInto("settled_ledgers")
          .values({ stream, stand })
          .onConflict((conflict) => conflict.column("stream").doUpdateSet({ stand }))
          .execute();
      }
    });
  }
}
