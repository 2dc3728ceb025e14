// What placing, telling, withdrawing and settling say.
import { no, type Refusal } from './refusal';

type OfChannel = Refusal<{ channel: string }>;

export const PLACING_REFUSALS = {
  'placing: was on air': no(409, 'This show has been on air. Plan it again for another date, then place that.'),
  'placing: no channel': no(422, 'No channel is ticked. Tick at least one, then place the show.'),
  'placing: clocks change': no(422, 'Clocks are changed over this start. Look at the time and choose which is meant.'),
  /** `objections`: for each channel its name and what stands against it there, in words. */
  'placing: objections': {
    status: 422,
    say: ({ objections }) =>
      `Nothing was placed. ${objections.map(({ channel, words }) => `${channel}: ${words}`).join(' ')} Put it right, or place it on the other channels alone.`,
  } as Refusal<{ objections: readonly { channel: string; words: string }[] }>,
  'placing: objection': { status: 422, say: ({ words }) => words } as Refusal<{ words: string }>,
  'placing: over': no(409, 'This show is over. Its channels are told nothing any more.'),
  'placing: not to be withdrawn': no(409, 'Only a show that has not been on air can be withdrawn. Wrap it up instead.'),
  'placing: does not stand there': no(409, 'The show does not stand on this channel. Place it instead.'),
  'placing: changed meanwhile': no(409, 'Somebody changed this channel meanwhile. Look at it again.'),
  'placing: being asked': no(409, 'The channels are still being asked. Wait for their answers.'),
  'settling: nothing to settle': no(409, 'There is nothing to settle on this channel. Look at it again.'),
  'settling: still stands': no(409, 'The event still stands on this channel. Withdraw it there instead.'),
  'settling: no side': no(422, 'Say which side is to win.'),
  'attaching: was on air': no(409, 'This show has been on air. Attach a show that is still to come.'),
  'attaching: another show': no(409, 'Another show of yours stands for this event already.'),
  'attaching: stands already': { status: 409, say: ({ channel }) => `The show stands on ${channel} already. Withdraw it there first.` } as OfChannel,
  'attaching: event gone': { status: 404, say: ({ channel }) => `This event is not on ${channel} any more. Look at the list again.` } as OfChannel,
};

/** What came of asking one channel. `channel`: named in full, so that no other is meant. */
export type Placed =
  | { code: 'placed' | 'changed' | 'withdrawn' | 'ready for picture' | 'begins on air' | 'says the same' | 'taken over'; channel: string }
  | { code: 'not there after all'; network: string }
  | { code: 'without picture'; trouble: string };

export function sayPlaced(placed: Placed): string {
  switch (placed.code) {
    case 'placed':
      return `Placed on ${placed.channel}.`;
    case 'changed':
      return `Changed on ${placed.channel}.`;
    case 'withdrawn':
      return `Withdrawn from ${placed.channel}.`;
    case 'ready for picture':
      return `${placed.channel} is ready: its picture is sent when the show goes on air.`;
    case 'begins on air':
      return `${placed.channel} is ready: the show begins there when you go on air.`;
    case 'says the same':
      return `${placed.channel} says what the sheet says.`;
    case 'taken over':
      return `Taken over from ${placed.channel}.`;
    case 'not there after all':
      return `${placed.network} answered, but says that the event is called off, over or missing there. Let it go there, then place it anew.`;
    case 'without picture':
      return `It stands there, but without its picture. ${placed.trouble}`;
  }
}

/** What is told with something that was done but for one thing. */
export const sayAllButOne = (done: string, locked: string): string => `${done} One thing stays as it is there: ${locked}`;

/** Why a channel cannot be asked at all. */
export function sayNoAccess(state: 'ended' | 'unreadable', channel: string): string {
  return state === 'ended'
    ? `Access to ${channel} was withdrawn or has run out. Link the channel again.`
    : `The key file that sealed the access to ${channel} is lost. Link the channel again.`;
}

/**
 * What went wrong when a network was asked. `said`: its own words; `how`: how it was silent; `fault`: the mistake is ours, and was
 * logged.
 */
export type NetworkTrouble =
  | { code: 'refused'; network: string; said: string }
  | { code: 'silent'; network: string; how: string }
  | { code: 'access ended'; network: string; channel: string }
  | { code: 'fault'; network: string };

/** `again`: who asks again, the person who reads it or the work that goes on. */
export function sayNetworkTrouble(trouble: NetworkTrouble, again: 'by hand' | 'by itself' = 'by hand'): string {
  const next = again === 'by hand' ? 'Try again; nothing is made twice.' : 'It is asked again by itself; nothing is made twice.';
  switch (trouble.code) {
    case 'refused':
      return `${trouble.network} said: ${trouble.said} Change it and try again.`;
    case 'silent':
      return `${trouble.network} gave no answer: ${trouble.how}. ${next}`;
    case 'access ended':
      return `${trouble.network} no longer lets the station act for ${trouble.channel}. Link the channel again.`;
    case 'fault':
      return `Something went wrong here while ${trouble.network} was being asked. ${next}`;
  }
}
