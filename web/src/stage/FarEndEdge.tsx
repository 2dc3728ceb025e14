// Along the lower edge of a rehearsal: what arrives by the way that a show takes to its channels, and whether each of them would take it.
import type { AirView, ShowView } from '@lantern/contract';
import { beyondLimits, otherTroubles, reasonsToNormalise, sayOutsideFacts, sayOutsideTrouble, type BeyondLimit } from '@lantern/core';
import { Link } from 'react-router';
import { useChannels } from '../channels/channel-queries';
import { Identity } from '../look/Identity';

interface Props {
  show: ShowView;
  air: AirView | null;
  /** Since when nothing is heard of the server: nothing of what stands here is known any more. */
  unheardSince: number | null;
}

export function FarEndEdge({ show, air, unheardSince }: Props) {
  const channels = (useChannels().data ?? []).filter(({ id }) => show.rehearsal?.channelIds.includes(id));
  const farEnd = unheardSince === null ? (air?.farEnd ?? null) : null;
  const onAir = air?.showState === 'onAir';
  const troubles = farEnd ? [...reasonsToNormalise(farEnd.facts), ...otherTroubles(farEnd.facts)].map(sayOutsideTrouble) : [];
  return (
    <div className={`lamp-edge far-end${unheardSince === null ? '' : ' unknown'}`} role="region" aria-label="What arrives">
      <div>
        <b>As it arrives</b>
        {onAir && (
          <Link className="ms-3 small-words" to={`/shows/${show.id}/arrives`} target="_blank" rel="noopener">
            See it<span className="visually-hidden"> in a tab of its own</span>
          </Link>
        )}
        <div className="soft small-words" role="status">
          {unheardSince !== null
            ? 'Not known: the server is not heard.'
            : !onAir
              ? 'Nothing yet.'
              : !farEnd
                ? 'Nothing has arrived yet.'
                : farEnd.arrives
                  ? `${sayOutsideFacts(farEnd.facts)}.`
                  : 'Nothing arrives any more.'}
          {troubles.map((words) => ` ${words}`)}
        </div>
      </div>
      {channels.map((channel) => {
        const { id, rules } = channel;
        const beyond = farEnd ? beyondLimits(farEnd.facts, false, rules.video) : [];
        return (
          <div key={id}>
            <Identity of={channel} small />
            <div className="soft small-words">
              {beyond.length
                ? beyond.map(sayBeyond).join(' ')
                : farEnd?.arrives && farEnd.facts.kbps !== null
                  ? 'Would be taken. Nothing is sent there.'
                  : 'Nothing is sent there.'}
            </div>
          </div>
        );
      })}
    </div>
  );
}

/** Short: whose rule it is stands above it. */
function sayBeyond(beyond: BeyondLimit): string {
  const rate = (kbps: number) => `${kbps.toLocaleString('en')} kbit/s`;
  switch (beyond.code) {
    case 'lines':
      return `Takes ${beyond.most} lines at most; ${beyond.height} arrive.`;
    case 'above':
      return `Takes ${rate(beyond.most)} at most; ${rate(beyond.kbps)} arrive.`;
    case 'below':
      return `Asks for at least ${rate(beyond.least)}; ${rate(beyond.kbps)} arrive.`;
  }
}
