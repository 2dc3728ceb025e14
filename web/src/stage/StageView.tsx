// Where a show is run: the programme, what comes next, the host's own devices, and every channel's lamp.
import type { AirView, Me, ShowView } from '@lantern/contract';
import {
  fillPlaceholders,
  FIRST_SCENES,
  goesOut,
  hasSomething,
  HOLDING,
  instant,
  isStale,
  may,
  sayDistance,
  sayUplink,
  scenesOfShow,
  type ClipInShow,
  type Filling,
  type LookChoices,
  type Scene,
} from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { useNow } from '../app/clock';
import { useMe } from '../people/me';
import { server, wordsOf } from '../app/server';
import { StillHere } from '../late/StillHere';
import { Notice } from '../look/Notice';
import { useAirActions } from './air-actions';
import { AtTheStart, Count, MicrophonesOpen } from './Beginning';
import { Bench } from './Bench';
import { BreakCard } from './BreakCard';
import { DevicePicker } from './DevicePicker';
import { EncoderStage } from './EncoderStage';
import { GoOnAir } from './GoOnAir';
import { HandOverNotice, OfferStage } from './HandOver';
import { KeysHelp } from './KeysHelp';
import { FarEndEdge } from './FarEndEdge';
import { LampEdge } from './LampEdge';
import { LeaveStage } from './LeaveStage';
import { NextScene } from './NextScene';
import { OrderOnStage } from './OrderOnStage';
import { OutsideLinesHere } from './OutsideLinesHere';
import { Mailbag } from '../mailbag/Mailbag';
import { Polls } from '../polls/Polls';
import { usePollGraphics } from './poll-graphics';
import { QuestionsOnStage, useQuestionGraphics } from './QuestionsOnStage';
import { ReadinessOnStage } from './ReadinessOnStage';
import { ProgrammeLoudness } from './ProgrammeLoudness';
import { ProgrammeWindow } from './ProgrammeWindow';
import { RemoteStage } from './RemoteStage';
import { canRunStage } from '../app/stage-support';
import { isElsewhere, lampsUnknownSince, NARROWEST_PX, useTab } from './stage-browser';
import { useArtwork } from '../app/artwork';
import { useClips } from '../clips/clip-queries';
import { playableOf } from '../clips/clips-of-show';
import { contentOfLook, lookOfShow } from '../looks/look-content';
import { useColumn } from '../mailbag/use-column';
import { useScenes } from '../scenes/scene-queries';
import type { StageContent } from '../programme/compositor-messages';
import { ClipsOnStage } from './ClipsOnStage';
import { Mixer } from './Mixer';
import { ShareControls } from './ShareControls';
import { StageEngine } from './stage-engine';
import { GraphicsOnStage } from './GraphicsOnStage';
import { isFilled, playsPicture, sceneIn, useStage, useStageOf, STING, type StageClip, type StageGraphic } from './stage-store';
import { useStageKeys } from './stage-keys';
import { Strip } from './StageStrip';
import { TakeStage } from './TakeStage';
import { SignalHere } from './SignalHere';
import { WatchingHere } from './WatchingHere';
import { WrapUp } from './WrapUp';
import { useStationChanges } from '../app/changes';
import { PageTitle } from '../app/PageTitle';

export function StageView() {
  const { id } = useParams();
  const show = useQuery({ queryKey: ['show', id], queryFn: () => server.get<ShowView>(`/api/shows/${id}`) });
  const me = useMe();
  const tab = useTab();
  const scenes = useScenes();
  const artwork = useArtwork();
  const clips = useClips();
  const own = show.data?.scenes;
  const ofShow = useMemo(() => scenesOfShow(scenes.data ?? FIRST_SCENES, own ?? []), [scenes.data, own]);
  useStationChanges();
  // A stage that stands goes on standing: how it ends is told by what is on air.
  const [stands, setStands] = useState(false);
  // Looked at once: a stage does not turn into another because a window was made smaller.
  // The window's own width: one that shows everything twice as large is no phone.
  const [remote] = useState(() => !canRunStage() || window.outerWidth < NARROWEST_PX);
  if (show.error && !show.data) {
    return (
      <main className="page pt-6 narrow">
        <Notice kind="refusal">{wordsOf(show.error)}</Notice>
        <Link to="/">To the almanac</Link>
      </main>
    );
  }
  if (!show.data || !me.data || tab === null) return null;
  if (!stands && show.data.state !== 'over') setStands(true);
  if (show.data.state === 'over' && !stands) return <ShowOver show={show.data} />;
  if (show.data.pictureFrom === 'encoder') return <EncoderStage show={show.data} />;
  if (remote || show.data.pictureFrom === 'outside line') return <RemoteStage show={show.data} air={me.data.air} tab={tab} />;
  if (scenes.isPending || artwork.isPending || clips.isPending) return null;
  return <Stage show={show.data} me={me.data} tab={tab} scenes={ofShow} />;
}

