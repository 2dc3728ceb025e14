import type { ShowDraft } from '@lantern/contract';
import { instant, MINUTE_MS, runningOrderTimes, type Instant, type RunningOrderTimes } from '@lantern/core';

/** The times of a draft's cues; null: its start is none that clocks show. */
export function timesOf({ cues = [], lengthMin, zone }: Pick<ShowDraft, 'cues' | 'lengthMin' | 'zone'>, startsAt: Instant | null): RunningOrderTimes | null {
  return startsAt === null ? null : runningOrderTimes(cues, { startsAt, endsAt: instant(startsAt + (lengthMin || 0) * MINUTE_MS), zone });
}
