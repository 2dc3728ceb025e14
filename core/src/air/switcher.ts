// What is in the programme: the switch between the stage, outside lines and the break card, as a function of what is
// known of them and of what a person chose. It looks at no clock: whoever asks says what time it is, and is told when to ask again.
import { isKeyFrame, isSequenceHeader, type FlvTag } from '../flv/tags';

/** `line:` and the identifier of an outside line. */
export type SourceId = 'stage' | 'break card' | `line:${string}`;

/** A source that is on and brings no picture for so long makes way for the break card, in ms. */
export const SILENT_MS = 1_500;
/** A source that was lost comes back once it has been steady for so long, in ms: two seconds, less what the third key frame may come early by. */
export const STEADY_MS = 1_800;
/** Pictures further apart than this are no steady source, in ms. */
const GAP_MS = 1_000;
/** A source whose pictures come so much faster or slower than their own times tell is catching up, or falling behind. */
const OUT_OF_PACE_MS = 700;
/** So often the pace is measured anew: clocks of cameras run a little apart. */
const PACE_OVER_MS = 10_000;

/** What is known of one source, by its pictures as they come. Times are a clock's that only goes forward, in ms. */
export class SourceSignal {
  /** When its last picture came; null: none has. */
  lastAt: number | null = null;
  /** Since when it has come without a break and at its own pace, from a key frame on; null: it does not. */
  steadySince: number | null = null;
  private pace: { at: number; mediaMs: number } | null = null;

  note(tag: FlvTag, now: number): void {
    if (tag.kind !== 'video' || isSequenceHeader(tag)) return;
    const broke = this.lastAt !== null && now - this.lastAt > GAP_MS;
    const apart = this.pace === null ? 0 : tag.timestampMs - this.pace.mediaMs - (now - this.pace.at);
    if (broke || Math.abs(apart) > OUT_OF_PACE_MS) {
      this.steadySince = null;
      this.pace = null;
    }
    if (this.pace === null || now - this.pace.at > PACE_OVER_MS) this.pace = { at: now, mediaMs: tag.timestampMs };
    if (this.steadySince === null && isKeyFrame(tag)) this.steadySince = now;
    this.lastAt = now;
  }

  /** It begins anew: what comes next has to prove itself. */
  begin(): void {
    this.steadySince = null;
    this.pace = null;
  }

  /** It is known to be gone: nobody waits to see whether more comes. */
  gone(): void {
    this.begin();
    this.lastAt = null;
  }
}

export interface SwitchState {
  /** What is selected now; null: nothing has been on yet. */
  on: SourceId | null;
  /** What a person wants to be seen; the break card where they broke. */
  chosen: SourceId;
  /** Since when the show is on air, on the same clock. */
  since: number;
  /** What has been on already: only what was lost has to prove itself before it comes back. */
  been: ReadonlySet<SourceId>;
  sources: ReadonlyMap<SourceId, Pick<SourceSignal, 'lastAt' | 'steadySince'>>;
}

export type SwitchReason = 'chosen' | 'nothing yet' | 'silent' | 'not steady yet';

export interface Switched {
  /** Null: nothing can be shown yet, and nothing needs to be. */
  source: SourceId | null;
  reason: SwitchReason;
  /** When to ask again if nothing comes before; null: only what comes changes anything. */
  lookAgainAt: number | null;
}

/** Which source is to be in the programme at `now`, and why. */
export function switched({ on, chosen, since, been, sources }: SwitchState, now: number): Switched {
  if (chosen === 'break card') return { source: 'break card', reason: 'chosen', lookAgainAt: null };
  const { lastAt = null, steadySince = null } = sources.get(chosen) ?? {};
  const missing = been.has(chosen) ? 'silent' : 'nothing yet';
  if (on === chosen) {
    const silentAt = (lastAt ?? since) + SILENT_MS;
    if (now < silentAt) return { source: chosen, reason: 'chosen', lookAgainAt: silentAt };
    return { source: 'break card', reason: missing, lookAgainAt: null };
  }
  if (on === null && lastAt === null) {
    // At the beginning the first picture is waited for, but not for long: viewers may be there already.
    if (now < since + SILENT_MS) return { source: null, reason: 'nothing yet', lookAgainAt: since + SILENT_MS };
    return { source: 'break card', reason: 'nothing yet', lookAgainAt: null };
  }
  if (lastAt === null || now - lastAt >= SILENT_MS) return { source: 'break card', reason: missing, lookAgainAt: null };
  // The first picture of a show, or another source that somebody has chosen, need not prove itself; what was lost must.
  if (on !== 'break card' || !been.has(chosen)) return { source: chosen, reason: 'chosen', lookAgainAt: lastAt + SILENT_MS };
  if (steadySince !== null && now - steadySince >= STEADY_MS) return { source: chosen, reason: 'chosen', lookAgainAt: lastAt + SILENT_MS };
  return { source: 'break card', reason: 'not steady yet', lookAgainAt: steadySince === null ? null : steadySince + STEADY_MS };
}
