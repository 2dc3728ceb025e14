// Our dated rule sheets: what each network allows, as far as we know. The network has the last
// word; a sheet that is out of date shows as a refusal at placing, not as a lost show.
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../time/instant';

export type NetworkId = 'reelmoor' | 'townfold';
export type AccountKind = 'library channel' | 'page' | 'group' | 'profile' | 'service';

/** One network's rules for one kind of account. Every limit in ms, characters, pixels, bytes or kbit/s as named. */
export interface RuleSheet {
  network: NetworkId | 'typed-in';
  /** The day on which we last knew these rules to hold, YYYY-MM-DD. */
  asOf: string;
  maySchedule: boolean;
  furthestAheadMs: number | null;
  leastLeadMs: number;
  startGridMs: number;
  /** How long before (negative) and after the planned start an airing may be started; null: no limit. */
  startWindow: { earliestMs: number | null; latestMs: number | null };
  /** `told`: the show becomes public when the network is told; `by itself`: once the start time has come and a picture arrives. */
  startsThere: 'told' | 'by itself' | 'unknown';
  titleMax: number | null;
  textMax: number | null;
  longestMs: number | null;
  recordingStopsMs: number | null;
  thumbnail: { minWidth: number; minHeight: number; maxBytes: number; types: readonly ThumbnailType[] } | null;
  videoMaxKbps: number | null;
  keyFrameEveryMs: number | null;
  withdrawing: 'removes event and recording' | 'removes event, keeps recording' | 'nothing there';
}

export type ThumbnailType = 'image/jpeg' | 'image/png';

const reelmoor: RuleSheet = {
  network: 'reelmoor',
  asOf: '2026-11-01',
  maySchedule: true,
  furthestAheadMs: 180 * DAY_MS,
  leastLeadMs: 0,
  startGridMs: 5 * MINUTE_MS,
  startWindow: { earliestMs: -45 * MINUTE_MS, latestMs: null },
  startsThere: 'told',
  titleMax: 100,
  textMax: 4_800,
  longestMs: 14 * HOUR_MS,
  recordingStopsMs: 9 * HOUR_MS,
  thumbnail: { minWidth: 1280, minHeight: 720, maxBytes: 2_000_000, types: ['image/jpeg', 'image/png'] },
  videoMaxKbps: 6_000,
  keyFrameEveryMs: 4_000,
  withdrawing: 'removes event and recording',
};

const townfold: RuleSheet = {
  network: 'townfold',
  asOf: '2026-11-01',
  maySchedule: true,
  furthestAheadMs: 10 * DAY_MS,
  leastLeadMs: 15 * MINUTE_MS,
  startGridMs: MINUTE_MS,
  startWindow: { earliestMs: 0, latestMs: 3 * HOUR_MS },
  startsThere: 'by itself',
  titleMax: 120,
  textMax: 2_000,
  longestMs: 6 * HOUR_MS,
  recordingStopsMs: null,
  thumbnail: { minWidth: 1200, minHeight: 675, maxBytes: 4_000_000, types: ['image/jpeg'] },
  videoMaxKbps: 4_000,
  keyFrameEveryMs: 2_000,
  withdrawing: 'removes event, keeps recording',
};

const typedIn: RuleSheet = {
  network: 'typed-in',
  asOf: '2026-11-01',
  maySchedule: true,
  furthestAheadMs: null,
  leastLeadMs: 0,
  startGridMs: MINUTE_MS,
  startWindow: { earliestMs: null, latestMs: null },
  startsThere: 'unknown',
  titleMax: null,
  textMax: null,
  longestMs: null,
  recordingStopsMs: null,
  thumbnail: null,
  videoMaxKbps: null,
  keyFrameEveryMs: null,
  withdrawing: 'nothing there',
};

/** The rule sheet for one kind of account on one network. A Townfold profile can only go out now, never be scheduled. */
export function rulesFor(network: NetworkId | 'typed-in', kind: AccountKind): RuleSheet {
  if (network === 'typed-in') return typedIn;
  if (network === 'reelmoor') return reelmoor;
  return kind === 'profile' ? { ...townfold, maySchedule: false } : townfold;
}
