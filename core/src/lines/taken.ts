// Which line a show takes on a channel.
import type { RuleSheet } from '../channels/rules';

/** A line of a channel. `airingId`: the one airing that it is good for; null for lasting ones. */
export interface LineOfChannel {
  id: string;
  channelId: string;
  airingId: string | null;
}

/**
 * The identifier of the line that an airing takes: on a network that issues one for each show that one, elsewhere the chosen one, else
 * the channel's first. Null while none is known. `lines`: in the order of their making; those of other channels do no harm.
 */
export function lineTaken(
  airing: { id: string; channelId: string; lineId: string | null },
  rules: Pick<RuleSheet, 'lines'>,
  lines: readonly LineOfChannel[],
): string | null {
  if (rules.lines === 'one per show') return lines.find(({ airingId }) => airingId === airing.id)?.id ?? null;
  return airing.lineId ?? lines.find(({ channelId, airingId }) => channelId === airing.channelId && airingId === null)?.id ?? null;
}
