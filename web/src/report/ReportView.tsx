// What happened: figures, each channel, and the recording.
import type { ShowReport, ShowView, WrapResult } from '@lantern/contract';
import { cuesAsTheyRan, instant, sayClock, sayLength, sayTime, sayWhen } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useLocation, useNavigate, useParams } from 'react-router';
import { useAskEvery } from '../app/changes';
import { serverNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { LessonsHere } from '../lessons/LessonsHere';
import { ChapterList, Recording } from '../look/Chapters';
import { Notice } from '../look/Notice';
import { ThanksHere } from '../thanks/ThanksHere';
import { ComparisonHere } from './ComparisonHere';
import { AudienceChart } from './AudienceChart';
import { StandsWhere } from './StandsWhere';
import { PlayedHere } from './PlayedHere';
import { OwnSoundsHere } from './OwnSoundsHere';
import { SignalChart } from './SignalChart';
import { PageTitle } from '../app/PageTitle';

export function ReportView() {
  const { id } = useParams();
  const wrapped = (useLocation().state as WrapResult | null)?.results ?? [];
  const askEvery = useAskEvery(10_000);
  const report = useQuery({
    queryKey: ['report', id],
    queryFn: () => server.get<ShowReport>(`/api/shows/${id}/report`),
    refetchInterval: ({ state }) => (state.data?.recording.state === 'making' ? Math.min(askEvery, 5_000) : askEvery),
  });
  const queries = useQueryClient();
  const video = useRef<HTMLVideoElement>(null);
  const again = useMutation({
    mutationFn: () => server.post<ShowReport>(`/api/shows/${id}/recording`),
    onSuccess: (after) => queries.setQueryData(['report', id], after),
  });
  if (report.error) return <Notice kind="refusal">{wordsOf(report.error)}</Notice>;
  if (!report.data) return null;
  const { title, startedAt, endedAt, zone, lengthMs, plannedMs, peakTogether, people, airings, recording, rehearsalOf } = report.data;
  if (startedAt === null || endedAt === null) {
    return (
      <div className="narrow">
        <PageTitle of={`Report: ${title}`} />
        <h1>{title}</h1>
        <p>There is no report yet: the show has not been wrapped up.</p>
        {startedAt !== null && <SoFar id={report.data.showId} />}
        <Link to={`/shows/${id}`}>To the show sheet</Link>
      </div>
    );
  }
  return (
    <>
      <p className="soft mb-1">{rehearsalOf ? 'Rehearsal' : 'Report'}</p>
      <PageTitle of={`${rehearsalOf ? 'Rehearsal' : 'Report'}: ${title}`} />
      <h1>{title}</h1>
      <p>
        {sayWhen(instant(startedAt), zone)} to {sayTime(instant(endedAt), zone)} · <Link to={`/shows/${rehearsalOf ?? id}`}>Show sheet</Link>
      </p>
      {wrapped.map((result) => (
        <Notice key={result.airingId} kind={result.done ? 'done' : 'refusal'}>
          {result.words}
        </Notice>
      ))}
      <dl className="figures">
        <Figure name="Length" value={sayLength(lengthMs)} note={`planned ${sayLength(plannedMs)}`} />
        {!rehearsalOf && (
          <Figure
            name="Most watching at once"
            value={peakTogether === null ? '–' : String(peakTogether)}
            note={peakTogether === null ? 'no network told' : 'all channels together'}
          />
        )}
        {people.messages > 0 && (
          <Figure name="Messages" value={String(people.messages)} note={`${(people.messages / Math.max(1, lengthMs / 60_000)).toFixed(1)} a minute`} />
        )}
        {people.questions > 0 && <Figure name="Questions" value={String(people.questions)} note={`${people.answered} answered`} />}
        {people.polls > 0 && <Figure name="Polls" value={String(people.polls)} note="" />}
        {people.invited > 0 && <Figure name="Came by invitation" value={String(people.came)} note={`of ${people.invited} invited`} />}
        {people.registered > 0 && <Figure name="Asked to be reminded" value={String(people.registered)} note="whether they came, nobody can tell" />}
        <Figure name="Recorded" value={recording.lengthMs ? sayLength(recording.lengthMs) : '–'} note="" />
      </dl>
      <section className="mb-5">
        <h2>Recording</h2>
        {recording.url ? (
          <>
            <Recording
              video={video}
              url={recording.url}
              label="The recording"
              chaptersUrl={report.data.chapters.length ? `/api/shows/${id}/chapters.vtt` : null}
              className="w-100 mb-2"
              style={{ maxWidth: '46rem', background: '#061215', borderRadius: 3 }}
            />
            <ChapterList video={video} chapters={report.data.chapters} />
            <div>
              {!rehearsalOf && (
                <>
                  <Link to={`/shows/${id}/cut`}>Cut it, with chapters and captions</Link>
                  {' · '}
                </>
              )}
              <a href={recording.url} download={`${title}.mp4`}>
                Download the recording (MP4)
              </a>
              {' · '}
              <a href={`/api/shows/${id}/recording.m4a`} download={`${title}.m4a`}>
                Its sound alone (M4A)
              </a>
              {report.data.chapters.length > 0 && (
                <>
                  {' · '}
                  <a href={`/api/shows/${id}/chapters.vtt`} download={`${title}.vtt`}>
                    Its chapters (WebVTT)
                  </a>
                </>
              )}
            </div>
          </>
        ) : (
          <p>{recording.words}</p>
        )}
        {recording.canTryAgain && (
          <Button variant="outline-primary" size="sm" disabled={again.isPending} onClick={() => again.mutate()}>
            Try again now
          </Button>
        )}
        {again.error && <Notice kind="refusal">{wordsOf(again.error)}</Notice>}
        {!rehearsalOf && <OwnSoundsHere showId={report.data.showId} title={title} />}
        {recording.state !== 'none' && !rehearsalOf && <ReplayHere report={report.data} />}
      </section>
      {report.data.ran.length > 0 && <AsItRan ran={report.data.ran} showId={rehearsalOf ?? report.data.showId} />}
      {!rehearsalOf && <LessonsHere showId={report.data.showId} cues={report.data.ran.map(({ name }) => name)} />}
      {!rehearsalOf && <ThanksHere showId={report.data.showId} />}
      {!rehearsalOf && <OnEachChannel airings={airings} />}
      {rehearsalOf ? <p>It reached nobody, and is thrown away seven days after it was made.</p> : <AudienceChart report={report.data} />}
      {!rehearsalOf && <PlayedHere report={report.data} />}
      {!rehearsalOf && <ComparisonHere showId={report.data.showId} />}
      <SignalChart report={report.data} />
      {!rehearsalOf && <StandsWhere showId={report.data.showId} />}
    </>
  );
}

/** A new show with the running order as it really ran. */
function usePlanAsItRan(showId: string, ran: ShowReport['ran']) {
  const go = useNavigate();
  return useMutation({
    mutationFn: async () => {
      const next = await server.post<ShowView>(`/api/shows/${showId}/again`);
      return server.patch<ShowView>(`/api/shows/${next.id}`, { base: next.version, changes: { cues: cuesAsTheyRan(next.cues, ran) } });
    },
    onSuccess: ({ id }) => go(`/shows/${id}`),
  });
}

/** What has gone out so far, to be looked at and gone back in. */
function SoFar({ id }: { id: string }) {
  /** Asked for once more, it is another file. */
  const [asked, setAsked] = useState(0);
  const [trouble, setTrouble] = useState(false);
  return (
    <div className="mb-3">
      {asked > 0 && !trouble && (
        <video
          key={asked}
          src={`/api/shows/${id}/so-far.mp4?at=${asked}`}
          controls
          playsInline
          className="w-100 mb-2"
          aria-label="What has gone out so far"
          onError={() => setTrouble(true)}
        />
      )}
      {trouble && <Notice kind="caution">Nothing can be seen of it yet. Try again in a moment.</Notice>}
      <Button
        variant="outline-primary"
        size="sm"
        onClick={() => {
          setTrouble(false);
          setAsked(asked + 1);
        }}
      >
        {asked ? 'Look again, up to now' : 'Look at what has gone out so far'}
      </Button>
    </div>
  );
}

function AsItRan({ ran, showId }: Pick<ShowReport, 'ran' | 'showId'>) {
  const plan = usePlanAsItRan(showId, ran);
  return (
    <section className="mb-5">
      <h2>As it ran</h2>
      <div className="overflow-auto">
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">Cue</th>
              <th scope="col">Began after</th>
              <th scope="col">Lasted</th>
              <th scope="col">Planned</th>
            </tr>
          </thead>
          <tbody>
            {ran.map(({ name, at, lengthMs, plannedMs }) => (
              <tr key={at}>
                <th scope="row">{name}</th>
                <td>{sayClock(at)}</td>
                <td>{lengthMs === null ? '–' : sayClock(lengthMs)}</td>
                <td>{plannedMs === null ? 'not planned any more' : sayClock(plannedMs)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button variant="outline-primary" size="sm" className="mt-3" disabled={plan.isPending} onClick={() => plan.mutate()}>
        Plan it again with these lengths
      </Button>
      {plan.error && <Notice kind="refusal">{wordsOf(plan.error)}</Notice>}
    </section>
  );
}

function OnEachChannel({ airings }: Pick<ShowReport, 'airings'>) {
  return (
    <section className="mb-5">
      <h2>On each channel</h2>
      <div className="overflow-auto" role="region" aria-label="On each channel, side by side" tabIndex={0}>
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">Channel</th>
              <th scope="col">Lit</th>
              <th scope="col">In trouble</th>
              <th scope="col">Most watching</th>
              <th scope="col">On average</th>
              <th scope="col">Watched in all</th>
              <th scope="col">How it ended</th>
            </tr>
          </thead>
          <tbody>
            {airings.map((airing) => (
              <tr key={airing.airingId}>
                <th scope="row">
                  {airing.channelName}
                  <span className="soft small-words d-block fw-normal">{airing.network !== airing.channelName && airing.network}</span>
                </th>
                <td>{airing.tells ? sayLength(airing.litMs) : `sent ${sayLength(airing.litMs)}`}</td>
                <td>{airing.faultMs ? sayLength(airing.faultMs) : 'never'}</td>
                <td>{airing.peakWatching ?? 'not told'}</td>
                <td>{airing.averageWatching === null ? '–' : Math.round(airing.averageWatching)}</td>
                <td>{airing.watchedMs === null ? '–' : sayLength(airing.watchedMs)}</td>
                <td>{airing.endWords || '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** The recording on the station's own page. */
function ReplayHere({ report }: { report: ShowReport }) {
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState('');
  const { showId, zone, replay } = report;
  const { shown, until, pageUrl } = replay;
  const past = until !== null && until <= serverNow();
  const set = async (wanted: boolean) => {
    setTrouble('');
    try {
      queries.setQueryData(['report', showId], await server.put<ShowReport>(`/api/shows/${showId}/replay`, { shown: wanted }));
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <div className="mt-3">
      <p className="mb-1">
        {!shown && 'It is not shown on the house page.'}
        {shown && (
          <>
            {past ? 'It was to be seen' : 'It can be watched'} on <a href={pageUrl}>the house page</a>
            {until !== null && ` until ${sayWhen(instant(until), zone)}`}.
          </>
        )}
      </p>
      <Button variant="quiet" size="sm" onClick={() => void set(!shown)}>
        {shown ? 'Take the replay down' : 'Show it there'}
      </Button>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </div>
  );
}

function Figure({ name, value, note }: { name: string; value: string; note: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
      {note && <dd className="note soft small-words">{note}</dd>}
    </div>
  );
}
