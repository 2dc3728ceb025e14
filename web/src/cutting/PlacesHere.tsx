// Where a replay is to be seen on the channels: what each shows now, and what it is to show.
import type { CutView, ReplayPlace, ReplayWish, ShownThere } from '@lantern/contract';
import { DAY_MS, sayDay, instant } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Form, ProgressBar } from 'react-bootstrap';
import { useAskEvery } from '../app/changes';
import { serverNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { cutsKey } from './use-cut';

/** After so many days a channel can be asked to hide it; others are chosen there. */
const DAYS = [7, 30, 90];

export function PlacesHere({ showId, cut }: { showId: string; cut: CutView }) {
  const askEvery = useAskEvery(10_000);
  const places = useQuery({
    queryKey: [...cutsKey(showId), 'places'],
    queryFn: () => server.get<ReplayPlace[]>(`/api/shows/${showId}/replays`),
    refetchInterval: ({ state }) => (state.data?.some((each) => each.state === 'asked') ? 1_500 : askEvery),
  });
  if (!places.data?.length) return null;
  return (
    <>
      <h2 className="h3 mt-4">On the channels</h2>
      <ul className="cut-list">
        {places.data.map((place) => (
          <Place key={place.airingId} showId={showId} place={place} cut={cut} />
        ))}
      </ul>
    </>
  );
}

const NOW: Record<ShownThere, string> = { own: 'shows the recording that it made itself', film: 'shows', nothing: 'shows no recording' };

function Place({ showId, place, cut }: { showId: string; place: ReplayPlace; cut: CutView }) {
  const queries = useQueryClient();
  const { airingId, network, channelName, words, canChange, revision, shows, cutId, cutName, state, sent, bytes, trouble, hiddenAt, watchUrl } = place;
  const wish = useMutation({
    mutationFn: (asked: Omit<ReplayWish, 'base'>) => server.put<ReplayPlace[]>(`/api/shows/${showId}/replays/${airingId}`, { base: revision, ...asked }),
    onSuccess: (after) => queries.setQueryData([...cutsKey(showId), 'places'], after),
    onError: () => queries.invalidateQueries({ queryKey: [...cutsKey(showId), 'places'] }),
  });
  const now = `${NOW[shows]}${shows === 'film' ? ` “${cutName ?? ''}”` : ''}`;
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return (
    <li className="d-block">
      <div>
        <b>{network}</b> {channelName !== network && <span className="soft">{channelName} </span>}
        {state === 'stands' ? now : state === 'asked' ? `is to ${now.replace(/^shows/, 'show')}` : `could not be brought to: ${now}`}.{' '}
        {watchUrl && <a href={watchUrl}>Its page</a>}
      </div>
      {state === 'asked' && bytes > 0 && (
        <ProgressBar
          className="my-2"
          now={Math.round((100 * sent) / bytes)}
          label={`${Math.round(sent / 1e6)} of ${Math.round(bytes / 1e6)} MB`}
          aria-label={`How much of it is sent to ${network}`}
        />
      )}
      {trouble && <Notice kind={state === 'failed' ? 'refusal' : 'caution'}>{trouble}</Notice>}
      {canChange ? (
        <div className="button-row small-words">
          {cut.made && !(cutId === cut.id && state === 'stands') && (
            <Button variant="outline-primary" size="sm" disabled={wish.isPending} onClick={() => wish.mutate({ shows: 'film', cutId: cut.id, hiddenAt })}>
              Show “{cut.name}” there
            </Button>
          )}
          {shows !== 'own' && (
            <Button variant="quiet" size="sm" disabled={wish.isPending} onClick={() => wish.mutate({ shows: 'own', hiddenAt })}>
              Its own recording again
            </Button>
          )}
          {shows !== 'nothing' && (
            <Button variant="quiet" size="sm" disabled={wish.isPending} onClick={() => wish.mutate({ shows: 'nothing', hiddenAt: null })}>
              Hide it there
            </Button>
          )}
          {shows !== 'nothing' && (
            <Form.Select
              size="sm"
              className="w-auto"
              aria-label={`How long ${network} shows it`}
              value={hiddenAt === null ? '' : 'day'}
              onChange={({ target }) =>
                wish.mutate({
                  shows,
                  ...(cutId !== null && { cutId }),
                  hiddenAt: target.value ? Math.round(serverNow()) + Number(target.value) * DAY_MS : null,
                })
              }
            >
              <option value="">without end</option>
              {hiddenAt !== null && (
                <option value="day" disabled>
                  until {sayDay(instant(hiddenAt), zone)}
                </option>
              )}
              {DAYS.map((days) => (
                <option key={days} value={days}>
                  for {days} days
                </option>
              ))}
            </Form.Select>
          )}
        </div>
      ) : (
        <div className="soft small-words">Nothing can be changed there from here. {words.join(' ')}</div>
      )}
      {wish.error && <Notice kind="refusal">{wordsOf(wish.error)}</Notice>}
    </li>
  );
}
