import type { ReviewEvent } from "@/core/review/events";
import type { AppContext } from "./context";
import { Repeated } from "./repeated";
import { Subscriber } from "./subscriber";

/** Something that is done for each entry of the log while the server runs, from where it was: woken by what is written, and now and then besides. */
export abstract class FollowsLog {
  private readonly steps: Repeated;

  /** `name` is that of its place in the log, `every` in milliseconds, `failing` what the server's log says where a step fails. */
  constructor(
    protected readonly app: AppContext,
    { name, every, failing }: { name: string; every: number; failing: string },
  ) {
    const follower = new Subscriber(app, name, (event) => this.handle(event));
    const work = async () => {
      await follower.step();
      await this.afterwards();
    };
    this.steps = new Repeated(every, work, (error) => app.log.error({ err: error }, failing), app.bell);
  }

  /** What is to be done for an entry. It may come twice. */
  protected abstract handle(event: ReviewEvent): Promise<void>;

  /** What is to be done at each step beside that. */
  protected async afterwards(): Promise<void> {}

  start(): void {
    this.steps.start();
  }

  /** Waits for the step that is going on. */
  async stop(): Promise<void> {
    await this.steps.stop();
  }

  step(): Promise<void> {
    return this.steps.step();
  }
}
