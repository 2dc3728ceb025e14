import type { AirView, ShowView } from '@lantern/contract';
import { instant, sayDistance, sayWhen } from '@lantern/core';
import { Button, Modal } from 'react-bootstrap';
import { useNow } from '../app/clock';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';

interface Props {
  show: ShowView;
  air: AirView;
  onClose: () => void;
  onWrap: () => void;
  /** Takes back what was begun by mistake. */
  onTakeBack: () => void;
}

/** Asks once before a show is ended everywhere, and says what that means: also that it has not begun, or was seen nowhere. */
export function WrapUp({ show, air, onClose, onWrap, onTakeBack }: Props) {
  const now = useNow(1_000);
  const running = air.airings.filter(({ lamp }) => lamp !== 'out');
  const lit = air.airings.some(({ lamp }) => lamp === 'lit' || lamp === 'out');
  const early = show.startsAt - now;
  const dark = running.filter(({ lamp }) => lamp !== 'lit');
  return (
    <Modal show onHide={onClose} aria-labelledby="wrap-title" data-bs-theme="dusk">
      <Modal.Header closeButton>
        <h2 id="wrap-title" className="mb-0">
          {show.rehearsal ? 'End the rehearsal?' : early > 0 ? 'Wrap up before it has begun?' : 'Wrap up the show?'}
        </h2>
      </Modal.Header>
      <Modal.Body>
        {early > 0 && !show.rehearsal && (
          <Notice kind="caution" live={false}>
            The show begins only on {sayWhen(instant(show.startsAt), show.zone)}, {sayDistance(early)}. Wrapped up now, it does not take place.
          </Notice>
        )}
        {show.rehearsal ? (
          <p>What was recorded can be looked at for seven days, and is thrown away then. Another rehearsal can be made at once.</p>
        ) : (
          <p>It ends on every channel and cannot be started again there:</p>
        )}
        <ul className="list-unstyled">
          {running.map(({ airingId, channel, lamp }) => (
            <li key={airingId} className="mb-2">
              <Identity of={channel}>{lamp !== 'lit' && <span className="small-words soft d-block">It is not public there at this moment.</span>}</Identity>
            </li>
          ))}
        </ul>
        {lit && dark.length > 0 && dark.length < running.length && (
          <p className="small-words">Where it has not been public, viewers who wait there will find that it is over.</p>
        )}
        <p className="mb-0" hidden={show.rehearsal !== null}>
          For a pause, press Break instead: viewers see the break card, and the channels stay open. The recording is kept either way.
        </p>
        {!lit && air.showState === 'onAir' && !show.rehearsal && (
          <p className="mt-3 mb-0">
            It has been public nowhere yet.{' '}
            <Button variant="quiet" size="sm" onClick={onTakeBack}>
              It was a mistake: take going on air back
            </Button>
          </p>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose} autoFocus>
          {show.rehearsal ? 'Go on' : 'Stay on air'}
        </Button>
        <Button onClick={onWrap}>{show.rehearsal ? 'End it' : 'Wrap up everywhere'}</Button>
      </Modal.Footer>
    </Modal>
  );
}
