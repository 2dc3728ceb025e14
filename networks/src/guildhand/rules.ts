// What Guildhand allows, enforced whatever the product has checked. Invented figures, in force here.
import type { EventRow, Limits } from '../kit/entities';
import type { NetworkRules } from '../kit/events';
import { Refusal } from '../kit/refusal';

const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;
const DAY_MS = 24 * HOUR_MS;

export const DELAY_SECONDS = 18;
const GRID_MS = 15 * MINUTE_MS;
const EARLIEST_START_MS = -20 * MINUTE_MS;

export const guildhandRules: NetworkRules = {
  network: 'guildhand',
  limits: { title: 80, text: 1_300, ahead: 90 * DAY_MS, lead: 30 * MINUTE_MS, longest: 4 * HOUR_MS },
  becomesPublic: () => false,
  lapsesAfterMs: 90 * MINUTE_MS,
  severalAtOnce: false,
  picture: { maxHeight: 1080, maxKbps: 6_000 },
  thumbnail: { shape: 16 / 9, minWidth: 1600, minHeight: 900, maxBytes: 5_000_000, types: ['image/jpeg', 'image/png'] },
  recording: { kept: true, afterMs: 0, atMostMs: Infinity },
  withdrawn: 'event',
  messages: { longest: 1_000, threads: true },
  mayWrite: () => 'members',
  writing: () => ({ everySeconds: 0, ageDays: 0, shortest: 0 }),
  messagesStay: ({ state }) => state !== 'over',
  listedFrom: () => 0,
  shownIn: () => null,
  endsWithoutPictureMs: 10 * MINUTE_MS,
};

const refuse = (reason: string, detail: string): never => {
  throw new Refusal(422, reason, detail);
};

/** Throws the first rule that the words or the length of a talk break. */
export function checkTalk({ title, text, lengthMs }: Pick<EventRow, 'title' | 'text' | 'lengthMs'>, limits: Limits): void {
  if (!title.trim()) refuse('title', 'A talk needs a title.');
  if ([...title].length > limits.title) refuse('title', `Titles have ${limits.title} characters at most.`);
  if ([...text].length > limits.text) refuse('summary', `Summaries have ${limits.text} characters at most.`);
  if (lengthMs > limits.longest) refuse('lasts', `Talks last ${limits.longest / HOUR_MS} hours at most.`);
}

/** Throws if a talk may not be announced for `startsAt`. */
export function checkBeginning(startsAt: number, limits: Limits, at: number): void {
  if (startsAt % GRID_MS) refuse('begins', 'Talks begin on the quarter of an hour.');
  if (startsAt - at < limits.lead) refuse('begins', `A talk is announced at least ${limits.lead / MINUTE_MS} minutes before it begins.`);
  if (startsAt - at > limits.ahead) refuse('begins', `A talk is announced at most ${limits.ahead / DAY_MS} days before it begins.`);
}

/** Throws if the talk may not be opened at `at`. */
export function checkOpening(event: EventRow, at: number, pictureArrives: boolean): void {
  if (at < event.startsAt + EARLIEST_START_MS) throw new Refusal(409, 'too-early', 'A talk can be opened from 20 minutes before its time.');
  if (!pictureArrives) throw new Refusal(409, 'no-picture', 'No picture comes in for this talk.');
}

/** An ISO 8601 duration of hours and minutes, in ms. */
export function lengthOf(duration: string): number {
  const [, hours = '0', minutes = '0'] = /^PT(?:(\d+)H)?(?:(\d+)M)?$/.exec(duration) ?? [];
  return Number(hours) * HOUR_MS + Number(minutes) * MINUTE_MS;
}
export const durationOf = (lengthMs: number): string => `PT${Math.round(lengthMs / MINUTE_MS)}M`;
