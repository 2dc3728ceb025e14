// The public's page of one show: counts down, then plays, then says that it is over. Never needs a reload.
import type { HouseView } from '@lantern/contract';
import { DAY_MS, instant, sayClock, sayLength, sayWhen } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useParams } from 'react-router';
import { noteServerNow, useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { LanternMark } from '../look/LanternMark';
import { Notice } from '../look/Notice';
import { Player } from './Player';

export function HousePage() {
  const { slug } = useParams();
  const house = useHouse(slug!);
  return (
    <div className="house" data-bs-theme="dusk">
      <main className="page">
        {house.error && !house.data && (
          <div className="narrow pt-5">
            <h1>Nothing here</h1>
            <Notice kind="refusal">{wordsOf(house.error)}</Notice>
          </div>
        )}
        {house.data && <Show house={house.data} />}
      </main>
    </div>
  );
}

/** The show's public facts, kept current by the server's stream of changes and by asking when that is broken. */
function useHouse(slug: string) {
  const queries = useQueryClient();
  const house = useQuery({ queryKey: ['house', slug], queryFn: () => server.get<HouseView>(`/api/house/${slug}`), refetchInterval: 30_000 });
  useEffect(() => {
    const changes = new EventSource(`/api/house/${slug}/changes`);
    changes.onmessage = ({ data }: MessageEvent<string>) => queries.setQueryData(['house', slug], heard(JSON.parse(data) as HouseView));
    return () => changes.close();
  }, [slug, queries]);
  return house;
}

/** Sets this page's clock by what the server has just said. */
function heard(house: HouseView): HouseView {
  noteServerNow(house.now);
  return house;
}

function Show({ house }: { house: HouseView }) {
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const starts = instant(house.startsAt);
  const playing = house.state === 'onAir' && house.playlistUrl !== null;
  useEffect(() => {
    document.title = `${house.title} · ${house.stationName}`;
  }, [house]);
  return (
    <>
      <p className="d-flex gap-2 align-items-center mb-3">
        <LanternMark size={22} />
        <b>{house.stationName}</b>
      </p>
      <div className="screen" style={house.thumbnailUrl ? { backgroundImage: `url("${house.thumbnailUrl}")` } : {}}>
        {playing ? <Player playlistUrl={house.playlistUrl!} /> : <Waiting house={house} />}
      </div>
      <h1 className="mt-4 mb-2">{house.title}</h1>
      <p className="mb-4">
        {playing && <span className="lamp lit me-3">On now</span>}
        {sayWhen(starts, here)} <span className="soft">for {sayLength(house.lengthMs)}</span>
        {sayWhen(starts, here, false) !== sayWhen(starts, house.zone, false) && (
          <span className="soft d-block small-words">{sayWhen(starts, house.zone)} where the show is made</span>
        )}
      </p>
      <div className="row gx-5">
        <div className="col-md-8" style={{ whiteSpace: 'pre-wrap' }}>
          {house.description}
        </div>
        {house.elsewhere.length > 0 && (
          <div className="col-md-4 mt-4 mt-md-0">
            <h2 className="h3">{house.fromOutside ? 'Watch it here' : 'Also here'}</h2>
            <ul className="list-unstyled">
              {house.elsewhere.map(({ name, network, watchUrl }) => (
                <li key={watchUrl} className="mb-1">
                  <a href={watchUrl}>{network ? `${name} on ${network}` : name}</a>
                </li>
              ))}
            </ul>
          </div>
        )}
      </div>
    </>
  );
}

/** What stands where the picture will be. */
function Waiting({ house }: { house: HouseView }) {
  const now = useNow(250);
  const toGo = house.startsAt - now;
  const days = Math.floor(toGo / DAY_MS);
  const words = {
    coming: toGo > 0 ? 'Begins in' : 'Begins in a moment',
    onAir: house.fromOutside ? 'It is on now, on the channels below' : 'The picture is on its way',
    paused: 'A short pause. Stay here: it goes on by itself.',
    over: 'This show is over. Thank you for watching.',
    withdrawn: 'This show will not take place.',
  }[house.state];
  return (
    <div className="waiting" role="status">
      {words}
      {house.state === 'coming' && toGo > 0 && (
        <div className="count" aria-live="off">
          {days > 0 && `${days} ${days === 1 ? 'day' : 'days'} `}
          {sayClock(toGo % DAY_MS, true)}
        </div>
      )}
    </div>
  );
}