function ShowOver({ show }: { show: ShowView }) {
  return (
    <main className="page pt-6 narrow">
      <PageTitle of={`${show.title} is over`} />
      <h1>
        {show.rehearsal && 'The rehearsal of '}
        {show.title} is over
      </h1>
      <p>The stage is dark.</p>
      <p className="button-row">
        <Link to={`/shows/${show.id}/report`}>{show.rehearsal ? 'See what was recorded' : 'Read the report'}</Link>
        {show.rehearsal && <Link to={`/shows/${show.rehearsal.of}`}>To the sheet</Link>}
      </p>
    </main>
  );
}

const CAMERA_LOST = 'Your camera brings no picture any more: viewers see your name, and hear you. Plug it in again, or choose another below.';

/** The look of the show's pictures, in which its programme is drawn too. */
function useLook({ waiting, thumbnail }: ShowView): LookChoices {
  const looks = useArtwork().data?.looks;
  return useMemo(() => lookOfShow({ waiting, thumbnail }, looks ?? []), [waiting, thumbnail, looks]);
}

/** What the host prepared, then the names of all who are in the show. */
function useGraphics(show: ShowView, stationName: string): readonly StageGraphic[] {
  return useMemo(() => {
    const { startsAt, zone, houseUrl, episode, people } = show;
    const starts = instant(startsAt);
    const guests = people.filter(({ role }) => role === 'guest').map(({ name }) => name);
    const filling: Filling = { startsAt: starts, zone, cities: [], watchUrl: null, houseUrl, episode, guests };
    const filled = (text: string) => fillPlaceholders(text, filling).text;
    const own = show.graphics.filter(({ text }) => text);
    return [
      ...own.map((graphic) => ({ ...graphic, text: filled(graphic.text), more: filled(graphic.more), stale: isStale(graphic, starts) })),
      ...people.map(({ name, role, caption }, at): StageGraphic => ({
        id: `person ${at}`,
        kind: 'strap',
        text: name,
        more: caption ?? (role === 'host' ? stationName : ''),
        hidesAfterS: 8,
        cue: null,
        stale: false,
      })),
    ];
  }, [show, stationName]);
}

/** Portraits of the library, by small names. */
function usePortraits(): Readonly<Record<string, string>> {
  const pieces = useArtwork().data?.pieces;
  return useMemo(
    () => Object.fromEntries((pieces ?? []).filter(({ kind }) => kind === 'portrait').map(({ name, url }) => [name.trim().toLowerCase(), url])),
    [pieces],
  );
}

/** What is prepared to be played, and the sting of the look, as they stand in the library by now. */
function useClipsOf({ clips }: ShowView, { stingId }: LookChoices): readonly StageClip[] {
  const library = useClips().data;
  const pieces = useArtwork().data?.pieces;
  return useMemo(() => {
    const sting: ClipInShow[] = stingId === null ? [] : [{ id: STING, from: 'clip', item: stingId, cue: null, then: 'back' }];
    const playable = [...clips, ...sting].map(({ id, from, item, cue, then }) => ({
      id,
      cue,
      then,
      ...playableOf({ from, item }, library ?? [], pieces ?? []),
    }));
    // A look may speak of a clip that was taken out since.
    return playable.filter(({ id, kind }) => id !== STING || kind !== null);
  }, [clips, stingId, library, pieces]);
}

