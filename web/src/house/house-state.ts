// The show's public facts, kept current by the server's stream of changes, and asked for anew whenever the page
// may have missed something: a stream that broke, a laptop that slept, a page that was hidden.
import type { HouseView } from '@lantern/contract';
import { useEffect, useState } from 'react';
import { noteServerNow } from '../app/clock';
import { server } from '../app/server';

const ASK_AGAIN_MS = 30_000;

export function useHouse(slug: string, first: HouseView): { house: HouseView; keep: (house: HouseView) => void } {
  const [house, setHouse] = useState(first);
  useEffect(() => {
    let gone = false;
    const hear = (heard: HouseView) => {
      if (gone) return;
      noteServerNow(heard.now);
      setHouse((before) => (before.now > heard.now ? before : heard));
    };
    hear(first);
    const ask = () => void server.get<HouseView>(`/api/house/${slug}`).then(hear, () => undefined); // The next try will tell.
    const changes = new EventSource(`/api/house/${slug}/changes`);
    changes.onmessage = ({ data }: MessageEvent<string>) => hear(JSON.parse(data) as HouseView);
    changes.onerror = ask;
    const timer = setInterval(ask, ASK_AGAIN_MS);
    const awake = () => document.visibilityState === 'visible' && ask();
    document.addEventListener('visibilitychange', awake);
    window.addEventListener('online', ask);
    return () => {
      gone = true;
      changes.close();
      clearInterval(timer);
      document.removeEventListener('visibilitychange', awake);
      window.removeEventListener('online', ask);
    };
  }, [slug, first]);
  return { house, keep: setHouse };
}
