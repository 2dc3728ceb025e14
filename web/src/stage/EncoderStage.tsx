// The stage of a show whose picture comes from an outside encoder: nothing is drawn or sent here, but the
// show goes on air, is watched over and is wrapped up as any other.
import type { AirView, ShowView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { server, wordsOf } from '../app/server';
import { useNow } from '../app/clock';
import { Notice } from '../look/Notice';
import { GoOnAir } from './GoOnAir';
import { LampEdge } from './LampEdge';
import { Strip } from './StageStrip';
import { useAirActions } from './air-actions';
import { WrapUp } from './WrapUp';

const ASK_EVERY_MS = 1_000;
const UNHEARD_MS = 4_000;

export function EncoderStage({ show }: { show: ShowView }) {
  const air = useQuery({
    queryKey: ['air', show.id],
    queryFn: () => server.get<AirView>(`/api/shows/${show.id}/air`),
    refetchInterval: ASK_EVERY_MS,
    staleTime: 0,
  });
  const [asksWrap, setAsksWrap] = useState(false);
  const { goOnAir, byItself, startOne, wrap, takeBack } = useAirActions(show.id, () => void air.refetch());
  const view = air.data ?? null;
  const onAir = view?.showState === 'onAir';
  const now = useNow(1_000);
  // Asked each second: three without an answer, and nothing that stands here is known any more.
  const unheardSince = view && now - view.now > UNHEARD_MS ? view.now : null;
  const troubles = [air.error, goOnAir.error, byItself.error, wrap.error, takeBack.error].filter(Boolean);
  return (
    <div className="stage" data-bs-theme="dusk">
      <Strip show={show} air={view}>
        {!onAir && view && (
          <GoOnAir
            show={show}
            air={view}
            busy={goOnAir.isPending}
            disabled={unheardSince !== null}
            onGo={(only) => goOnAir.mutate(only)}
            onByItself={byItself.mutate}
          />
        )}
        {view && (onAir || view.showState === 'interrupted') && (
          <Button variant="outline-primary" onClick={() => setAsksWrap(true)} disabled={wrap.isPending}>
            {wrap.isPending ? 'Wrapping up…' : 'Wrap up…'}
          </Button>
        )}
      </Strip>
      <div className="floor outside">
        <div className="narrow">
          {troubles.map((error) => (
            <Notice key={wordsOf(error)} kind="refusal">
              {wordsOf(error)}
            </Notice>
          ))}
          <h2>The picture comes from outside</h2>
          <p>
            The encoder sends straight to the channels, so there is nothing to see here. The lamps below tell what each network receives. Start the encoder with
            the sets on the <Link to={`/shows/${show.id}`}>show sheet</Link>, then go on air: networks that want to be told are told as soon as they see a
            picture.
          </p>
          <p className="soft small-words mb-0">The station keeps no recording of such a show.</p>
        </div>
      </div>
      <LampEdge air={view} unheardSince={unheardSince} zone={show.zone} onStart={startOne.mutate} />
      {asksWrap && view && (
        <WrapUp
          show={show}
          air={view}
          onTakeBack={() => {
            setAsksWrap(false);
            takeBack.mutate(undefined, { onSuccess: () => void air.refetch() });
          }}
          onClose={() => setAsksWrap(false)}
          onWrap={() => {
            setAsksWrap(false);
            wrap.mutate();
          }}
        />
      )}
    </div>
  );
}
