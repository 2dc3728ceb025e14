// The show's public facts, kept current by the server's stream of changes, and asked for anew whenever the page
// may have missed something: a stream that broke, a laptop that slept, a page that was hidden.
import type { HouseMessage, HousePoll, HouseView } from '@lantern/contract';
import { useEffect, useState } from 'react';
import { noteServerNow } from '../app/clock';
import { server } from '../app/server';

const ASK_AGAIN_MS = 30_000;

/** Hears what is said on the page by the same stream. `onBegun`: it may have missed something before. */
export interface HearsSaid {
  onBegun: () => void;
  onSaid?: (said: readonly HouseMessage[]) => void;
  onPoll?: (poll: HousePoll | null) => void;
}

export interface House {
  house: HouseView;
  keep: (house: HouseView) => void;
  /** Whoever is in it hears what is said. */
  hearing: Set<HearsSaid>;
}

export function useHouse(slug: string, first: HouseView): House {
  const [house, setHouse] = useState(first);
  const [hearing] = useState(() => new Set<HearsSaid>());
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
    changes.onopen = () => hearing.forEach(({ onBegun }) => onBegun());
    changes.addEventListener('said', ({ data }: MessageEvent<string>) => {
      const said = JSON.parse(data) as HouseMessage[];
      hearing.forEach(({ onSaid }) => onSaid?.(said));
    });
    changes.addEventListener('poll', ({ data }: MessageEvent<string>) => {
      const poll = JSON.parse(data) as HousePoll | null;
      hearing.forEach(({ onPoll }) => onPoll?.(poll));
    });
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
  }, [slug, first, hearing]);
  return { house, keep: setHouse, hearing };
}
