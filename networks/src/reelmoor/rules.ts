// What Reelmoor allows, enforced whatever the product has checked. Invented figures, in force here.
import type { EventRow, Limits } from '../kit/entities';
import type { NetworkRules } from '../kit/events';
import { Refusal } from '../kit/refusal';

const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;
const DAY_MS = 24 * HOUR_MS;

const GRID_MS = 5 * MINUTE_MS;
const EARLIEST_START_MS = -45 * MINUTE_MS;

export const reelmoorRules: NetworkRules = {
  network: 'reelmoor',
  limits: { title: 100, text: 4_800, ahead: 180 * DAY_MS, lead: 0, longest: 14 * HOUR_MS },
  becomesPublic: (event, at) => event.beginsBy === 'picture' && at >= event.startsAt + EARLIEST_START_MS,
  lapsesAfterMs: null,
  severalAtOnce: true,
  picture: { maxHeight: 1080, maxKbps: 6_000 },
  thumbnail: { shape: 16 / 9, minWidth: 1280, minHeight: 720, maxBytes: 2_000_000, types: ['image/jpeg', 'image/png'] },
  recording: { kept: true, afterMs: 5_000, atMostMs: 9 * HOUR_MS },
  withdrawn: 'nothing',
  messages: { longest: 500, threads: true },
  mayWrite: ({ facts }) => (facts.messages === 'off' ? 'nobody' : facts.messages === 'from followers' ? 'followers' : 'everyone'),
  writing: ({ chosen }) => ({ everySeconds: Number(chosen.messageEverySeconds ?? 0), ageDays: Number(chosen.writerAgeDays ?? 0), shortest: 0 }),
  messagesStay: ({ chosen }) => chosen.messagesStay !== false,
  listedFrom: ({ startsAt, chosen }) => startsAt - Number(chosen.listedDaysBefore ?? 0) * DAY_MS,
  shownIn: () => null,
  endsWithoutPictureMs: null,
};

/** Throws the first rule that a new or changed broadcast breaks. `moved`: its start is being set now. */
export function checkBroadcast(broadcast: Pick<EventRow, 'title' | 'text' | 'startsAt' | 'lengthMs'>, limits: Limits, at: number, moved: boolean): void {
  const refuse = (reason: string, text: string) => {
    throw new Refusal(422, reason, text);
  };
  if (!broadcast.title.trim()) refuse('title', 'A broadcast needs a title.');
  if ([...broadcast.title].length > limits.title) refuse('title', `Titles have ${limits.title} characters at most.`);
  if ([...broadcast.text].length > limits.text) refuse('description', `Descriptions have ${limits.text} characters at most.`);
  if (broadcast.lengthMs > limits.longest) refuse('durationMinutes', `Broadcasts last ${limits.longest / HOUR_MS} hours at most.`);
  if (!moved) return;
  if (broadcast.startsAt < at - MINUTE_MS) refuse('scheduledStart', 'The start lies in the past.');
  if (broadcast.startsAt - at < limits.lead)
    refuse('scheduledStart', `Broadcasts are scheduled at least ${limits.lead / MINUTE_MS} minutes before their start.`);
  if (broadcast.startsAt - at > limits.ahead) refuse('scheduledStart', `Broadcasts can be scheduled up to ${limits.ahead / DAY_MS} days ahead.`);
  if (broadcast.startsAt % GRID_MS) refuse('scheduledStart', 'Broadcasts start on every fifth minute.');
}

/** Throws if the broadcast may not be made public at `at`. */
export function checkStart(event: EventRow, at: number, pictureArrives: boolean): void {
  if (event.state === 'over' || event.state === 'withdrawn') throw new Refusal(409, 'ended', 'This broadcast has ended.');
  if (at < event.startsAt + EARLIEST_START_MS) {
    throw new Refusal(409, 'too-early', 'A broadcast can be started from 45 minutes before its time.');
  }
  if (!pictureArrives) throw new Refusal(409, 'no-picture', 'No picture arrives on the line of this broadcast.');
}
