// What Reelmoor allows, enforced whatever the product has checked. Invented figures, in force here.
import type { EventRow } from '../kit/entities';
import type { NetworkRules } from '../kit/events';
import { Refusal } from '../kit/refusal';

const MINUTE_MS = 60_000;
const DAY_MS = 24 * 60 * MINUTE_MS;

export const REELMOOR = {
  titleMax: 100,
  textMax: 4_800,
  gridMs: 5 * MINUTE_MS,
  furthestMs: 180 * DAY_MS,
  earliestStartMs: -45 * MINUTE_MS,
} as const;

export const reelmoorRules: NetworkRules = {
  network: 'reelmoor',
  app: 'reelmoor',
  refusesPicture: () => null,
  becomesPublic: (event, at) => event.beginsBy === 'picture' && at >= event.startsAt + REELMOOR.earliestStartMs,
  longestMs: 14 * 60 * MINUTE_MS,
  thumbnail: { minWidth: 1280, minHeight: 720, maxBytes: 2_000_000, types: ['image/jpeg', 'image/png'] },
};

/** Throws the first rule that a new or changed broadcast breaks. */
export function checkBroadcast(broadcast: { title: string; description: string; startsAt: number }, at: number): void {
  const refuse = (reason: string, text: string) => {
    throw new Refusal(422, reason, text);
  };
  if (!broadcast.title.trim()) refuse('title', 'A broadcast needs a title.');
  if ([...broadcast.title].length > REELMOOR.titleMax) refuse('title', `Titles have ${REELMOOR.titleMax} characters at most.`);
  if ([...broadcast.description].length > REELMOOR.textMax) refuse('description', `Descriptions have ${REELMOOR.textMax} characters at most.`);
  if (broadcast.startsAt < at - MINUTE_MS) refuse('scheduledStart', 'The start lies in the past.');
  if (broadcast.startsAt - at > REELMOOR.furthestMs) refuse('scheduledStart', 'Broadcasts can be scheduled up to 180 days ahead.');
  if (broadcast.startsAt % REELMOOR.gridMs) refuse('scheduledStart', 'Broadcasts start on every fifth minute.');
}

/** Throws if the broadcast may not be made public at `at`. */
export function checkStart(event: EventRow, at: number, pictureArrives: boolean): void {
  if (event.state === 'over' || event.state === 'withdrawn') throw new Refusal(409, 'ended', 'This broadcast has ended.');
  if (at < event.startsAt + REELMOOR.earliestStartMs) {
    throw new Refusal(409, 'too-early', 'A broadcast can be started from 45 minutes before its time.');
  }
  if (!pictureArrives) throw new Refusal(409, 'no-picture', 'No picture arrives on the line of this broadcast.');
}
