// What going on air, running a show and wrapping it up say.
import { instant, type Instant } from '../time/instant';
import { sayDay, sayTime, sayWhen } from '../time/zones';
import type { HandOverEnd } from '../air/hand-over';
import type { SwitchReason } from '../air/switcher';
import { no, type Refusal } from './refusal';

export const AIR_REFUSALS = {
  'air: over': no(409, 'This show is over. Plan it again to go on air once more.'),
  'air: stands nowhere': no(409, 'The show stands on no channel yet. Place it on at least one, then go on air.'),
  'air: too early': {
    status: 409,
    say: ({ startsAt, zone }) => `This show begins only on ${sayWhen(instant(startsAt), zone)}. It can go on air from a day before.`,
  } as Refusal<{ startsAt: number; zone: string }>,
  'air: its time has come': no(409, 'Its time has come: go on air by hand.'),
  'air: not on air': no(409, 'This show is not on air.'),
  'air: was public': no(409, 'This show has been public already. It can only be wrapped up, or taken to the holding card.'),
  'air: being wrapped up': no(409, 'This show is being wrapped up already.'),
  'air: somebody has it': {
    status: 409,
    say: ({ holder }) => `${holder} has the stage. Take it if you mean to send from here.`,
  } as Refusal<{ holder: string }>,
  'air: another stage has it': no(409, 'Another stage has this show. Take the stage to change its scene.'),
  'air: no such scene': no(400, 'There is no such scene.'),
  'air: not understood': no(400, 'The stage sent something that is not understood. Reload it.'),
  'air: no outside line': no(409, 'The picture of this show comes on an outside line, and none is chosen. Choose one on its sheet, under Camera.'),
  'air: starts nowhere': no(409, 'None of the channels that were chosen is one of this show any more. Look at them again.'),
  'air: nothing there': no(409, 'Nothing comes on this line at this moment. Start the encoder, then choose it.'),
  'air: nobody to help': no(409, 'Nobody has the stage at this moment. Take it, or wait for whoever had it.'),
  'air: nobody to ask': no(409, 'Nobody’s stage is there to be asked. Take the stage.'),
  'air: handed over already': no(409, 'The stage is being handed over to somebody already.'),
  'air: hand-over is over': no(409, 'This has been settled meanwhile: look at who has the stage.'),
  'air: a clip plays': no(409, 'A clip is playing, and ends with a hand-over. Hand over once it has ended.'),
  'air: no microphone': no(409, 'No stage sends at this moment, so no microphone is heard.'),
};

/** One of the two processes of the product is away, and is being started again. */
export const PLANNING_AWAY = 'The planning server is being started. The picture goes on; try again in a few seconds.';
export const NOT_CARRIED = 'The part that carries pictures is not running at this moment. It is being started; try again in a few seconds.';

/** What a break card says. `backAt`: when the show goes on; null: nobody has said. `zone`: the show's. */
export const sayBreak = (backAt: Instant | null, zone: string): string => (backAt === null ? 'Back in a moment' : `Back at ${sayTime(backAt, zone)}`);

/** Why viewers see the break card, to whoever is at a stage. `backAt`: what the card says of when the show goes on. */
export function sayCard(why: { chosen: boolean; reason: SwitchReason; backAt: Instant | null; zone: string }): string {
  if (why.chosen) return why.backAt === null ? 'Viewers see the break card.' : `Viewers see the break card: “${sayBreak(why.backAt, why.zone)}”.`;
  switch (why.reason) {
    case 'not steady yet':
      return 'Pictures arrive again. The programme goes on once they have come for two seconds.';
    case 'silent':
      return 'Nothing arrives from the stage: viewers see the break card. The programme goes on by itself when pictures come again.';
    default:
      return 'Viewers see the break card until the first picture arrives.';
  }
}

/** Why the stage has not been handed over. `from`, `to`: by name; told to either of them. */
export function sayHandOverEnd(ended: HandOverEnd, { from, to }: { from: string; to: string }): string {
  switch (ended) {
    case 'kept':
      return `${from} keeps the stage.`;
    case 'left':
      return `${to} does not take the stage: it stays with ${from}.`;
    case 'unanswered':
      return `Nobody has answered for a minute: the stage stays with ${from}.`;
    case 'no picture':
      return `No steady picture has come from ${to}: the stage stays with ${from}. Viewers have seen nothing of it.`;
    case 'gone':
      return `${to} is not there any more: the stage stays with ${from}.`;
    case 'taken':
      return 'Somebody has taken the stage meanwhile.';
  }
}

/** To the team, of a show on air that nobody is at. `since` in ms since the epoch. */
export function sayAlone({ title, since, zone, url }: { title: string; since: number; zone: string; url: string }): { subject: string; text: string } {
  const from = sayTime(instant(since), zone);
  return {
    subject: `“${title}” is on air and nobody is at its stage`,
    text: `Nobody’s stage has been connected to “${title}” since ${from}. Viewers see the break card, and the channels are kept open.\n\nGo on with it, or wrap it up: ${url}\n`,
  };
}

/** To the team, of a show that was to go on air by itself and has not. */
export function sayNotBegun({ title, why, url }: { title: string; why: string; url: string }): { subject: string; text: string } {
  return {
    subject: `“${title}” has not gone on air by itself`,
    text: `“${title}” was to go on air by itself at its time, and has not. ${why}\n\nGo on air by hand: ${url}\n`,
  };
}

/** How ending a show went on one channel. `network`: the network's name, or that of a typed-in channel. */
export type AiringEnd =
  | { code: 'ended'; network: string }
  | { code: 'ended later'; network: string }
  | { code: 'no more picture'; channel: string }
  | { code: 'asked again'; network: string }
  | { code: 'still runs'; network: string }
  | { code: 'given up'; network: string };

export function sayEnding(ending: AiringEnd): string {
  switch (ending.code) {
    case 'ended':
      return `Ended on ${ending.network}.`;
    case 'ended later':
      return `Ended on ${ending.network}, at a later try.`;
    case 'no more picture':
      return `${ending.channel} gets no more picture. End the show there too, if the service asks for it.`;
    case 'asked again':
      return `${ending.network} does not answer, so the show may still stand there. It is being asked again by itself.`;
    case 'still runs':
      return `${ending.network} took the end, and shows the show all the same. It is being asked again by itself; look there too.`;
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
