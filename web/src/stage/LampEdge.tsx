import type { AirView } from '@lantern/contract';
import { instant, sayBehind } from '@lantern/core';
import { Button } from 'react-bootstrap';
import { Explained } from '../look/Explained';
import { Identity } from '../look/Identity';
import { LampWord } from '../look/LampGlyph';

interface Props {
  air: AirView | null;
  /** Since when nothing is heard of the server: nothing of what stands here is known any more. */
  unheardSince: number | null;
  zone: string;
  /** Starts a channel that was held back; missing: nobody can here. */
  onStart?: (airingId: string) => void;
  /** Has another event made where the first has ended; missing: nobody can here. */
  onAnew?: (airingId: string) => void;
}

/** The lamps along the bottom edge: how each channel stands, as its network reports it. */
export function LampEdge({ air, unheardSince, zone, onStart, onAnew }: Props) {
  const since = unheardSince === null ? '' : new Intl.DateTimeFormat('en-GB', { timeZone: zone, timeStyle: 'medium' }).format(instant(unheardSince));
  return (
    <div className={`lamp-edge${unheardSince === null ? '' : ' unknown'}`} role="region" aria-label="Channels">
      {air?.airings.map((airing, index) => (
        <div key={airing.airingId} data-airing={airing.channelName} data-network={airing.network}>
          <div className="d-flex gap-3 justify-content-between align-items-center">
            <Identity of={airing.channel} small />
            <span className="d-inline-flex align-items-center">
              {unheardSince === null ? <LampWord lamp={airing.lamp} /> : <span className="lamp unknown">not known</span>}
              {index === 0 && <Explained word="lamps" up />}
            </span>
          </div>
          <div className="soft small-words">
            {/* How many watch changes all the time: it is there to be read, and not told each time. */}
            <span aria-live="polite">{unheardSince !== null ? `Not known since ${since}. The server is not heard.` : airing.words}</span>
            {unheardSince === null && airing.heldBack && onStart && (
              <>
                {' '}
                <Button variant="quiet" size="sm" onClick={() => onStart(airing.airingId)}>
                  Start it on {airing.network}
                </Button>
              </>
            )}
            {unheardSince === null && airing.mayBeMadeAnew && onAnew && (
              <>
                {' '}
                <Button variant="quiet" size="sm" onClick={() => onAnew(airing.airingId)}>
                  Make another on {airing.network}
                </Button>
              </>
            )}
            {unheardSince === null && airing.lamp === 'lit' && airing.watching !== null && ` ${airing.watching} watching.`}
            {unheardSince === null && airing.behind && ` ${sayBehind(airing.behind, airing.network)}`}
            {unheardSince === null && airing.rendition && <span className="d-block">{airing.rendition}</span>}
            {unheardSince === null &&
              airing.ahead.map((words) => (
                <b key={words} className="d-block ahead" role="status">
                  {words}
                </b>
              ))}
          </div>
        </div>
      ))}
    </div>
  );
}