function Stage({ show, me, tab, scenes }: { show: ShowView; me: Me; tab: string; scenes: readonly Scene[] }) {
  const {
    name: hostName,
    station: { name: stationName },
  } = me;
  const look = useLook(show);
  const pieces = useArtwork().data?.pieces;
  const messages = useColumn(show.id, scenes);
  const content = useMemo<StageContent>(
    () => ({
      title: show.title,
      stationName,
      startsAt: instant(show.startsAt),
      zone: show.zone,
      begun: false,
      waiting: show.waiting && { url: show.waiting.url, keepsPlace: show.waiting.recipe !== null },
      ...contentOfLook(look, pieces ?? []),
      graphic: null,
      messages,
      seated: { host: { name: hostName, caption: show.people.find(({ name }) => name === hostName)?.caption ?? stationName, seen: true } },
    }),
    [show, hostName, stationName, look, pieces, messages],
  );
  const { engine, nextFrame, programmeVideo } = useEngine(show.id, { air: me.air, tab }, content, scenes, {
    ...{
      portraits: usePortraits(),
      cues: show.cues,
      graphics: useGraphics(show, stationName),
      clips: useClipsOf(show, look),
      questions: useAskedGraphics(show.id),
    },
  });
  const { air, programme, next, nextCue, strips, soundAsleep, trouble, connected, unheardSince } = useStageOf(
    ...(['air', 'programme', 'next', 'nextCue', 'strips', 'soundAsleep', 'trouble', 'connected', 'unheardSince'] as const),
  );
  const { handing, couldTake, notHanded, talksTo, uplink } = useStageOf(...(['handing', 'couldTake', 'notHanded', 'talksTo', 'uplink'] as const));
  const { askedBy, lostTo, devices, sending, share, cameraLost, clip, guests, guestShare } = useStageOf(
    ...(['askedBy', 'lostTo', 'devices', 'sending', 'share', 'cameraLost', 'clip', 'guests', 'guestShare'] as const),
  );
  const begins = show.cues.find(({ id }) => id === nextCue)?.name.trim();
  const microphoneOpen = !talksTo.length && goesOut('microphone', strips.microphone, sceneIn(scenes, programme));
  const [onNow, onNext] = [sceneIn(scenes, programme), sceneIn(scenes, next)];
  const [asksWrap, setAsksWrap] = useState(false);
  const [asksKeys, setAsksKeys] = useState(false);
  const { goOnAir, byItself, startOne, makeAnew, wrap, takeBack } = useAirActions(show.id, (view) => useStage.setState({ air: view }), tab);
  const go = (only?: readonly string[]) => goOnAir.mutate(only, { onSuccess: () => engine.current?.sendFromHere() });
  const onAir = air?.showState === 'onAir';
  const broken = air?.chosen === 'break card';
  useStageKeys(
    asksWrap || asksKeys
      ? null
      : {
          take: () => engine.current?.takeNext(),
          cue: () => engine.current?.chooseNextCue(),
          graphic: () => engine.current?.showGraphic(),
          hideGraphic: () => engine.current?.hideGraphic(),
          question: () => onAir && engine.current?.toggleQuestion(),
          poll: () => onAir && engine.current?.toggleQuestion(undefined, 'poll'),
          microphone: () => engine.current?.switchMicrophone(),
          break: () => onAir && (broken ? engine.current?.resume() : engine.current?.takeBreak()),
          help: () => setAsksKeys(true),
          clip: () => engine.current?.playClip(),
          stopClip: () => engine.current?.stopClip(),
          sting: () => engine.current?.playClip(STING),
          guest: (place) => !elsewhere && engine.current?.toggleGuest(place),
          share: () => (share.on ? engine.current?.endShare() : void engine.current?.share()),
          next: (by) => {
            const usable = scenes.filter(
              (scene) =>
                scene.id !== programme &&
                hasSomething(
                  scene,
                  isFilled({ shares: share.on || guestShare !== null, plays: playsPicture({ clip }), lineOnStage: air?.lineOnStage ?? null, guests }),
                ),
            );
            const at = usable.findIndex(({ id }) => id === next);
            const chosen = usable[(at + by + usable.length) % usable.length];
            if (chosen) engine.current?.wantNext(chosen.id);
          },
        },
  );

  const takeButton = useRef<HTMLButtonElement>(null);
  // The button that went on air is gone then: the work goes on at the take.
  useEffect(() => {
    if (onAir && (document.activeElement === null || document.activeElement === document.body)) takeButton.current?.focus({ preventScroll: true });
  }, [onAir]);
  const elsewhere = isElsewhere(air);
  // Amber only for what is known to be public, and goes out from here.
  const lit =
    connected && lampsUnknownSince(air, null) === null && !elsewhere && air?.source === 'stage' && (air?.airings.some(({ lamp }) => lamp === 'lit') ?? false);
  // Viewers see the break card, or an outside line.
  const behind = onAir && !elsewhere && air?.source !== null && air?.source !== 'stage';
  const lineOn = air?.lines.find(({ id }) => air.source === `line:${id}`);
  const late = onAir && programme === HOLDING && !elsewhere;
  const firstScene = scenes.find(({ layout }) => layout !== 'card');
  return (
    <div className={`stage${show.rehearsal ? ' rehearsal' : ''}`} data-bs-theme="dusk">
      <div>
        <Strip show={show} air={air}>
          {!onAir && air && (
            <GoOnAir
              show={show}
              air={air}
              busy={goOnAir.isPending}
              disabled={devices.state === 'asking' || !connected}
              onGo={go}
              onByItself={byItself.mutate}
              fromHere
            />
          )}
          {air && (onAir || air.showState === 'interrupted') && (
            <Button variant="outline-primary" onClick={() => setAsksWrap(true)} disabled={wrap.isPending}>
              {wrap.isPending ? 'Wrapping up…' : show.rehearsal ? 'End it…' : 'Wrap up…'}
            </Button>
          )}
        </Strip>
        <OrderOnStage show={show} onAir={onAir} ran={air?.ran ?? []} nextCue={nextCue} onChooseCue={() => engine.current?.chooseNextCue()} />
      </div>
      <div className="floor">
        <div>
          <StageNotices
            troubles={[
              trouble,
              cameraLost && devices.state === 'ready' && !devices.words && CAMERA_LOST,
              ...[goOnAir.error, byItself.error, wrap.error, takeBack.error].map((error) => error && wordsOf(error)),
            ]}
            connected={connected}
            air={air}
            soundAsleep={soundAsleep}
            askedBy={askedBy}
            lostTo={lostTo}
            myId={me.personId}
            mayRun={may(me.role, 'go on air')}
            sending={sending}
            uplinkWords={sending && uplink ? sayUplink(uplink) : ''}
            onSend={(takeOver) => engine.current?.sendFromHere(takeOver)}
            onAsk={() => engine.current?.handOver({ does: 'ask' })}
            notHanded={notHanded}
            handOver={
              handing && (
                <HandOverNotice
                  handing={handing}
                  shares={share.on}
                  onAgree={() => engine.current?.handOver({ does: 'agree' })}
                  onDecline={() => engine.current?.handOver({ does: 'decline' })}
                />
              )
            }
            late={
              late && firstScene ? (
                <LateStart
                  show={show}
                  first={begins ?? firstScene.name}
                  onTake={() => (nextCue === null ? engine.current?.take(firstScene.id) : engine.current?.takeNext())}
                />
              ) : null
            }
            onWake={() => void engine.current?.wakeSound()}
          />
          <div className={`picture programme${lit ? ' lit' : ''}${behind ? ' behind' : ''}`}>
            <video ref={programmeVideo} muted autoPlay playsInline aria-label="Programme" />
            {onAir && !elsewhere && programme === HOLDING && <Count startsAt={show.startsAt} onTick={() => engine.current?.tick()} />}
            {onAir && !elsewhere && <MicrophonesOpen open={microphoneOpen} />}
            {air && onAir && (
              <BreakCard
                air={air}
                zone={show.zone}
                disabled={!connected}
                onBreak={(backAt) => engine.current?.takeBreak(backAt)}
                onResume={() => engine.current?.resume()}
              />
            )}
          </div>
          <div className="caption">
            <span>
              <b>
                {elsewhere ? 'This stage, not on air' : behind ? (lineOn ? `Viewers see ${lineOn.name}; behind it` : 'Behind the break card') : 'Programme'}
              </b>{' '}
              <span className="soft">{onNow.name}</span>
            </span>
            <ProgrammeLoudness />
            <span>
              {talksTo.length
                ? 'Only a guest hears you'
                : microphoneOpen
                  ? 'Microphone open'
                  : onNow.microphones === 'shut'
                    ? 'Microphones are shut on this scene'
                    : 'Microphone off'}
            </span>
          </div>
          <Bench
            show={show}
            disabled={elsewhere}
            onOrder={(id, order) => engine.current?.orderGuest(id, order)}
            onTalk={(ids) => engine.current?.talkTo(ids)}
            onShare={(id) => engine.current?.showGuestShare(id)}
            onKeepInVoice={(seat) => engine.current?.keepInVoice(seat)}
            onStrip={(seat, change) => engine.current?.setStrip(seat, change)}
          />
          {air && (
            <OutsideLinesHere
              air={air}
              withStage
              disabled={!connected}
              onChoose={(source) => engine.current?.choose(source)}
              onBring={elsewhere ? undefined : (line) => engine.current?.bring(line)}
              onStrip={(change) => engine.current?.setStrip('line', change)}
            />
          )}
          <QuestionsOnStage show={show} onToggle={(id) => engine.current?.toggleQuestion(id)} />
          <PollsHere show={show} onToggle={onAir ? (id) => engine.current?.toggleQuestion(id, 'poll') : null} />
          {onAir && !elsewhere && (
            <SignalHere showId={show.id} microphones={onNow.microphones !== 'shut'} onSmaller={(smaller) => engine.current?.takeGuestsSmaller(smaller)} />
          )}
          {onAir && <WatchingHere show={show} />}
          {onAir && <Mailbag show={show} air={air} />}
        </div>
        <div>
          <div className="next-row">
            <div className="picture" ref={nextFrame} />
            <div>
              <p className="mb-0">
                <b>Next</b> <span className="soft">{onNext.name}</span>
                {begins && <span className="soft d-block small-words begins">begins “{begins}”</span>}
              </p>
              <Button ref={takeButton} disabled={elsewhere} onClick={() => engine.current?.takeNext()}>
                Take <kbd className="key ms-2">Space</kbd>
              </Button>
              {onAir && !broken && (
                <Button variant="outline-primary" disabled={!connected} onClick={() => engine.current?.takeBreak()}>
                  Break <kbd className="key ms-2">B</kbd>
                </Button>
              )}
            </div>
          </div>
          {programme === HOLDING && firstScene && !elsewhere && (
            <BeforeStart show={show}>
              <AtTheStart
                show={show}
                first={begins ?? (onNext.layout === 'card' ? firstScene.name : onNext.name)}
                onChoose={(byItself) => engine.current?.setBeginsByItself(byItself)}
              />
            </BeforeStart>
          )}
          {!onAir && air && <ReadinessOnStage show={show} />}
          <NextScene onChoose={(scene) => engine.current?.wantNext(scene)} />
          <GraphicsOnStage onShow={(id) => engine.current?.showGraphic(id)} onHide={() => engine.current?.hideGraphic()} />
          <ClipsOnStage disabled={elsewhere} onPlay={(id) => engine.current?.playClip(id)} onStop={() => engine.current?.stopClip()} />
          <ShareControls
            onShare={() => void engine.current?.share()}
            onEnd={() => engine.current?.endShare()}
            onChangesScene={(changes) => engine.current?.setShareChangesScene(changes)}
          />
          <DevicePicker
            onChoose={(cameraId, microphoneId) => void engine.current?.openDevices(cameraId, microphoneId)}
            onSwitch={() => engine.current?.switchMicrophone()}
          />
          <Mixer
            onStrip={(strip, change) => engine.current?.setStrip(strip, change)}
            onLevelled={(levelled, target) => engine.current?.setLevelled(levelled, target)}
          />
          <div className="stage-more">
            <ProgrammeWindow
              title={show.rehearsal ? `Rehearsal: ${show.title}` : show.title}
              zone={show.zone}
              air={air}
              stream={() => engine.current?.withoutLine() ?? null}
            />
            {!handing && <OfferStage couldTake={couldTake} onOffer={(to) => engine.current?.handOver({ does: 'offer', to })} />}
            <Button variant="quiet" size="sm" onClick={() => setAsksKeys(true)}>
              All keys <kbd className="key">?</kbd>
            </Button>
          </div>
        </div>
      </div>
      {show.rehearsal ? (
        <FarEndEdge show={show} air={air} unheardSince={lampsUnknownSince(air, connected ? null : unheardSince)} />
      ) : (
        <LampEdge
          air={air}
          unheardSince={lampsUnknownSince(air, connected ? null : unheardSince)}
          zone={show.zone}
          onStart={startOne.mutate}
          onAnew={makeAnew.mutate}
        />
      )}
      <LeaveStage sends={onAir && sending} showId={show.id} />
      {asksWrap && air && (
        <WrapUp
          show={show}
          air={air}
          onTakeBack={() => {
            setAsksWrap(false);
            takeBack.mutate();
          }}
          onClose={() => setAsksWrap(false)}
          onWrap={() => {
            setAsksWrap(false);
            wrap.mutate();
          }}
        />
      )}
      {asksKeys && <KeysHelp onClose={() => setAsksKeys(false)} />}
    </div>
  );
}

