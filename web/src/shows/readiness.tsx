// What is ready for a show and what is not, on its sheet and on its stage: facts, each with the way to put it right.
import type { AirView, ShowView } from '@lantern/contract';
import { instant, isStale, notCleared, readyPoints, sayCondition, sayDistance, type ReadyPoint, type ReadyState, type StageFacts } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { Check, CircleHelp, TriangleAlert } from 'lucide-react';
import { Link } from 'react-router';
import { server } from '../app/server';
import { useArtwork } from '../app/artwork';
import { useChannels } from '../channels/channel-queries';
import { useClips } from '../clips/clip-queries';
import { playableOf, worksOf } from '../clips/clips-of-show';
import { lookOfShow } from '../looks/look-content';
import { inFull } from '../look/channel-words';
import { timesOf } from './order-times';
import { useRehearsals } from './RehearsalFields';
import { draftOf } from './sheet-draft';

const STANDS = ['placed', 'awaits air', 'awaits reach'];

/** What is known of a show; `stage`: what is known where its picture is made. */
export function useReadyPoints(show: ShowView, now: number, stage: StageFacts | null): readonly ReadyPoint[] {
  const channels = useChannels().data ?? [];
  const clips = useClips().data ?? [];
  const { pieces, looks } = useArtwork().data ?? { pieces: [], looks: [] };
  const rehearsals = useRehearsals(show.rehearsal?.of ?? show.id).data ?? [];
  const air = useQuery({ queryKey: ['show', show.id, 'air'], queryFn: () => server.get<AirView>(`/api/shows/${show.id}/air`) });
  const startsAt = instant(show.startsAt);
  const times = show.cues.length ? timesOf(draftOf(show), startsAt) : null;
  const last = rehearsals.find(({ state }) => state === 'over')?.endedAt ?? null;
  const points = readyPoints({
    title: show.title,
    channels: show.airings.map(({ channel, placing, refusal }) => {
      const known = channels.find(({ id }) => id === channel.id);
      return {
        name: inFull(channel.name, channel.network),
        stands: STANDS.includes(placing),
        refusal,
        access: !known || known.access === 'good',
        conditions: known
          ? known.conditions
              .filter(({ state }) => state !== 'met')
              .map((condition) => sayCondition(condition, inFull(known.name, known.network), show.zone).what)
          : [],
      };
    }),
    hasPicture: show.thumbnail !== null,
    hasWaiting: show.waiting !== null || show.thumbnail !== null,
    houseIsOpen: show.houseVisibility === 'everyone',
    overMs: times && Math.max(0, ...times.stretches.map(({ overMs }) => overMs)),
    staleGraphics: show.graphics.filter((graphic) => isStale(graphic, startsAt)).length,
    uncleared: notCleared(worksOf(show, lookOfShow(show, looks), clips, pieces)).map(({ name }) => name),
    clipsAmiss: show.clips
      .map((clip) => playableOf(clip, clips, pieces))
      .filter(({ kind }) => kind === null)
      .map(({ name }) => name),
    roomTrouble: air.data?.roomWords ?? '',
    rehearsed: show.pictureFrom === 'encoder' ? undefined : last === null ? null : sayDistance(last - now),
    stage,
  });
  // A rehearsal is asked of nothing but what is here.
  return show.rehearsal ? points.filter(({ at }) => at === null) : points;
}

const MARKS: Record<ReadyState, { mark: typeof Check; said: string }> = {
  good: { mark: Check, said: 'Ready' },
  look: { mark: TriangleAlert, said: 'To look at' },
  unknown: { mark: CircleHelp, said: 'Not known yet' },
};

/** `sheet`: the address of the sheet on which things are put right; `beside`: it opens beside what is here. */
export function ReadyList({ points, sheet, beside = false }: { points: readonly ReadyPoint[]; sheet: string; beside?: boolean }) {
  const rank: ReadyState[] = ['look', 'unknown', 'good'];
  const sorted = [...points].sort((a, b) => rank.indexOf(a.state) - rank.indexOf(b.state));
  return (
    <ul className="ready-list small-words">
      {sorted.map(({ what, state, words, at }) => {
        const { mark: Mark, said } = MARKS[state];
        return (
          <li key={what} className={state}>
            <Mark size={16} aria-label={said} role="img" />
            <b>{what}</b>
            <span>
              {words}{' '}
              {at && state === 'look' && (
                <Link to={at.startsWith('/') ? at : `${sheet}#${at}`} {...(beside && { target: '_blank', rel: 'noopener' })}>
                  {at === 'rehearsal' ? 'Rehearse it' : 'Put it right'}
                  <span className="visually-hidden">: {what}</span>
                </Link>
              )}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
