// The one place where the reasons of lamps become sentences.
import type { LampReason } from '../air/lamp';
import { instant } from '../time/instant';
import { sayLength, sayTime } from '../time/zones';

/** Why a lamp shows what it shows, and what to do, in the show's zone. */
export function sayLampReason(reason: LampReason, place: string, zone: string): string {
  switch (reason.code) {
    case 'held-back':
      return `Held back: nothing is sent to ${place} until you start it there.`;
    case 'not-placed':
      return `Not placed on ${place}. It airs there only after placing.`;
    case 'awaits-air':
      return `Begins on ${place} when you go on air.`;
    case 'being-placed':
      return `Being announced on ${place}, which takes nothing in advance…`;
    case 'nothing-arrives':
      return `Nothing reaches ${place} yet.`;
    case 'connecting':
      return `Reaching ${place}…`;
    case 'waits-for-start':
      return `The picture arrives. ${place} makes it public by itself at ${sayTime(instant(reason.startsAt), zone)}.`;
    case 'waits-for-window':
      return `The picture arrives. ${place} lets it start from ${sayTime(instant(reason.opensAt), zone)}.`;
    case 'begins-by-itself':
      return `The picture arrives. ${place} makes it public by itself.`;
    case 'being-started':
      return `The picture arrives; ${place} is being asked to make it public.`;
    case 'public':
      return `Public on ${place}.`;
    case 'sent-unconfirmed':
      return `Sent to ${place}. This service does not tell whether viewers see it.`;
    case 'outside-unconfirmed':
      return `The encoder sends straight to ${place}, which does not tell whether anything arrives. Look at its own page.`;
    case 'over':
      return `Over on ${place}.`;
    case 'ended-there':
      return `Ended on ${place}, and not from here. Nobody sees the show there any more.`;
    case 'withdrawn':
      return `Withdrawn from ${place}.`;
    case 'public-without-picture':
      return `Public on ${place}, but no picture arrives. Trying again.`;
    case 'line-fails':
      return `${place} broke the connection: ${reason.said || 'no reason given'}. ${again(reason.nextTryMs)}`;
    case 'network-silent':
      return `${place} has not answered for ${sayLength(reason.silentMs)}. The picture is still being sent.`;
    case 'start-refused':
      return `${place} would not start it: ${reason.said}`;
    case 'access-ended':
      return `${place} no longer lets the station act for this channel. The picture is still being sent; link the channel again.`;
    case 'event-missing':
      return `The event is gone from ${place}. Nobody sees the show there.`;
  }
}

function again(nextTryMs: number | null): string {
  if (nextTryMs === null) return 'Trying again.';
  return nextTryMs < 1500 ? 'Trying again now.' : `Trying again in ${sayLength(nextTryMs)}.`;
}
