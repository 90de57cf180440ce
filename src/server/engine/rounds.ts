import type { Clock } from '../../core/clock';

/** Does something again and again with a pause in between, by a clock, until it is ended; what fails is told, and the next round comes. */
export class Rounds {
  private readonly stop = new AbortController();
  private loop: Promise<void> | undefined;

  /** @param pause between the end of a round and the next, ms */
  constructor(
    private readonly clock: Clock,
    private readonly pause: number,
    private readonly round: () => Promise<void>,
    private readonly failed: (error: unknown) => void,
  ) {}

  start(): void {
    this.loop ??= (async () => {
      while (!this.over) {
        await this.round().catch(this.failed);
        await this.clock.sleep(this.pause, this.stop.signal);
      }
    })();
  }

  /** Resolves when the round that is going has ended. */
  async end(): Promise<void> {
    this.stop.abort();
    await this.loop;
  }

  /** It is being ended: a long round leaves off between two things. */
  get over(): boolean {
    return this.stop.signal.aborted;
  }
}
