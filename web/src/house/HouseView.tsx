// The public's page of one show: counts down, then plays, then says that it is over. Never needs a reload.
import type { HouseView, InvitationAnswer } from '@lantern/contract';
import { DAY_MS, instant, messageFor, sayClock, sayLength, sayWhen } from '@lantern/core';
import { lazy, Suspense, useEffect, useRef, useState, type CSSProperties, type RefObject } from 'react';
import { serverNow, useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { ChapterList, Recording } from '../look/Chapters';
import { LanternMark } from '../look/LanternMark';
import { useLetters } from '../looks/use-letters';
import { useHouse, type House } from './house-state';
import { PollHere } from './PollHere';
import { useSeenHere } from './seen-here';
import { TalkHere } from './TalkHere';
import { useVisitorName } from './this-browser';
import { AskedIn, AskTheHost, useOwnQuestions } from './AskTheHost';
import { ReminderForm } from './ReminderForm';

/** What was seen longer ago than this is not what is seen now: the picture stands. */
const SEEN_WITHIN_MS = 5_000;

/** Fetched by pages that play, and only when they do. */
const Player = lazy(async () => ({ default: (await import('./Player')).Player }));

interface Props {
  slug: string;
  first: HouseView;
  embedded: boolean;
}

export function HousePage({ slug, first, embedded }: Props) {
  const { house, keep, hearing } = useHouse(slug, first);
  const recording = useRef<HTMLVideoElement>(null);
  const onPlay = useSeenHere(slug, house, embedded);
  if (embedded) {
    return (
      <main className="embedded">
        <Screen house={house} recording={recording} onPlay={onPlay} />
        <h1 className="h3 m-2">
          <a href={`/on/${slug}`} target="_blank" rel="noreferrer">
            {house.title}
          </a>
        </h1>
      </main>
    );
  }
  return (
    <main className="page">
      <Show slug={slug} {...{ house, keep, hearing, onPlay }} />
    </main>
  );
}

/** The recording that takes the picture's place; null: there is none to watch. */
const replayOf = ({ state, replay }: HouseView) => (state === 'over' && replay !== null && replay !== 'coming' ? replay : null);

const inLook = ({ palette: { ground, ink, accent } }: NonNullable<HouseView['waitingLook']>, family: string | null) =>
  ({ '--place-ground': ground, '--place-ink': ink, '--place-accent': accent, ...(family !== null && { '--place-letters': `"${family}"` }) }) as CSSProperties;

interface ScreenProps {
  house: HouseView;
  recording: RefObject<HTMLVideoElement | null>;
  /** The programme plays, or its recording. */
  onPlay: () => void;
  onSeen?: (receivedAt: number) => void;
}

/** The picture, or what stands in its place. */
function Screen({ house, recording, onPlay, onSeen }: ScreenProps) {
  const [trailing, setTrailing] = useState(false);
  const playing = house.state === 'onAir' && house.playlistUrl !== null;
  const replay = replayOf(house);
  const trailer = house.state === 'coming' ? house.trailerUrl : null;
  const card = house.state === 'coming' && house.waitingUrl !== null;
  const picture = card ? house.waitingUrl : house.thumbnailUrl;
  const letters = useLetters((card && house.waitingLook?.letters) || null, house.waitingLook?.url ?? null);
  return (
    <div
      className={`screen${card ? ` card-shown${house.waitingLook ? ' with-place' : ''}` : ''}`}
      style={{ ...(picture && { backgroundImage: `url("${picture}")` }), ...(card && house.waitingLook && inLook(house.waitingLook, letters)) }}
      role="group"
      aria-label={house.thumbnailAlternative || house.title}
      onPlay={() => (playing || replay) && onPlay()}
    >
      {playing ? (
        <Suspense fallback={<Waiting house={house} />}>
          <Player house={house} onSeen={onSeen} />
        </Suspense>
      ) : replay ? (
        <Recording
          video={recording}
          url={replay.url}
          label="The recording of the show"
          chaptersUrl={replay.chapters.length ? replay.url.replace('replay.mp4', 'chapters.vtt') : null}
          captions={replay.captions}
          poster={house.thumbnailUrl ?? undefined}
        />
      ) : trailer && trailing ? (
        <video src={trailer} controls autoPlay playsInline onEnded={() => setTrailing(false)} aria-label="The trailer" />
      ) : (
        <Waiting house={house} />
      )}
      {trailer && (
        <button type="button" className="btn btn-primary btn-sm trailer-button" onClick={() => setTrailing(!trailing)}>
          {trailing ? 'Back to the countdown' : 'Watch the trailer'}
        </button>
      )}
    </div>
  );
}

function Show({ slug, house, keep, hearing, onPlay }: House & { slug: string; onPlay: () => void }) {
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const starts = instant(house.startsAt);
  const recorded = replayOf(house);
  const recording = useRef<HTMLVideoElement>(null);
  const playing = house.state === 'onAir' && house.playlistUrl !== null;
  const { own, add, set, follow } = useOwnQuestions(slug);
  const [name, setName] = useVisitorName();
  /** What the page shows at this moment: when that was received, by the server's clock. */
  const seenAt = useRef<{ receivedAt: number; at: number } | null>(null);
  const behindMs = () => (seenAt.current && playing && Date.now() - seenAt.current.at < SEEN_WITHIN_MS ? serverNow() - seenAt.current.receivedAt : null);
  const now = useNow(10_000);
  const open = house.talk !== null && now >= house.talk.from;
  const isOn = house.state === 'onAir' || house.state === 'paused';
  const talk = house.talk && (open || isOn) && <TalkHere slug={slug} {...{ hearing, open, name, behindMs }} onName={setName} onAsked={follow} />;
  const asked = own.findLast(({ place }) => place === 'offered' || place === 'accepted');
  useEffect(() => {
    document.title = `${house.title} · ${house.stationName}`;
  }, [house]);
  return (
    <>
      <p className="d-flex gap-2 align-items-center mb-3">
        <LanternMark size={22} />
        <a href={house.stationUrl} className="station-link">
          {house.stationName}
        </a>
      </p>
      <Screen house={house} recording={recording} onPlay={onPlay} onSeen={(receivedAt) => (seenAt.current = { receivedAt, at: Date.now() })} />
      {asked && house.state !== 'over' && house.state !== 'withdrawn' && (
        <AskedIn slug={slug} question={asked} onAnswer={(question) => set(asked.key, question)} />
      )}
      <h1 className="mt-4 mb-2">{house.title}</h1>
      <p className="mb-4">
        {playing && <span className="lamp lit me-3">On now</span>}
        {recorded && <span className="d-block">This show is over. Here is its recording, {sayLength(recorded.lengthMs)}.</span>}
        {sayWhen(starts, here)} <span className="soft">for {sayLength(house.lengthMs)}</span>
        {sayWhen(starts, here, false) !== sayWhen(starts, house.zone, false) && (
          <span className="soft d-block small-words">{sayWhen(starts, house.zone)} where the show is made</span>
        )}
      </p>
      {recorded && <ChapterList video={recording} chapters={recorded.chapters} />}
      {house.invitation && house.state === 'coming' && <Answer slug={slug} house={house} keep={keep} />}
      <div className="row gx-5">
        <div className="col-md-8">
          {house.state !== 'over' && house.state !== 'withdrawn' && <PollHere slug={slug} hearing={hearing} />}
          {isOn && talk}
          {house.people.length > 0 && <p className="mb-2">With {house.people.map(({ name }) => name).join(', ')}</p>}
          <div style={{ whiteSpace: 'pre-wrap' }}>{house.description}</div>
          {!isOn && talk}
          <AskTheHost slug={slug} house={house} own={own} onKept={add} name={name} onName={setName} />
        </div>
        <div className="col-md-4 mt-4 mt-md-0">
          {house.state === 'coming' && <ReminderForm slug={slug} house={house} />}
          {house.elsewhere.length > 0 && (
            <section className="mb-4">
              <h2 className="h3">{house.fromOutside ? 'Watch it here' : 'Also here'}</h2>
              <ul className="list-unstyled">
                {house.elsewhere.map(({ name, network, watchUrl }) => (
                  <li key={watchUrl} className="mb-1">
                    <a href={watchUrl}>{network ? `${name} on ${network}` : name}</a>
                  </li>
                ))}
              </ul>
            </section>
          )}
          {house.shareUrl !== null && <Share house={house} url={house.shareUrl} />}
        </div>
      </div>
    </>
  );
}

/** Passing it on: the lasting address, and words to go with it. */
function Share({ house, url }: { house: HouseView; url: string }) {
  const [copied, setCopied] = useState('');
  const copy = async (what: string, text: string) => {
    await navigator.clipboard.writeText(text);
    setCopied(what);
  };
  return (
    <section>
      <h2 className="h3">Pass it on</h2>
      <p className="mb-2">
        <code>{url}</code>
      </p>
      <span className="d-flex flex-wrap gap-3">
        <button className="btn btn-quiet btn-sm" onClick={() => void copy('link', url)}>
          {copied === 'link' ? 'Copied' : 'Copy the link'}
        </button>
        <button className="btn btn-quiet btn-sm" onClick={() => void copy('words', messageFor({ ...house, startsAt: instant(house.startsAt) }, url, 'long'))}>
          {copied === 'words' ? 'Copied' : 'Copy it with words'}
        </button>
      </span>
    </section>
  );
}

const ANSWERS: Record<InvitationAnswer, string> = { asked: 'will you come?', accepted: 'you are coming.', declined: 'you are not coming.' };

/** For somebody who was invited: whether they come. */
function Answer({ slug, house, keep }: { slug: string; house: HouseView; keep: (house: HouseView) => void }) {
  const [trouble, setTrouble] = useState('');
  const { name, answer } = house.invitation!;
  const give = async (given: 'accepted' | 'declined') => {
    try {
      keep(await server.post<HouseView>(`/api/house/${slug}/answer`, { answer: given }));
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <section className="mb-4">
      <p className="mb-2">
        {name}, {ANSWERS[answer]}
      </p>
      <span className="d-flex gap-3">
        {answer !== 'accepted' && (
          <button className="btn btn-primary btn-sm" onClick={() => void give('accepted')}>
            I come
          </button>
        )}
        {answer !== 'declined' && (
          <button className="btn btn-outline-primary btn-sm" onClick={() => void give('declined')}>
            I cannot come
          </button>
        )}
      </span>
      <p role="alert">{trouble}</p>
    </section>
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
    over: house.replay === 'coming' ? 'This show is over. The recording will be here in a few minutes.' : 'This show is over. Thank you for watching.',
    withdrawn: 'This show will not take place.',
  }[house.state];
  return (
    <div className="waiting" role="status">
      {words}
      {house.state === 'coming' && toGo > 0 && (
        <div className="count" aria-live="off">
          {days > 0 && <span className="days">{`${days} ${days === 1 ? 'day' : 'days'} `}</span>}
          {sayClock(toGo % DAY_MS, true)}
        </div>
      )}
    </div>
  );
}
