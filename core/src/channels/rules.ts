// Our dated rule sheets: what each network allows, as far as we know. The network has the last
// word; a sheet that is out of date shows as a refusal at placing, not as a lost show.
import { DAY_MS, HOUR_MS, MINUTE_MS, type Instant } from '../time/instant';

export type NetworkId = 'reelmoor' | 'townfold' | 'guildhand' | 'pipwire';
export type AccountKind = 'library channel' | 'page' | 'group' | 'profile' | 'member' | 'organisation' | 'handle' | 'service';
export type Visibility = 'everyone' | 'link holders' | 'invited people' | 'supporters' | 'group members';
export type ThumbnailType = 'image/jpeg' | 'image/png';
/** Who may write beneath a show; `off` is a choice of its own. */
export type MessageRule = 'everyone' | 'followers' | 'members' | 'off';
/** Whom a show is for. A network that is told may bar the young, or switch off messages for children. */
export type Audience = 'everybody' | 'adults' | 'children';
/** Under which terms others may use a recording: none, or Creative Commons Attribution 4.0. */
export type Licence = 'all rights kept' | 'CC BY 4.0';
/** What a network may keep as it is while a show is on there: choices of an airing by their names, and its picture. */
export type FixedChoice = 'delayS' | 'rewind' | 'replay' | 'beginsByItself';
export type FixedOnAir = FixedChoice | 'picture';
export type LockedField = 'account' | 'start time' | 'visibility' | 'everything';

/** Artwork that a network takes: pixels, bytes; `shape` is width over height. */
export interface ThumbnailRule {
  shape: number;
  minWidth: number;
  minHeight: number;
  maxBytes: number;
  types: readonly ThumbnailType[];
  optional: boolean;
  alternativeNeeded: boolean;
}

/** One network's rules for one kind of account. Every limit in ms, characters, pixels, bytes or kbit/s as named. */
export interface RuleSheet {
  network: NetworkId | 'typed-in';
  kind: AccountKind;
  /** The day on which we last knew these rules to hold, YYYY-MM-DD. */
  asOf: string;
  /** False: the show can only begin there at the moment it goes on air. */
  maySchedule: boolean;
  /** An event may also be made for the very moment, with no lead. */
  beginsUnannounced: boolean;
  furthestAheadMs: number | null;
  leastLeadMs: number;
  /** What the network recommends beyond the least lead; null: nothing. */
  betterLeadMs: number | null;
  startGridMs: number;
  /** How long before (negative) and after the planned start an airing may be started; null: no limit. */
  startWindow: { earliestMs: number | null; latestMs: number | null };
  lockedAfterPlacing: readonly LockedField[];
  /** What of an airing stays as it is once it has begun there. */
  fixedOnAir: readonly FixedOnAir[];
  /** False: title and text are sent as one text. */
  takesTitle: boolean;
  titleMax: number | null;
  textMax: number | null;
  /** What any web address counts in a text, in characters; null: its own length. */
  linkCounts: number | null;
  visibilities: readonly Visibility[];
  thumbnail: ThumbnailRule | null;
  lines: 'named' | 'one per show' | 'one lasting';
  /** Whether two shows may be on air on one channel at the same time. */
  severalAtOnce: boolean;
  /**
   * `told`: public when the network is told; `by itself`: once the start time has come and a picture
   * arrives; `on picture`: as soon as a picture arrives.
   */
  startsThere: 'told' | 'by itself' | 'on picture' | 'unknown';
  /** The network also lets a show begin by itself when a picture arrives, if asked to at placing. */
  startsThereIsAChoice: boolean;
  delaysS: readonly number[];
  rewindMaxMs: number | null;
  longestMs: number | null;
  recordingStopsMs: number | null;
  video: { maxHeight: number; minKbps: number | null; maxKbps: number } | null;
  keyFrameEveryMs: number | null;
  messages: readonly MessageRule[];
  /** Seconds between two messages of one writer that one may ask for, 0: as fast as they like; empty: it does not ask. */
  messageIntervalsS: readonly number[];
  /** How many days old an account has to be that writes, 0: any; empty: it does not ask. */
  writerAgesDays: readonly number[];
  /** Characters that a message has at least, 0: any; empty: it does not ask. */
  shortestMessages: readonly number[];
  categories: boolean;
  languages: boolean;
  /** Whether one may choose that the recording cannot be watched there afterwards. */
  replayIsAChoice: boolean;
  /** Whom one may say that a show is for; empty: it does not ask. */
  audiences: readonly Audience[];
  /** Most tags on a show; null: it takes none. */
  tagsMax: number | null;
  /** Whether other sites may be kept from showing it, and whether a paid mention has to be told. */
  embeddingIsAChoice: boolean;
  paidMentionIsTold: boolean;
  /** Terms under which one may let others use the recording; empty: it does not ask. */
  licences: readonly Licence[];
  /** How many days before its start a coming show may be listed, 0 for at its start; empty: it is listed once placed. */
  listingDays: readonly number[];
  /** Whether a show can be put into a playlist, and followed by another that is shown next. */
  playlists: boolean;
  nextIsAChoice: boolean;
  /** Whether a show can be kept to some countries, or from some. */
  countriesAreAChoice: boolean;
  /** On whose pages a show can be shared there; null: on none. */
  sharing: 'partner pages and own groups' | null;
  /** Adverts that the network itself puts into a show; null: not known. A figure: always, after so many ms. */
  adverts: 'a choice' | 'never' | number | null;
  /** What becomes of messages once the recording is there. */
  messagesAfterwards: 'a choice' | 'kept' | 'dropped' | null;
  /** How long after its picture stopped a show is ended there; null: it waits for ever, or it is not known. */
  endsWithoutPictureMs: number | null;
  promotion: 'any time' | 'only after the end' | 'never' | null;
  withdrawing: 'removes event and recording' | 'removes event, keeps recording' | 'keeps the event, marked cancelled' | 'removes the post' | 'nothing there';
  afterTheEnd: string | null;
  /** Whether something can be said on the account's page without any event, within `textMax`. */
  posts: boolean;
}

