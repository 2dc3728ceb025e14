// What Pipwire allows, enforced whatever the product has checked. Invented figures, in force here.
import type { Limits } from '../kit/entities';
import type { NetworkRules } from '../kit/events';
import { Refusal } from '../kit/refusal';

const MINUTE_MS = 60_000;

export const DELAY_SECONDS = 8;
/** A picture that does not come for so long has stopped. */
const STOPPED_AFTER_MS = 3_000;
const LINK_COUNTS = 24;
const LINKS = /https?:\/\/\S+/g;

export const pipwireRules: NetworkRules = {
  network: 'pipwire',
  limits: { title: Infinity, text: 270, ahead: Infinity, lead: 0, longest: 120 * MINUTE_MS },
  becomesPublic: () => true,
  lapsesAfterMs: 30 * MINUTE_MS,
  severalAtOnce: false,
  picture: { maxHeight: 720, maxKbps: 2_500 },
  thumbnail: { shape: 2, minWidth: 1000, minHeight: 500, maxBytes: 1_000_000, types: ['image/jpeg'] },
  recording: { kept: false, afterMs: 0, atMostMs: 0 },
  withdrawn: 'nothing',
  messages: { longest: 270, threads: true },
  mayWrite: () => 'everyone',
  writing: () => ({ everySeconds: 0, ageDays: 0, shortest: 0 }),
  messagesStay: () => true,
  listedFrom: () => 0,
  shownIn: () => null,
  endsWithoutPictureMs: STOPPED_AFTER_MS,
};

/** Throws if there is nothing to say, or too much. */
export function checkSaying(say: string, limits: Limits): void {
  if (!say.trim()) throw new Refusal(422, 'empty', 'Say something.');
  const links = say.match(LINKS)?.length ?? 0;
  const counted = [...say.replace(LINKS, '')].length + links * LINK_COUNTS;
  if (counted > limits.text) throw new Refusal(422, 'too-long', `That is ${counted} characters; there is room for ${limits.text}.`);
}
