// Which browsers have a stage open whose show is on air: nothing secret may be shown in those. A stage
// cannot share a screen; when it can, it has to be noted here too.
import { Injectable } from '@nestjs/common';
import { digestOf } from '../foundation/digest';

@Injectable()
export class StagesOnAir {
  /** By show, the digests of the sessions whose browsers have its stage open. */
  private readonly open = new Map<string, { sessions: ReadonlySet<string>; isOnAir: () => boolean }>();

  /** Notes which browsers have a show's stage open; `isOnAir` is asked whenever somebody wants to see a secret. */
  opened(showId: string, sessions: readonly string[], isOnAir: () => boolean): void {
    if (sessions.length) this.open.set(showId, { sessions: new Set(sessions), isOnAir });
    else this.open.delete(showId);
  }

  isOnAir(sessionToken: string): boolean {
    const browser = digestOf(sessionToken);
    return [...this.open.values()].some(({ sessions, isOnAir }) => sessions.has(browser) && isOnAir());
  }
}
