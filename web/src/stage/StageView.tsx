// Where a show is run: the programme, what comes next, the host's own devices, and every channel's lamp.
import type { AirView, ShowView } from '@lantern/contract';
import { instant, microphoneGoesOut, sayDistance, sceneAfterTake, type SceneContent } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { useShallow } from 'zustand/react/shallow';
import { useNow } from '../app/clock';
import { useMe } from '../people/me';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { useAirActions } from './air-actions';
import { DevicePicker } from './DevicePicker';
import { EncoderStage } from './EncoderStage';
import { GoOnAir } from './GoOnAir';
import { KeysHelp } from './KeysHelp';
import { LampEdge } from './LampEdge';
import { LeaveStage } from './LeaveStage';
import { RemoteStage } from './RemoteStage';
import { sceneName } from './scene-name';
import { canRunStage } from '../app/stage-support';
import { isElsewhere, NARROWEST_PX } from './stage-browser';
import { StageEngine } from './stage-engine';
import { useStage } from './stage-store';
import { useStageKeys } from './stage-keys';
import { Strip } from './StageStrip';
import { WrapUp } from './WrapUp';
import { PageTitle } from '../app/PageTitle';

export function StageView() {
  const { id } = useParams();
  const show = useQuery({ queryKey: ['show', id], queryFn: () => server.get<ShowView>(`/api/shows/${id}`) });
  const me = useMe();
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
  if (!show.data || !me.data) return null;
  if (show.data.state === 'over') return <ShowOver show={show.data} />;
  if (show.data.pictureFrom === 'encoder') return <EncoderStage show={show.data} />;
  if (remote) return <RemoteStage show={show.data} />;
  return <Stage show={show.data} hostName={me.data.name} stationName={me.data.station.name} />;
}

function ShowOver({ show }: { show: ShowView }) {
  return (
    <main className="page pt-6 narrow">
      <PageTitle of={`${show.title} is over`} />
      <h1>{show.title} is over</h1>
      <p>The stage is dark.</p>
      <Link to={`/shows/${show.id}/report`}>Read the report</Link>
    </main>
  );
}