/** As long as the start has not come. */
function BeforeStart({ show, children }: { show: ShowView; children: ReactNode }) {
  const now = useNow(1_000);
  return show.startsAt > now ? <div className="mb-3">{children}</div> : null;
}

/** The card does not stay on by itself for ever: how late it is, and the way out. */
function LateStart({ show, first, onTake }: { show: ShowView; first: string; onTake: () => void }) {
  const now = useNow(5_000);
  const since = now - show.startsAt;
  if (since < 30_000) return null;
  return (
    <Notice kind="caution">
      The start was {sayDistance(-since)}, and the holding card is on.{' '}
      <Button variant="quiet" size="sm" onClick={onTake}>
        Take “{first}”
      </Button>
    </Notice>
  );
}

/** One engine per visit of the stage. Its canvas can be handed to a worker only once, so it is made here and not by React. */
function useEngine(
  showId: string,
  from: { air: Me['air']; tab: string },
  content: StageContent,
  scenes: readonly Scene[],
  {
    cues,
    graphics,
    clips,
    portraits,
    questions,
  }: {
    portraits: Readonly<Record<string, string>>;
    cues: ShowView['cues'];
    graphics: readonly StageGraphic[];
    clips: readonly StageClip[];
    questions: readonly StageGraphic[];
  },
) {
  const engine = useRef<StageEngine | null>(null);
  const nextFrame = useRef<HTMLDivElement>(null);
  const programmeVideo = useRef<HTMLVideoElement>(null);
  const first = useRef({ content, scenes });
  const where = useRef(from);
  useEffect(() => {
    const canvas = document.createElement('canvas');
    canvas.width = 480;
    canvas.height = 270;
    canvas.setAttribute('role', 'img');
    canvas.setAttribute('aria-label', 'The next scene');
    nextFrame.current!.replaceChildren(canvas);
    const made = new StageEngine(showId, where.current, first.current.content, first.current.scenes, canvas);
    engine.current = made;
    programmeVideo.current!.srcObject = made.preview;
    return () => {
      engine.current = null;
      made.close();
    };
  }, [showId]);
  useEffect(() => {
    first.current.content = content;
    engine.current?.setContent(content);
  }, [content]);
  useEffect(() => {
    first.current.scenes = scenes;
    engine.current?.setScenes(scenes);
  }, [scenes]);
  useEffect(() => engine.current?.setOrder(cues), [cues]);
  useEffect(() => engine.current?.setGraphics(graphics), [graphics]);
  useEffect(() => engine.current?.setClips(clips), [clips]);
  useEffect(() => engine.current?.setQuestions(questions), [questions]);
  useEffect(() => engine.current?.setPortraits(portraits), [portraits]);
  return { engine, nextFrame, programmeVideo };
}

