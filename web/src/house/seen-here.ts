// Tells the server that the page was opened and that it plays, each once: counts, so that a host knows which links are of use.
import { sourceOf } from '@lantern/core';
import type { HouseView } from '@lantern/contract';
import { useCallback, useEffect, useRef } from 'react';
import { server } from '../app/server';

/** Where the page was come from, as far as the browser says. The word goes from the address: whoever passes that on is another source. */
function opening({ embedded, invited }: { embedded: boolean; invited: boolean }): string {
  const address = new URL(location.href);
  const named = address.searchParams.get('from') ?? '';
  if (named) {
    address.searchParams.delete('from');
    history.replaceState(history.state, '', address);
  }
  const referrer = URL.canParse(document.referrer) ? new URL(document.referrer).host : '';
  return sourceOf({ named, referrer, host: location.host, embedded, invited });
}

/** Returns what is called as a picture plays; it may be called as often as it does. */
export function useSeenHere(slug: string, house: HouseView, embedded: boolean): () => void {
  const source = useRef<string | null>(null);
  const told = useRef(new Set<string>());
  const tell = useCallback(
    (what: 'page' | 'play') => {
      // What is watched later is another play than what was watched live.
      const once = `${what} ${what === 'play' ? house.state : ''}`;
      if (told.current.has(once)) return;
      told.current.add(once);
      server.post(`/api/house/${slug}/seen`, { what, source: source.current ?? '' }).catch(() => undefined); // One that is not counted harms nobody.
    },
    [slug, house.state],
  );
  const invited = house.invitation !== null;
  useEffect(() => {
    source.current ??= opening({ embedded, invited });
    tell('page');
  }, [embedded, invited, tell]);
  return useCallback(() => tell('play'), [tell]);
}
