// What nobody has caught: logged, counted, and survived. One fault must not end every show that is on air.
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { failures } from './let-go';

@Injectable()
export class Faults implements OnApplicationShutdown {
  private readonly log = new Logger('faults');
  private counted = 0;
  private readonly hear = (error: unknown): void => this.note('unhandled', error);
  private readonly heard = failures.subscribe(({ name, error }) => this.note(name, error));

  /** From now on nothing that was forgotten ends the process. */
  watch(): void {
    process.on('unhandledRejection', this.hear);
    process.on('uncaughtException', this.hear);
  }

  onApplicationShutdown(): void {
    this.heard.unsubscribe();
    process.off('unhandledRejection', this.hear);
    process.off('uncaughtException', this.hear);
  }

  note(name: string, error: unknown): void {
    this.counted += 1;
    this.log.error(`${name}: ${error instanceof Error ? error.message : String(error)}`, error instanceof Error ? error.stack : undefined);
  }

  get count(): number {
    return this.counted;
  }
}