/** What visitors ask, and what they are asked. */
function useAskedGraphics(showId: string) {
  const [questions, polls] = [useQuestionGraphics(showId), usePollGraphics(showId)];
  return useMemo(() => [...questions, ...polls], [questions, polls]);
}

function PollsHere({ show, onToggle }: { show: ShowView; onToggle: ((id: string) => void) | null }) {
  const { shownGraphic } = useStageOf('shownGraphic');
  return <Polls show={show} runs picture={{ shown: shownGraphic, onToggle }} />;
}

interface NoticesProps {
  troubles: (string | false | null | undefined)[];
  connected: boolean;
  air: AirView | null;
  soundAsleep: boolean;
  askedBy: string;
  lostTo: string;
  myId: string;
  mayRun: boolean;
  sending: boolean;
  uplinkWords: string;
  onSend: (takeOver: boolean) => void;
  onAsk: () => void;
  /** Where the stage is handed over, what both sides are asked. */
  handOver: ReactNode;
  notHanded: string;
  late: ReactNode;
  onWake: () => void;
}

function StageNotices({
  troubles,
  connected,
  air,
  soundAsleep,
  askedBy,
  lostTo,
  myId,
  mayRun,
  sending,
  uplinkWords,
  onSend,
  onAsk,
  handOver,
  notHanded,
  late,
  onWake,
}: NoticesProps) {
  const onAir = air?.showState === 'onAir';
  const elsewhere = isElsewhere(air);
  return (
    <>
      {troubles
        .flatMap((words) => words || [])
        .map((words) => (
          <Notice key={words} kind="refusal">
            {words}
          </Notice>
        ))}
      {air && !connected && (
        <Notice kind="caution">
          The server cannot be reached.{' '}
          {sending
            ? 'Viewers see the break card until it can; the show goes on from here by itself, and what you do meanwhile stands in the recording.'
            : 'What stands here may not be so any more.'}
        </Notice>
      )}
      {air?.showState === 'interrupted' && (
        <Notice kind="caution">
          The show was interrupted for more than half an hour: nothing was carrying it. Resume to go on, or wrap up. All that had been received is kept.
        </Notice>
      )}
      {connected && handOver}
      {notHanded && <Notice kind="caution">{notHanded}</Notice>}
      {connected && elsewhere && (
        <Notice kind="caution">
          {elsewhereWords(air, lostTo, myId)} {mayRun && <TakeStage holder={air?.holder ?? null} onTake={() => onSend(true)} onAsk={onAsk} />}
        </Notice>
      )}
      {connected && onAir && !elsewhere && !air.holdsIt && !sending && (
        <Notice kind="caution">No stage sends at this moment. {mayRun && <TakeStage holder={air.holder} onTake={() => onSend(true)} onAsk={onAsk} />}</Notice>
      )}
      {uplinkWords && connected && <Notice kind="caution">{uplinkWords}</Notice>}
      {late}
      <StillHere />
      {air?.roomWords && <Notice kind="caution">{air.roomWords}</Notice>}
      {askedBy && <Notice kind="caution">{askedBy}</Notice>}
      {soundAsleep && (
        <Notice kind="caution">
          The browser keeps the sound asleep until you touch the page.{' '}
          <Button variant="quiet" size="sm" onClick={onWake}>
            Wake the sound
          </Button>
        </Notice>
      )}
    </>
  );
}

/** Who has the stage, where it is not this one. */
function elsewhereWords(air: AirView | null, lostTo: string, myId: string): string {
  const holder = air?.holder;
  if (!holder) return '';
  if (lostTo && holder.connected) return `${lostTo} has the stage now: your camera and your microphone go out no more.`;
  const who = holder.personId === myId ? 'Another tab or browser of yours' : holder.name;
  return holder.connected
    ? `${who} has the stage. What you see here does not go out.`
    : `${who} has the stage, and its line is broken. Until it is back, or somebody takes the stage, viewers see the break card.`;
}
