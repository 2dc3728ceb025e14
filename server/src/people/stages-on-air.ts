// Which browsers have a stage open whose show is on air, and from which a screen is shared: nothing secret may be shown in those.
import { Injectable } from '@nestjs/common';
import { digestOf } from '../foundation/digest';

/** The stages of one show that are open, by digests of their sessions. */
interface OpenStages {
  sessions: readonly string[];
  /** Those from which a screen is shared, whether anything is on air or not. */
  sharing: readonly string[];
}

@Injectable()
export class StagesOnAir {
  private readonly open = new Map<string, OpenStages & { isOnAir: () => boolean }>();

  /** Notes which browsers have a show's stage open; `isOnAir` is asked whenever somebody wants to see a secret. */
  opened(showId: string, stages: OpenStages, isOnAir: () => boolean): void {
    if (stages.sessions.length) this.open.set(showId, { ...stages, isOnAir });
    else this.open.delete(showId);
  }

  /** What a browser shows to others at this moment; null: nothing. */
  shownBy(sessionToken: string): 'a screen' | 'a programme' | null {
    const browser = digestOf(sessionToken);
    const all = [...this.open.values()].filter(({ sessions }) => sessions.includes(browser));
    if (all.some(({ sharing }) => sharing.includes(browser))) return 'a screen';
    return all.some(({ isOnAir }) => isOnAir()) ? 'a programme' : null;
  }
}
