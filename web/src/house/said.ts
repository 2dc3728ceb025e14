// What is said on a house page, as it comes: the newest, each as it is now, in the order of arrival.
import { MOST_SAID_HERE, type HouseMessage, type HouseTalk } from '@lantern/contract';
import { withChanges } from '@lantern/core';
import { useEffect, useState } from 'react';
import { server, wordsOf } from '../app/server';
import type { HearsSaid } from './house-state';

/** What is known already as it is now stays: an answer that was on its way while something was hidden does not show it again. */
export function withSaid(list: readonly HouseMessage[], said: readonly HouseMessage[]): HouseMessage[] {
  const known = new Map(list.map(({ id, revision }) => [id, revision]));
  return withChanges(
    list,
    said.filter(({ id, revision }) => revision > (known.get(id) ?? -1)),
    MOST_SAID_HERE,
  );
}

export function useSaid(slug: string, hearing: Set<HearsSaid>) {
  const [messages, setMessages] = useState<readonly HouseMessage[]>([]);
  const [trouble, setTrouble] = useState('');
  const [add] = useState(() => (said: readonly HouseMessage[]) => setMessages((before) => withSaid(before, said)));
  useEffect(() => {
    let gone = false;
    const ask = () =>
      void server.get<HouseTalk>(`/api/house/${slug}/messages`).then(
        (talk) => {
          if (gone) return;
          add(talk.messages);
          setTrouble('');
        },
        (error: unknown) => gone || setTrouble(wordsOf(error)),
      );
    ask();
    const hears: HearsSaid = { onBegun: ask, onSaid: add };
    hearing.add(hears);
    const awake = () => document.visibilityState === 'visible' && ask();
    document.addEventListener('visibilitychange', awake);
    return () => {
      gone = true;
      hearing.delete(hears);
      document.removeEventListener('visibilitychange', awake);
    };
  }, [slug, hearing, add]);
  return { messages, trouble, add };
}