const reelmoor: RuleSheet = {
  network: 'reelmoor',
  kind: 'library channel',
  asOf: '2026-11-01',
  maySchedule: true,
  beginsUnannounced: false,
  furthestAheadMs: 180 * DAY_MS,
  leastLeadMs: 0,
  betterLeadMs: null,
  startGridMs: 5 * MINUTE_MS,
  startWindow: { earliestMs: -45 * MINUTE_MS, latestMs: null },
  lockedAfterPlacing: [],
  fixedOnAir: ['delayS', 'rewind', 'replay', 'beginsByItself'],
  takesTitle: true,
  titleMax: 100,
  textMax: 4_800,
  linkCounts: null,
  visibilities: ['everyone', 'link holders', 'invited people', 'supporters'],
  thumbnail: {
    shape: 16 / 9,
    minWidth: 1280,
    minHeight: 720,
    maxBytes: 2_000_000,
    types: ['image/jpeg', 'image/png'],
    optional: true,
    alternativeNeeded: false,
  },
  lines: 'named',
  severalAtOnce: true,
  startsThere: 'told',
  startsThereIsAChoice: true,
  delaysS: [4, 10, 25],
  rewindMaxMs: 3 * HOUR_MS,
  longestMs: 14 * HOUR_MS,
  recordingStopsMs: 9 * HOUR_MS,
  video: { maxHeight: 1080, minKbps: 2_500, maxKbps: 6_000 },
  keyFrameEveryMs: 4_000,
  messages: ['everyone', 'followers', 'off'],
  messageIntervalsS: [0, 10, 30, 60],
  writerAgesDays: [0, 1, 7, 30],
  shortestMessages: [],
  categories: true,
  languages: true,
  replayIsAChoice: true,
  audiences: ['everybody', 'adults', 'children'],
  tagsMax: 12,
  embeddingIsAChoice: true,
  paidMentionIsTold: true,
  licences: ['all rights kept', 'CC BY 4.0'],
  listingDays: [0, 1, 3, 7, 14, 30],
  playlists: true,
  nextIsAChoice: true,
  countriesAreAChoice: false,
  sharing: null,
  adverts: 'a choice',
  messagesAfterwards: 'a choice',
  endsWithoutPictureMs: null,
  promotion: 'any time',
  withdrawing: 'removes event and recording',
  afterTheEnd: 'Figures are there at once, the recording after some processing.',
  posts: false,
};

