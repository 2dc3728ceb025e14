import type { ShowSummary } from '@lantern/contract';
import { HOUR_MS, type Instant } from '@lantern/core';
import { Link } from 'react-router';
import { inFull } from '../look/channel-words';

export const PLACING_WORDS: Record<ShowSummary['airings'][number]['placing'], string> = {
  none: 'not placed',
  placed: 'placed',
  refused: 'refused',
  unsure: 'unsure',
  withdrawn: 'withdrawn',
  'awaits air': 'ready',
  'awaits reach': 'placed later by itself',
};

/** The one thing that a host would do next with this show. */
export function NextStep({ show, now, className }: { show: ShowSummary; now: Instant; className?: string }) {
  const troubled = show.airings.filter(({ placing }) => placing === 'refused' || placing === 'unsure');
  const drifted = show.airings.find((airing) => airing.drifted);
  const link = (to: string, words: string) => (
    <Link to={to} className={className}>
      {words}
    </Link>
  );
  const sheet = (words: string, field = '') => link(`/shows/${show.id}${field}`, words);
  if (show.state === 'onAir' || show.state === 'interrupted') return link(`/shows/${show.id}/stage`, 'Go to the stage');
  if (show.state === 'over') return link(`/shows/${show.id}/report`, 'Read the report');
  if (show.state === 'placed' && show.startsAt - now < HOUR_MS) return link(`/shows/${show.id}/stage`, 'Open the stage');
  if (drifted) return sheet(`${inFull(drifted.channelName, drifted.network)}: changed there`);
  if (troubled.length) return sheet(`${inFull(troubled[0]!.channelName, troubled[0]!.network)}: ${PLACING_WORDS[troubled[0]!.placing]}`, '#place');
  if (show.toLook.length) return sheet('Look over what was carried over');
  return sheet(show.state === 'draft' ? 'Finish and place it' : 'Open the sheet');
}
