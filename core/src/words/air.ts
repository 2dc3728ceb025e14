// What going on air, running a show and wrapping it up say.
import { instant } from '../time/instant';
import { sayDay, sayWhen } from '../time/zones';
import { no, type Refusal } from './refusal';

export const AIR_REFUSALS = {
  'air: over': no(409, 'This show is over. Plan it again to go on air once more.'),
  'air: stands nowhere': no(409, 'The show stands on no channel yet. Place it on at least one, then go on air.'),
  'air: too early': {
    status: 409,
    say: ({ startsAt, zone }) => `This show begins only on ${sayWhen(instant(startsAt), zone)}. It can go on air from a day before.`,
  } as Refusal<{ startsAt: number; zone: string }>,
  'air: not on air': no(409, 'This show is not on air.'),
  'air: was public': no(409, 'This show has been public already. It can only be wrapped up, or taken to the holding card.'),
  'air: being wrapped up': no(409, 'This show is being wrapped up already.'),
  'air: somebody has it': {
    status: 409,
    say: ({ holder }) => `${holder} has this show. Take it over if you mean to send from here.`,
  } as Refusal<{ holder: string }>,
  'air: another stage has it': no(409, 'Another stage has this show. Take it over to change its scene.'),
  'air: no such scene': no(400, 'There is no such scene.'),
  'air: not understood': no(400, 'The stage sent something that is not understood. Reload it.'),
  'air: no microphone': no(409, 'No stage sends at this moment, so no microphone is heard.'),
};

/** How ending a show went on one channel. `network`: the network's name, or that of a typed-in channel. */
export type AiringEnd =
  | { code: 'ended'; network: string }
  | { code: 'ended later'; network: string }
  | { code: 'no more picture'; channel: string }
  | { code: 'asked again'; network: string }
  | { code: 'given up'; network: string };

export function sayEnding(ending: AiringEnd): string {
  switch (ending.code) {
    case 'ended':
      return `Ended on ${ending.network}.`;
    case 'ended later':
      return `Ended on ${ending.network}, after it had not answered at first.`;
    case 'no more picture':
      return `${ending.channel} gets no more picture. End the show there too, if the service asks for it.`;
    case 'asked again':
      return `${ending.network} does not answer, so the show may still stand there. It is being asked again by itself.`;
    case 'given up':
      return `${ending.network} could not be told that the show is over. End it there by hand.`;
  }
}

/** A show that was ended on its channels and could not be noted as over. `told`: what came of each; `storage`: what is wrong here and helps. */
export function sayEndedUnnoted(told: readonly string[], storage: string): string {
  return [...told, storage, 'Here the show is not over before that: wrap it up once more then.'].filter(Boolean).join(' ');
}

/** What is still to be ended, as a piece of work; null: its show was removed. `startsAt` in ms. */
export function sayEndingWork(of: { title: string; startsAt: number; zone: string; channel: string } | null): string {
  return of ? `End “${of.title}”, ${sayDay(instant(of.startsAt), of.zone)}, on ${of.channel}` : 'End a show that was removed';
}

/** What the disk leaves of the recording. `minutes`: for how long there is room yet. */
export type RoomTrouble = { code: 'all but full' } | { code: 'short'; minutes: number } | { code: 'broken off' };

export function sayRoom(room: RoomTrouble): string {
  switch (room.code) {
    case 'all but full':
      return 'The disk is all but full: the recording may break off. The picture goes on. Free some room now.';
    case 'short':
      return `The disk has room for about ${room.minutes} more minutes of recording. Free some room.`;
    case 'broken off':
      return 'The disk takes no more: the recording has broken off. The picture goes on.';
  }
}