const townfold: RuleSheet = {
  network: 'townfold',
  kind: 'page',
  asOf: '2026-11-01',
  maySchedule: true,
  beginsUnannounced: true,
  furthestAheadMs: 10 * DAY_MS,
  leastLeadMs: 15 * MINUTE_MS,
  betterLeadMs: null,
  startGridMs: MINUTE_MS,
  startWindow: { earliestMs: 0, latestMs: 3 * HOUR_MS },
  lockedAfterPlacing: ['account'],
  fixedOnAir: [],
  takesTitle: true,
  titleMax: 120,
  textMax: 2_000,
  linkCounts: null,
  visibilities: ['everyone'],
  thumbnail: { shape: 16 / 9, minWidth: 1200, minHeight: 675, maxBytes: 4_000_000, types: ['image/jpeg'], optional: true, alternativeNeeded: false },
  lines: 'one per show',
  severalAtOnce: false,
  startsThere: 'by itself',
  startsThereIsAChoice: false,
  delaysS: [12],
  rewindMaxMs: null,
  longestMs: 6 * HOUR_MS,
  recordingStopsMs: null,
  video: { maxHeight: 720, minKbps: null, maxKbps: 4_000 },
  keyFrameEveryMs: 2_000,
  messages: ['everyone', 'followers'],
  messageIntervalsS: [],
  writerAgesDays: [],
  shortestMessages: [0, 3, 10, 20],
  categories: false,
  languages: false,
  replayIsAChoice: false,
  audiences: ['everybody', 'adults'],
  tagsMax: null,
  embeddingIsAChoice: false,
  paidMentionIsTold: false,
  licences: [],
  listingDays: [],
  playlists: false,
  nextIsAChoice: false,
  countriesAreAChoice: true,
  sharing: 'partner pages and own groups',
  adverts: 'never',
  messagesAfterwards: 'kept',
  endsWithoutPictureMs: 2 * MINUTE_MS,
  promotion: 'only after the end',
  withdrawing: 'removes event, keeps recording',
  afterTheEnd: 'Figures come after a while.',
  posts: true,
};

const guildhand: RuleSheet = {
  network: 'guildhand',
  kind: 'organisation',
  asOf: '2026-11-01',
  maySchedule: true,
  beginsUnannounced: false,
  furthestAheadMs: 90 * DAY_MS,
  leastLeadMs: 30 * MINUTE_MS,
  betterLeadMs: 3 * DAY_MS,
  startGridMs: 15 * MINUTE_MS,
  startWindow: { earliestMs: -20 * MINUTE_MS, latestMs: 90 * MINUTE_MS },
  lockedAfterPlacing: ['start time', 'visibility'],
  fixedOnAir: ['picture'],
  takesTitle: true,
  titleMax: 80,
  textMax: 1_300,
  linkCounts: null,
  visibilities: ['everyone', 'invited people'],
  thumbnail: {
    shape: 16 / 9,
    minWidth: 1600,
    minHeight: 900,
    maxBytes: 5_000_000,
    types: ['image/jpeg', 'image/png'],
    optional: true,
    alternativeNeeded: true,
  },
  lines: 'one per show',
  severalAtOnce: false,
  startsThere: 'told',
  startsThereIsAChoice: false,
  delaysS: [18],
  rewindMaxMs: null,
  longestMs: 4 * HOUR_MS,
  recordingStopsMs: null,
  video: { maxHeight: 1080, minKbps: null, maxKbps: 6_000 },
  keyFrameEveryMs: 4_000,
  messages: ['members'],
  messageIntervalsS: [],
  writerAgesDays: [],
  shortestMessages: [],
  categories: false,
  languages: false,
  replayIsAChoice: false,
  audiences: [],
  tagsMax: null,
  embeddingIsAChoice: false,
  paidMentionIsTold: false,
  licences: [],
  listingDays: [],
  playlists: false,
  nextIsAChoice: false,
  countriesAreAChoice: false,
  sharing: null,
  adverts: 'never',
  messagesAfterwards: 'dropped',
  endsWithoutPictureMs: 10 * MINUTE_MS,
  promotion: 'never',
  withdrawing: 'keeps the event, marked cancelled',
  afterTheEnd: 'Registrations and attendance are told.',
  posts: false,
};

const pipwire: RuleSheet = {
  network: 'pipwire',
  kind: 'handle',
  asOf: '2026-11-01',
  maySchedule: false,
  beginsUnannounced: true,
  furthestAheadMs: null,
  leastLeadMs: 0,
  betterLeadMs: null,
  startGridMs: MINUTE_MS,
  startWindow: { earliestMs: null, latestMs: null },
  lockedAfterPlacing: ['everything'],
  fixedOnAir: [],
  takesTitle: false,
  titleMax: null,
  textMax: 270,
  linkCounts: 24,
  visibilities: ['everyone'],
  thumbnail: { shape: 2, minWidth: 1000, minHeight: 500, maxBytes: 1_000_000, types: ['image/jpeg'], optional: true, alternativeNeeded: false },
  lines: 'one lasting',
  severalAtOnce: false,
  startsThere: 'on picture',
  startsThereIsAChoice: false,
  delaysS: [8],
  rewindMaxMs: null,
  longestMs: 2 * HOUR_MS,
  recordingStopsMs: null,
  video: { maxHeight: 720, minKbps: null, maxKbps: 2_500 },
  keyFrameEveryMs: 3_000,
  messages: ['everyone'],
  messageIntervalsS: [],
  writerAgesDays: [],
  shortestMessages: [],
  categories: false,
  languages: false,
  replayIsAChoice: false,
  audiences: [],
  tagsMax: null,
  embeddingIsAChoice: false,
  paidMentionIsTold: false,
  licences: [],
  listingDays: [],
  playlists: false,
  nextIsAChoice: false,
  countriesAreAChoice: false,
  sharing: null,
  adverts: 10 * MINUTE_MS,
  messagesAfterwards: 'kept',
  endsWithoutPictureMs: 0,
  promotion: 'any time',
  withdrawing: 'removes the post',
  afterTheEnd: 'Only the replies remain.',
  posts: true,
};

