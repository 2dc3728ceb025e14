// For how long this process did nothing at all, which is how late a picture may have been.
import { monitorEventLoopDelay } from 'node:perf_hooks';

const LOOK_EVERY_MS = 10;
const WINDOW_MS = 10_000;

export class StandStill {
  private readonly loop = monitorEventLoopDelay({ resolution: LOOK_EVERY_MS });
  private before = 0;
  private readonly timer = setInterval(() => {
    this.before = this.now;
    this.loop.reset();
  }, WINDOW_MS).unref();

  constructor() {
    this.loop.enable();
  }

  /** The longest within the last ten to twenty seconds, in ms. */
  get worstMs(): number {
    return Math.round(Math.max(this.before, this.now));
  }

  stop(): void {
    clearInterval(this.timer);
    this.loop.disable();
  }

  private get now(): number {
    return Math.max(0, this.loop.max / 1e6 - LOOK_EVERY_MS);
  }
}
