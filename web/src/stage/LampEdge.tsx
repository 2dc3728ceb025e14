import type { AirView } from '@lantern/contract';
import { Identity } from '../look/Identity';
import { LampWord } from '../look/LampGlyph';

/** The lamps along the bottom edge: how each channel stands, as its network reports it. */
export function LampEdge({ air }: { air: AirView | null }) {
  return (
    <div className="lamp-edge" role="region" aria-label="Channels">
      {air?.airings.map((airing) => (
        <div key={airing.airingId} data-airing={airing.channelName} data-network={airing.network}>
          <div className="d-flex gap-3 justify-content-between align-items-center">
            <Identity of={airing.channel} small />
            <LampWord lamp={airing.lamp} />
          </div>
          <div className="soft small-words" aria-live="polite">
            {airing.words}
            {airing.lamp === 'lit' && airing.watching !== null && ` ${airing.watching} watching.`}
          </div>
        </div>
      ))}
    </div>
  );
}
