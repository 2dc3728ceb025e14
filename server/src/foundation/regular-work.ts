// Work that is done again and again while the server runs.
import { Logger } from '@nestjs/common';
import { letGo } from './let-go';
import { unasked } from './unasked';

/** Done every so often from `start` to `stop`, never twice at once. What goes wrong is logged, and waits for the next time. */
export class RegularWork {
  private readonly log: Logger;
  private timer: NodeJS.Timeout | null = null;
  private running: Promise<void> | null = null;

  constructor(
    name: string,
    private readonly everyMs: number,
    private readonly work: () => Promise<void>,
  ) {
    this.log = new Logger(name);
  }

  start(): void {
    this.timer ??= setInterval(() => {
      if (!this.running)
        letGo(
          'regular work',
          unasked(() => this.now()),
        );
    }, this.everyMs);
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
  }

  /** Does it now, after what is being done already. */
  now(): Promise<void> {
    const run = (this.running ?? Promise.resolve())
      .then(() => this.work())
      .catch((error: unknown) => this.log.warn(error instanceof Error ? error.message : String(error)));
    this.running = run;
    return run.finally(() => {
      if (this.running === run) this.running = null;
    });
  }
}
