// What Townfold allows, enforced whatever the product has checked. Invented figures, in force here.
import type { Account, Limits } from '../kit/entities';
import type { NetworkRules } from '../kit/events';
import { Refusal } from '../kit/refusal';

const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;
const DAY_MS = 24 * HOUR_MS;

export const DELAY_SECONDS = 12;

export const townfoldRules: NetworkRules = {
  network: 'townfold',
  limits: { title: 120, text: 2_000, ahead: 10 * DAY_MS, lead: 15 * MINUTE_MS, longest: 6 * HOUR_MS },
  becomesPublic: (event, at) => at >= event.startsAt,
  lapsesAfterMs: 3 * HOUR_MS,
  severalAtOnce: false,
  picture: { maxHeight: 720, maxKbps: 4_000 },
  thumbnail: { shape: 16 / 9, minWidth: 1200, minHeight: 675, maxBytes: 4_000_000, types: ['image/jpeg'] },
  recording: { kept: true, afterMs: 0, atMostMs: Infinity },
  withdrawn: 'recording',
  messages: { longest: 800, threads: false },
  mayWrite: ({ facts }) => (facts.talk === 'from followers' ? 'followers' : 'everyone'),
  writing: ({ chosen }) => ({ everySeconds: 0, ageDays: 0, shortest: Number(chosen.shortest_remark ?? 0) }),
  messagesStay: () => true,
  listedFrom: () => 0,
  shownIn: ({ chosen }) => {
    const { only_in: only = [], not_in: not = [] } = chosen as { only_in?: string[]; not_in?: string[] };
    if (only.length) return (country) => only.includes(country);
    return not.length ? (country) => !not.includes(country) : null;
  },
  endsWithoutPictureMs: 2 * MINUTE_MS,
};

const refuse = (reason: string, because: string): never => {
  throw new Refusal(422, reason, because);
};

export function checkWords(headline: string, words: string, lengthMs: number, limits: Limits): void {
  if (!headline.trim()) refuse('headline', 'A gathering needs a headline.');
  if ([...headline].length > limits.title) refuse('headline', `Headlines have ${limits.title} characters at most.`);
  if ([...words].length > limits.text) refuse('words', `There is room for ${limits.text} characters.`);
  if (lengthMs > limits.longest) refuse('lasts_minutes', `Gatherings last ${limits.longest / HOUR_MS} hours at most.`);
}

export function checkNote(words: string, limits: Limits): void {
  if (!words.trim()) refuse('words', 'A note says something.');
  if ([...words].length > limits.text) refuse('words', `There is room for ${limits.text} characters.`);
}

/** When a gathering begins. Null asks for now, which is all that a profile may do. */
export function checkBeginning(beginsAt: number | null, account: Account, limits: Limits, at: number): number {
  if (beginsAt === null) return Math.floor(at / 1000) * 1000; // told in whole seconds
  if (account.kind === 'profile') refuse('begins_at', 'A profile cannot announce a gathering; it can only begin one now.');
  if (beginsAt % MINUTE_MS) refuse('begins_at', 'Gatherings begin on the full minute.');
  if (beginsAt - at < limits.lead) refuse('begins_at', `A gathering is announced at least ${limits.lead / MINUTE_MS} minutes before it begins.`);
  if (beginsAt - at > limits.ahead) refuse('begins_at', `A gathering is announced at most ${limits.ahead / DAY_MS} days before it begins.`);
  return beginsAt;
}
