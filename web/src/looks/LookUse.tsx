// Where a look is used: by the station, by a show, by a series with all its dates to come.
import type { LookView, ShowSummary, ShowView } from '@lantern/contract';
import { instant, sayNear } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { serverNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { ARTWORK } from '../app/artwork';
import { Notice } from '../look/Notice';

interface Said {
  kind: 'done' | 'refusal';
  words: string;
}

export function LookUse({ look: { id, name, forStation } }: { look: LookView }) {
  const queries = useQueryClient();
  const shows = useQuery({ queryKey: ['shows'], queryFn: () => server.get<ShowSummary[]>('/api/shows') }).data ?? [];
  const [said, setSaid] = useState<Said | null>(null);
  const [busy, setBusy] = useState(false);
  const coming = shows.filter(({ state, hasPicture }) => hasPicture && (state === 'draft' || state === 'placed'));
  const series = coming.filter(({ seriesId }, at) => seriesId !== null && coming.findIndex((each) => each.seriesId === seriesId) === at);
  const act = async (work: () => Promise<string>) => {
    setBusy(true);
    try {
      setSaid({ kind: 'done', words: await work() });
    } catch (error) {
      setSaid({ kind: 'refusal', words: wordsOf(error) });
    } finally {
      setBusy(false);
    }
  };
  const use = (chosen: string) =>
    act(async () => {
      const [kind, of] = chosen.split(' ') as [string, string];
      if (kind === 'series') {
        const { title, dates } = await server.put<{ title: string; dates: number }>(`/api/series/${of}/look`, { lookId: id });
        await queries.invalidateQueries({ queryKey: ['show'] });
        return `“${title}” is made with “${name}” from now on: ${dates === 1 ? 'one date' : `${dates} dates`} to come, and those that follow.`;
      }
      const { title } = await server.put<ShowView>(`/api/shows/${of}/look`, { lookId: id });
      await queries.invalidateQueries({ queryKey: ['show', of] });
      return `The pictures and the programme of “${title}” are made with “${name}”.`;
    });
  const forAll = (lookId: string | null) =>
    act(async () => {
      await server.put('/api/looks/of-station', { lookId });
      await queries.invalidateQueries({ queryKey: ARTWORK });
      return lookId === null ? 'The station has no look of its own now.' : `“${name}” is the station’s look: new pictures begin with it.`;
    });
  return (
    <div className="look-use">
      {coming.length > 0 && (
        <Form.Select size="sm" aria-label={`Use ${name} for`} value="" disabled={busy} onChange={({ target }) => target.value && void use(target.value)}>
          <option value="">Use it for…</option>
          {series.length > 0 && (
            <optgroup label="A series, with all dates to come">
              {series.map(({ seriesId, title }) => (
                <option key={seriesId} value={`series ${seriesId}`}>
                  {title}
                </option>
              ))}
            </optgroup>
          )}
          <optgroup label="One show">
            {coming.map(({ id: showId, title, startsAt, zone }) => (
              <option key={showId} value={`show ${showId}`}>
                {title}, {sayNear(instant(startsAt), zone, instant(serverNow()))}
              </option>
            ))}
          </optgroup>
        </Form.Select>
      )}
      <Button variant="quiet" size="sm" disabled={busy} onClick={() => void forAll(forStation ? null : id)}>
        {forStation ? 'No longer the station’s look' : 'Make it the station’s look'}
      </Button>
      {said && <Notice kind={said.kind}>{said.words}</Notice>}
    </div>
  );
}
