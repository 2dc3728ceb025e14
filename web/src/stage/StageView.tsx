// Where a show is run: the programme, what comes next, the host's own devices, and every channel's lamp.
import type { AirView, ShowView } from '@lantern/contract';
import { instant, microphoneGoesOut, sceneAfterTake, SCENES, type SceneContent } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { useMe } from '../app/PlanningPages';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { useAirActions } from './air-actions';
import { DevicePicker } from './DevicePicker';
import { EncoderStage } from './EncoderStage';
import { KeysHelp } from './KeysHelp';
import { LampEdge } from './LampEdge';
import { measuring, StageEngine } from './stage-engine';
import { useStage } from './stage-store';
import { useStageKeys } from './stage-keys';
import { Strip } from './StageStrip';
import { WrapUp } from './WrapUp';

export function StageView() {
  const { id } = useParams();
  const show = useQuery({ queryKey: ['show', id], queryFn: () => server.get<ShowView>(`/api/shows/${id}`) });
  const me = useMe();
  if (show.error) {
    return (
      <main className="page pt-6 narrow">
        <Notice kind="refusal">{wordsOf(show.error)}</Notice>
        <Link to="/">To the almanac</Link>
      </main>
    );
  }
  if (!show.data || !me.data) return null;
  if (show.data.state === 'over' || show.data.state === 'withdrawn') return <ShowOver show={show.data} />;
  if (show.data.pictureFrom === 'encoder') return <EncoderStage show={show.data} />;
  return <Stage show={show.data} hostName={me.data.name} stationName={me.data.station.name} />;
}

function ShowOver({ show }: { show: ShowView }) {
  return (
    <main className="page pt-6 narrow">
      <h1>
        {show.title} is {show.state === 'over' ? 'over' : 'withdrawn'}
      </h1>
      <p>The stage is dark.</p>
      {show.state === 'over' && <Link to={`/shows/${show.id}/report`}>Read the report</Link>}
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
  const { air, programme, microphoneOn, soundAsleep, trouble, connected, devices, pulse } = useStage();
  const [asksWrap, setAsksWrap] = useState(false);
  const [asksKeys, setAsksKeys] = useState(false);
  const { goOnAir, wrap } = useAirActions(show.id, (view) => useStage.setState({ air: view }));
  const next = sceneAfterTake(programme);
  useStageKeys(
    asksWrap || asksKeys
      ? null
      : { take: () => engine.current?.take(next), microphone: () => engine.current?.switchMicrophone(), help: () => setAsksKeys(true) },
  );

  const onAir = air?.showState === 'onAir';
  const lit = air?.airings.some(({ lamp }) => lamp === 'lit') ?? false;
  return (
    <div className="stage" data-bs-theme="dusk">
      <Strip show={show} air={air}>
        {!onAir && air && (
          <Button onClick={() => goOnAir.mutate()} disabled={goOnAir.isPending || devices.state !== 'ready' || !connected}>
            {goOnAir.isPending ? 'Going on air…' : air.showState === 'interrupted' ? 'Resume' : 'Go on air'}
          </Button>
        )}
        {air && (onAir || air.showState === 'interrupted') && (
          <Button variant="outline-primary" onClick={() => setAsksWrap(true)} disabled={wrap.isPending}>
            {wrap.isPending ? 'Wrapping up…' : 'Wrap up…'}
          </Button>
        )}
      </Strip>
      <div className="floor">
        <div>
          <StageNotices
            troubles={[trouble, goOnAir.error && wordsOf(goOnAir.error), wrap.error && wordsOf(wrap.error)]}
            connected={connected}
            air={air}
            soundAsleep={soundAsleep}
            onWake={() => void engine.current?.wakeSound()}
          />
          <div className={`picture programme${lit ? ' lit' : ''}`}>
            <video ref={programmeVideo} muted autoPlay playsInline aria-label="Programme" />
          </div>
          <div className="caption">
            <span>
              <b>Programme</b> <span className="soft">{nameOf(programme)}</span>
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
              <b>Next</b> <span className="soft">{nameOf(next)}</span>
            </span>
          </div>
          <Button className="w-100 mb-4" onClick={() => engine.current?.take(next)}>
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
      {measuring().on && <output className="visually-hidden" data-pulse={JSON.stringify(pulse)} />}
      <LampEdge air={air} />
      {asksWrap && air && (
        <WrapUp
          air={air}
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

const nameOf = (id: string) => SCENES.find((scene) => scene.id === id)?.name ?? '';

interface NoticesProps {
  troubles: (string | null | undefined)[];
  connected: boolean;
  air: AirView | null;
  soundAsleep: boolean;
  onWake: () => void;
}

function StageNotices({ troubles, connected, air, soundAsleep, onWake }: NoticesProps) {
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
      {air?.stageElsewhere && <Notice kind="caution">Another stage has this show. What you see here is not going out.</Notice>}
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