function Stage({ show, hostName, stationName }: { show: ShowView; hostName: string; stationName: string }) {
  const content = useMemo<SceneContent>(
    () => ({
      title: show.title,
      stationName,
      hostName,
      strap: stationName,
      startsAt: instant(show.startsAt),
      zone: show.zone,
      waitingUrl: show.waiting?.url ?? null,
    }),
    [show, hostName, stationName],
  );
  const { engine, nextFrame, programmeVideo } = useEngine(show.id, content);
  // Named, so that what changes many times a second, as the level of the sound does, draws only where it is shown.
  const { air, programme, microphoneOn, soundAsleep, trouble, connected, unheardSince, askedBy, devices, sending } = useStage(
    useShallow(({ air, programme, microphoneOn, soundAsleep, trouble, connected, unheardSince, askedBy, devices, sending }) => ({
      ...{ air, programme, microphoneOn, soundAsleep, trouble, connected, unheardSince, askedBy, devices, sending },
    })),
  );
  const [asksWrap, setAsksWrap] = useState(false);
  const [asksKeys, setAsksKeys] = useState(false);
  const { goOnAir, wrap, takeBack } = useAirActions(show.id, (view) => useStage.setState({ air: view }));
  const go = () => goOnAir.mutate(undefined, { onSuccess: () => engine.current?.sendFromHere() });
  const next = sceneAfterTake(programme);
  useStageKeys(
    asksWrap || asksKeys
      ? null
      : { take: () => engine.current?.take(next), microphone: () => engine.current?.switchMicrophone(), help: () => setAsksKeys(true) },
  );

  const onAir = air?.showState === 'onAir';
  const elsewhere = isElsewhere(air);
  // Amber only for what is known to be public, and goes out from here.
  const lit = connected && !elsewhere && (air?.airings.some(({ lamp }) => lamp === 'lit') ?? false);
  const late = onAir && programme === 'holding' && !elsewhere;
  return (
    <div className="stage" data-bs-theme="dusk">
      <Strip show={show} air={air}>
        {!onAir && air && <GoOnAir show={show} air={air} busy={goOnAir.isPending} disabled={devices.state === 'asking' || !connected} onGo={go} />}
        {air && (onAir || air.showState === 'interrupted') && (
          <Button variant="outline-primary" onClick={() => setAsksWrap(true)} disabled={wrap.isPending}>
            {wrap.isPending ? 'Wrapping up…' : 'Wrap up…'}
          </Button>
        )}
      </Strip>
      <div className="floor">
        <div>
          <StageNotices
            troubles={[trouble, ...[goOnAir.error, wrap.error, takeBack.error].map((error) => error && wordsOf(error))]}
            connected={connected}
            air={air}
            soundAsleep={soundAsleep}
            askedBy={askedBy}
            sending={sending}
            onSend={(takeOver) => engine.current?.sendFromHere(takeOver)}
            late={late ? <LateStart show={show} onTake={() => engine.current?.take('host')} /> : null}
            onWake={() => void engine.current?.wakeSound()}
          />
          <div className={`picture programme${lit ? ' lit' : ''}`}>
            <video ref={programmeVideo} muted autoPlay playsInline aria-label="Programme" />
          </div>
          <div className="caption">
            <span>
              <b>{elsewhere ? 'This stage, not on air' : 'Programme'}</b> <span className="soft">{sceneName(programme)}</span>
            </span>
            <span>
              {microphoneGoesOut(programme, microphoneOn)
                ? 'Microphone open'
                : programme === 'holding'
                  ? 'Microphones are shut on the holding card'
                  : 'Microphone off'}
            </span>
          </div>
        </div>
        <div>
          <div className="picture" ref={nextFrame} />
          <div className="caption">
            <span>
              <b>Next</b> <span className="soft">{sceneName(next)}</span>
            </span>
          </div>
          <Button className="w-100 mb-4" disabled={elsewhere} onClick={() => engine.current?.take(next)}>
            Take <kbd className="key ms-2">Space</kbd>
          </Button>
          <DevicePicker
            onChoose={(cameraId, microphoneId) => void engine.current?.openDevices(cameraId, microphoneId)}
            onSwitch={() => engine.current?.switchMicrophone()}
          />
          <Button variant="quiet" size="sm" className="mt-3 d-block" onClick={() => setAsksKeys(true)}>
            All keys
          </Button>
        </div>
      </div>
      <LampEdge air={air} unheardSince={connected ? null : unheardSince} zone={show.zone} />
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

/** The card does not stay on by itself for ever: how late it is, and the way out. */
function LateStart({ show, onTake }: { show: ShowView; onTake: () => void }) {
  const now = useNow(5_000);
  const since = now - show.startsAt;
  if (since < 30_000) return null;
  return (
    <Notice kind="caution">
      The start was {sayDistance(-since)}, and the holding card is on.{' '}
      <Button variant="quiet" size="sm" onClick={onTake}>
        Take the host
      </Button>
    </Notice>
  );
}

/** One engine per visit of the stage. Its canvas can be handed to a worker only once, so it is made here and not by React. */
function useEngine(showId: string, content: SceneContent) {
  const engine = useRef<StageEngine | null>(null);
  const nextFrame = useRef<HTMLDivElement>(null);
  const programmeVideo = useRef<HTMLVideoElement>(null);
  const first = useRef(content);
  useEffect(() => {
    const canvas = document.createElement('canvas');
    canvas.width = 480;
    canvas.height = 270;
    canvas.setAttribute('role', 'img');
    canvas.setAttribute('aria-label', 'The next scene');
    nextFrame.current!.replaceChildren(canvas);
    const made = new StageEngine(showId, first.current, canvas);
    engine.current = made;
    programmeVideo.current!.srcObject = made.preview;
    return () => {
      engine.current = null;
      made.close();
    };
  }, [showId]);
  useEffect(() => {
    first.current = content;
    engine.current?.setContent(content);
  }, [content]);
  return { engine, nextFrame, programmeVideo };
}

interface NoticesProps {
  troubles: (string | null | undefined)[];
  connected: boolean;
  air: AirView | null;
  soundAsleep: boolean;
  askedBy: string;
  sending: boolean;
  onSend: (takeOver: boolean) => void;
  late: ReactNode;
  onWake: () => void;
}

function StageNotices({ troubles, connected, air, soundAsleep, askedBy, sending, onSend, late, onWake }: NoticesProps) {
  const onAir = air?.showState === 'onAir';
  const elsewhere = isElsewhere(air);
  return (
    <>
      {troubles.filter(Boolean).map((words) => (
        <Notice key={words} kind="refusal">
          {words}
        </Notice>
      ))}
      {air && !connected && <Notice kind="caution">The server cannot be reached. What you send is kept for a minute and sent on when it returns.</Notice>}
      {air?.showState === 'interrupted' && (
        <Notice kind="caution">
          The show was interrupted: the server stopped in the middle of it. Resume to go on, or wrap up. All that it had received is kept.
        </Notice>
      )}
      {connected && elsewhere && (
        <Notice kind="caution">
          {air?.holder?.name} has this show on another stage. What you see here does not go out.{' '}
          <Button variant="quiet" size="sm" onClick={() => onSend(true)}>
            Take over: send from here
          </Button>
        </Notice>
      )}
      {connected && onAir && !elsewhere && !sending && (
        <Notice kind="caution">
          No stage sends at this moment: viewers see no new picture.{' '}
          <Button variant="quiet" size="sm" onClick={() => onSend(true)}>
            Send from here
          </Button>
        </Notice>
      )}
      {late}
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
