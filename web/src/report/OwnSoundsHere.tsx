// The own sound of each guest who agreed, beside the recording.
import type { OwnSoundView } from '@lantern/contract';
import { may } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';
import { sayBytes } from '../look/say-bytes';
import { useMe } from '../people/me';

interface OwnSounds {
  wanted: boolean;
  sounds: OwnSoundView[];
}

const STATES: Record<Exclude<OwnSoundView['state'], 'failed'>, string> = {
  waits: 'waits for the recording',
  making: 'is being laid beside the recording',
  ready: '',
};

export function OwnSoundsHere({ showId, title }: { showId: string; title: string }) {
  const queries = useQueryClient();
  const me = useMe().data;
  const key = ['report', showId, 'own sounds'];
  const { data } = useQuery({ queryKey: key, queryFn: () => server.get<OwnSounds>(`/api/shows/${showId}/own-sounds`) });
  const [trouble, setTrouble] = useState('');
  if (!data || (!data.wanted && !data.sounds.length)) return null;
  const remove = (guestId: string) => {
    setTrouble('');
    server.delete<OwnSounds>(`/api/shows/${showId}/own-sounds/${guestId}`).then(
      (left) => queries.setQueryData(key, left),
      (error: unknown) => setTrouble(wordsOf(error)),
    );
  };
  return (
    <section className="mt-4 mb-4" aria-label="Own sound of guests">
      <h3 className="h3">Own sound of guests</h3>
      {data.sounds.length ? (
        <>
          <p className="soft small-words mb-2">Each is as long as the recording and silent while they were not heard: laid at the same beginning, all fit.</p>
          <ul className="list-unstyled">
            {data.sounds.map(({ guestId, name, state, words, url, bytes }) => (
              <li key={guestId}>
                <b>{name}</b>{' '}
                {url ? (
                  <a href={url} download={`${title}, ${name}.flac`}>
                    Download<span className="visually-hidden"> the own sound of {name}</span> (FLAC, {sayBytes(bytes)})
                  </a>
                ) : (
                  <span className="soft">{state === 'failed' ? words : STATES[state]}</span>
                )}{' '}
                {me && may(me.role, 'write to people') && (
                  <AskedButton
                    label="Remove"
                    name={`Remove the own sound of ${name}`}
                    question={`The own sound of ${name} goes for good. Remove it?`}
                    yes="Remove"
                    onYes={() => remove(guestId)}
                  />
                )}
              </li>
            ))}
          </ul>
        </>
      ) : (
        <p className="soft small-words">No guest’s own sound came: nobody agreed to it, or nobody was brought in.</p>
      )}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </section>
  );
}
