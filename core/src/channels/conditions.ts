// Whether an account may broadcast at all: the network's conditions, each with its state and remedy.
import { instant } from '../time/instant';
import { sayWhen } from '../time/zones';

export type ConditionCode = 'verified-phone' | 'waiting-day' | 'page-role' | 'group-allows' | 'account-age' | 'connections' | 'followers' | 'access';

/**
 * One condition as the network told it. `waiting` is met by itself at `metAt`. `have` and `need`
 * count what the code names: connections, followers, or days of age.
 */
export interface Condition {
  code: ConditionCode;
  state: 'met' | 'waiting' | 'unmet';
  have?: number;
  need?: number;
  /** When a waiting condition will be met. */
  metAt?: number;
}

/** Whether every condition is met. No conditions at all count as met: such a service asks for none. */
export const mayBroadcast = (conditions: readonly Condition[]): boolean => conditions.every(({ state }) => state === 'met');

/** What the network wants, and what helps where it is not met. `askThere` marks what can be asked for from here. */
export function sayCondition(condition: Condition, networkName: string, zone: string): { what: string; remedy: string; askThere: boolean } {
  const { code, state, have = 0, need = 0, metAt } = condition;
  const when = metAt === undefined ? 'later' : `from ${sayWhen(instant(metAt), zone)}`;
  const met = state === 'met';
  const said = (what: string, remedy: string, askThere = false) => ({ what, remedy: met ? '' : remedy, askThere: askThere && !met });
  switch (code) {
    case 'access':
      return said('Leave to act for the account', 'Access was withdrawn or has run out. Link the channel again.');
    case 'verified-phone':
      return said('A verified phone number', `Verify a phone number in the account’s settings on ${networkName}, then look again.`);
    case 'waiting-day':
      return state === 'waiting'
        ? said('A day since broadcasting was first asked for', `Asked for. ${networkName} allows it ${when}; nothing else is needed.`)
        : said('A day since broadcasting was first asked for', `Ask ${networkName} now; it allows broadcasting a day later.`, true);
    case 'page-role':
      return said('A role on the page that lets you broadcast', `Ask whoever runs the page on ${networkName} to let you publish for it.`);
    case 'group-allows':
      return said('Leave of the group to broadcast', `An administrator of the group can allow them in its settings on ${networkName}.`);
    case 'account-age':
      return said(`An account older than ${need} days; this one has ${have}`, `${networkName} allows it ${when}. Until then, use another channel.`);
    case 'connections':
      return said(`${need} connections; this account has ${have}`, `${need - have} more are needed. Ask members of the station to connect with it there.`);
    case 'followers':
      return said(`${need} followers; this account has ${have}`, `${need - have} more are needed. Announce the account on your other channels.`);
  }
}
