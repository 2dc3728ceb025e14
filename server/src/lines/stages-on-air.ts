// Which browsers have a stage open whose show is on air: nothing secret may be shown in those. A stage
// cannot share a screen; when it can, it has to be noted here too.
import { Injectable } from '@nestjs/common';
import { digestOf } from '../foundation/digest';

@Injectable()
export class StagesOnAir {
  private readonly watches = new Map<object, { browser: string; isOnAir: () => boolean }>();

  /** Notes an open stage; `isOnAir` is asked whenever somebody wants to see a secret. */
  opened(stage: object, sessionToken: string, isOnAir: () => boolean): void {
    this.watches.set(stage, { browser: digestOf(sessionToken), isOnAir });
  }

  closed(stage: object): void {
    this.watches.delete(stage);
  }

  isOnAir(sessionToken: string): boolean {
    const browser = digestOf(sessionToken);
    return [...this.watches.values()].some((watch) => watch.browser === browser && watch.isOnAir());
  }
}
