import type { AirView } from '@lantern/contract';
import { instant } from '@lantern/core';
import { Identity } from '../look/Identity';
import { LampWord } from '../look/LampGlyph';

interface Props {
  air: AirView | null;
  /** Since when nothing is heard of the server: nothing of what stands here is known any more. */
  unheardSince: number | null;
  zone: string;
}

/** The lamps along the bottom edge: how each channel stands, as its network reports it. */
export function LampEdge({ air, unheardSince, zone }: Props) {
  const since = unheardSince === null ? '' : new Intl.DateTimeFormat('en-GB', { timeZone: zone, timeStyle: 'medium' }).format(instant(unheardSince));
  return (
    <div className={`lamp-edge${unheardSince === null ? '' : ' unknown'}`} role="region" aria-label="Channels">
      {air?.airings.map((airing) => (
        <div key={airing.airingId} data-airing={airing.channelName} data-network={airing.network}>
          <div className="d-flex gap-3 justify-content-between align-items-center">
            <Identity of={airing.channel} small />
            {unheardSince === null ? <LampWord lamp={airing.lamp} /> : <span className="lamp unknown">not known</span>}
          </div>
          <div className="soft small-words" aria-live="polite">
            {unheardSince !== null
              ? `Not known since ${since}. The server is not heard.`
              : `${airing.words}${airing.lamp === 'lit' && airing.watching !== null ? ` ${airing.watching} watching.` : ''}`}
          </div>
        </div>
      ))}
    </div>
  );
}
