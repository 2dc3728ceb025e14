// What Townfold allows, enforced whatever the product has checked. Invented figures, in force here.
import type { Account } from '../kit/entities';
import type { NetworkRules } from '../kit/events';
import { Refusal } from '../kit/refusal';

const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;

export const TOWNFOLD = {
  headlineMax: 120,
  wordsMax: 2_000,
  leastLeadMs: 15 * MINUTE_MS,
  furthestMs: 10 * 24 * HOUR_MS,
  latestStartMs: 3 * HOUR_MS,
  delaySeconds: 12,
} as const;

export const townfoldRules: NetworkRules = {
  network: 'townfold',
  app: 'townfold',
  refusesPicture: (event, at) => (at > event.startsAt + TOWNFOLD.latestStartMs ? 'This gathering lapsed: nothing came within three hours of its time.' : null),
  becomesPublic: (event, at) => at >= event.startsAt,
  longestMs: 6 * HOUR_MS,
  thumbnail: { minWidth: 1200, minHeight: 675, maxBytes: 4_000_000, types: ['image/jpeg'] },
};

const refuse = (reason: string, because: string): never => {
  throw new Refusal(422, reason, because);
};

export function checkWords(headline: string, words: string): void {
  if (!headline.trim()) refuse('headline', 'A gathering needs a headline.');
  if ([...headline].length > TOWNFOLD.headlineMax) refuse('headline', `Headlines have ${TOWNFOLD.headlineMax} characters at most.`);
  if ([...words].length > TOWNFOLD.wordsMax) refuse('words', `There is room for ${TOWNFOLD.wordsMax} characters.`);
}

/** When a gathering begins. Null asks for now, which is all that a profile may do. */
export function checkBeginning(beginsAt: number | null, account: Account, at: number): number {
  if (beginsAt === null) return Math.floor(at / 1000) * 1000; // told in whole seconds
  if (account.kind === 'profile') refuse('begins_at', 'A profile cannot announce a gathering; it can only begin one now.');
  if (beginsAt % MINUTE_MS) refuse('begins_at', 'Gatherings begin on the full minute.');
  if (beginsAt - at < TOWNFOLD.leastLeadMs) refuse('begins_at', 'A gathering is announced at least 15 minutes before it begins.');
  if (beginsAt - at > TOWNFOLD.furthestMs) refuse('begins_at', 'A gathering is announced at most 10 days before it begins.');
  return beginsAt;
}
