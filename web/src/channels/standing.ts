// How a channel stands, in a few words: may it broadcast, and if not, what comes first.
import { NETWORK_NAMES, type ChannelView } from '@lantern/contract';
import { sayCondition } from '@lantern/core';

export const HERE = Intl.DateTimeFormat().resolvedOptions().timeZone;

export interface Standing {
  kind: 'done' | 'caution' | 'refusal';
  words: string;
}

export function standingOf(channel: ChannelView): Standing {
  if (channel.access === 'ended') return { kind: 'refusal', words: 'Access was withdrawn or has run out. Link it again.' };
  if (channel.access === 'unreadable') return { kind: 'refusal', words: 'The key file that sealed its access is lost. Link it again.' };
  if (channel.network === 'typed-in') return { kind: 'done', words: 'Gets your picture; its event page is looked after there.' };
  if (channel.conditionsAt === null) return { kind: 'caution', words: 'Not looked at yet.' };
  const missing = channel.conditions.find(({ state }) => state !== 'met');
  if (!missing) return { kind: 'done', words: 'May broadcast.' };
  const { remedy } = sayCondition(missing, NETWORK_NAMES[channel.network], HERE);
  return { kind: missing.state === 'waiting' ? 'caution' : 'refusal', words: `May not broadcast yet. ${remedy}` };
}