const typedIn: RuleSheet = {
  network: 'typed-in',
  kind: 'service',
  asOf: '2026-11-01',
  maySchedule: true,
  beginsUnannounced: true,
  furthestAheadMs: null,
  leastLeadMs: 0,
  betterLeadMs: null,
  startGridMs: MINUTE_MS,
  startWindow: { earliestMs: null, latestMs: null },
  lockedAfterPlacing: [],
  fixedOnAir: [],
  takesTitle: true,
  titleMax: null,
  textMax: null,
  linkCounts: null,
  visibilities: ['everyone'],
  thumbnail: null,
  lines: 'named',
  severalAtOnce: true,
  startsThere: 'unknown',
  startsThereIsAChoice: false,
  delaysS: [],
  rewindMaxMs: null,
  longestMs: null,
  recordingStopsMs: null,
  video: null,
  keyFrameEveryMs: null,
  messages: [],
  messageIntervalsS: [],
  writerAgesDays: [],
  shortestMessages: [],
  categories: false,
  languages: false,
  replayIsAChoice: false,
  audiences: [],
  tagsMax: null,
  embeddingIsAChoice: false,
  paidMentionIsTold: false,
  licences: [],
  listingDays: [],
  playlists: false,
  nextIsAChoice: false,
  countriesAreAChoice: false,
  sharing: null,
  adverts: null,
  messagesAfterwards: null,
  endsWithoutPictureMs: null,
  promotion: null,
  withdrawing: 'nothing there',
  afterTheEnd: null,
  posts: false,
};

const SHEETS = { reelmoor, townfold, guildhand, pipwire, 'typed-in': typedIn };

/** A Townfold profile can only begin now; a group may also keep a show to its members. */
function ofKind(sheet: RuleSheet, kind: AccountKind): RuleSheet {
  if (sheet.network !== 'townfold') return { ...sheet, kind };
  if (kind === 'profile') return { ...sheet, kind, maySchedule: false, sharing: null };
  if (kind === 'group') return { ...sheet, kind, visibilities: ['everyone', 'group members'] };
  return { ...sheet, kind };
}

/** The limits that a network may announce to change, in the units of the sheet. */
export const CHANGEABLE_LIMITS = ['titleMax', 'textMax', 'furthestAheadMs', 'leastLeadMs', 'longestMs'] as const;
export type ChangeableLimit = (typeof CHANGEABLE_LIMITS)[number];

/** A change of one limit that a network has announced. */
export interface RuleNotice {
  id: string;
  limit: ChangeableLimit;
  value: number;
  from: Instant;
}

/** Limits that a host typed in for a service without rules known to us; null: none. */
export interface LimitsByHand {
  titleMax: number | null;
  textMax: number | null;
  longestMs: number | null;
  maxKbps: number | null;
}

/**
 * The rule sheet in force at `at` for one kind of account on one network: our sheet, with every
 * announced change that has come into force, the later over the earlier.
 */
export function rulesFor(network: NetworkId | 'typed-in', kind: AccountKind, notices: readonly RuleNotice[] = [], at: Instant | null = null): RuleSheet {
  const sheet = ofKind(SHEETS[network], kind);
  if (at === null) return sheet;
  const inForce = notices.filter(({ from }) => from <= at).sort((a, b) => a.from - b.from);
  for (const { limit, value, from } of inForce) {
    sheet[limit] = value;
    sheet.asOf = new Date(from).toISOString().slice(0, 10);
  }
  return sheet;
}

/** The sheet of a typed-in service with the host's own limits. */
export function rulesWithLimits(limits: LimitsByHand | null): RuleSheet {
  const sheet = rulesFor('typed-in', 'service');
  if (!limits) return sheet;
  const { titleMax, textMax, longestMs, maxKbps } = limits;
  return { ...sheet, titleMax, textMax, longestMs, video: maxKbps === null ? null : { maxHeight: 1080, minKbps: null, maxKbps } };
}
