// The stage on a phone, or in a browser that cannot draw a programme: to see how every channel stands, to mute, to
// take the holding card and to wrap up. Nothing is drawn or sent from here.
import type { AirView, Me, ShowView } from '@lantern/contract';
import { useEffect, useRef, useState } from 'react';
import { FIRST_SCENES, HOLDING, scenesOfShow } from '@lantern/core';
import { Button } from 'react-bootstrap';
import { noteServerNow, serverNow } from '../app/clock';
import { signedInAgain } from '../app/session';
import { wordsOf } from '../app/server';
import { useScenes } from '../scenes/scene-queries';
import { Notice } from '../look/Notice';
import { Mailbag } from '../mailbag/Mailbag';
import { Polls } from '../polls/Polls';
import { BreakCard } from './BreakCard';
import { GoOnAir } from './GoOnAir';
import { FarEndEdge } from './FarEndEdge';
import { LampEdge } from './LampEdge';
import { OutsideLinesHere } from './OutsideLinesHere';
import { CANNOT_RUN_STAGE, canRunStage } from '../app/stage-support';
import { lampsUnknownSince, stageAddress } from './stage-browser';
import { sceneIn } from './stage-store';
import { Strip } from './StageStrip';
import { Uplink } from './uplink';
import { useAirActions } from './air-actions';
import { WrapUp } from './WrapUp';

export function RemoteStage({ show, air: where, tab }: { show: ShowView; air: Me['air']; tab: string }) {
  const uplink = useRef<Uplink | null>(null);
  const address = useRef(where);
  const [air, setAir] = useState<AirView | null>(null);
  const [unheardSince, setUnheardSince] = useState<number | null>(null);
  const [trouble, setTrouble] = useState('');
  const [asksWrap, setAsksWrap] = useState(false);
  const { goOnAir, byItself, startOne, makeAnew, wrap, takeBack } = useAirActions(show.id, setAir);
  useEffect(() => {
    const made: Uplink = new Uplink(stageAddress(address.current, show.id, tab, false), {
      air: (view) => {
        noteServerNow(view.now);
        setAir(view);
      },
      connected: (yes) => setUnheardSince((before) => (yes ? null : (before ?? serverNow()))),
      signedOut: () => {
        void signedInAgain().then((yes) => yes && made.tryNow());
      },
      beginRecorder: () => undefined,
      refused: setTrouble,
      asked: () => undefined,
      lost: () => undefined,
      line: () => undefined,
      guests: () => undefined,
      handing: () => undefined,
    });
    uplink.current = made;
    return () => made.close();
  }, [show.id, tab]);
  const scenes = useScenes();
  const onNow = sceneIn(scenesOfShow(scenes.data ?? FIRST_SCENES, show.scenes), air?.programme ?? HOLDING);
  const onAir = air?.showState === 'onAir';
  const troubles = [trouble, ...[goOnAir.error, byItself.error, wrap.error, takeBack.error].filter(Boolean).map(wordsOf)].filter(Boolean);
  const holder = air?.holder ?? null;
  const fromLine = show.pictureFrom === 'outside line';
  return (
    <div className="stage remote" data-bs-theme="dusk">
      <Strip show={show} air={air}>
        {air && !onAir && (
          <GoOnAir
            show={show}
            air={air}
            busy={goOnAir.isPending}
            disabled={unheardSince !== null}
            onGo={(only) => goOnAir.mutate(only)}
            onByItself={byItself.mutate}
          />
        )}
      </Strip>
      <div className="floor outside">
        <div>
          {troubles.map((words) => (
            <Notice key={words} kind="refusal">
              {words}
            </Notice>
          ))}
          {air?.roomWords && <Notice kind="caution">{air.roomWords}</Notice>}
          {!fromLine && !canRunStage() && <Notice kind="caution">{CANNOT_RUN_STAGE}</Notice>}
          <h2>{fromLine ? 'The picture comes on an outside line' : onAir ? onNow.name : 'Looking on'}</h2>
          <p>
            {!air
              ? 'Asking how the show stands…'
              : fromLine
                ? fromLineWords(air)
                : !onAir
                  ? 'The stage itself is run from a desk computer. From here you can see how the channels stand, mute, take the holding card and wrap up.'
                  : holder?.connected
                    ? `${holder.name} sends from the stage. ${
                        onNow.microphones === 'shut'
                          ? `Microphones are shut on this scene${holder.microphoneOn ? '' : ', and theirs is off'}.`
                          : `Their microphone is ${holder.microphoneOn ? 'on' : 'off'}.`
                      }`
                    : 'Nobody sends at this moment. Open the stage on a desk computer to send.'}
          </p>
          {air && onAir && (
            <BreakCard
              air={air}
              zone={show.zone}
              disabled={unheardSince !== null}
              onBreak={(backAt) => uplink.current?.command({ does: 'break', backAt })}
              onResume={() => uplink.current?.command({ does: 'resume' })}
            />
          )}
          {air && (
            <OutsideLinesHere
              air={air}
              withStage={false}
              disabled={!onAir || unheardSince !== null}
              onChoose={(source) => uplink.current?.command({ does: 'choose', source })}
            />
          )}
          {onAir && (
            <div className="d-grid gap-3">
              {!fromLine && (
                <Button size="lg" disabled={air.programme === HOLDING || unheardSince !== null} onClick={() => uplink.current?.ask('take the holding card')}>
                  Take the holding card
                </Button>
              )}
              {air.chosen !== 'break card' && (
                <Button
                  size="lg"
                  variant="outline-primary"
                  disabled={unheardSince !== null}
                  onClick={() => uplink.current?.command({ does: 'break', backAt: null })}
                >
                  Break
                </Button>
              )}
              {!fromLine && (
                <Button
                  size="lg"
                  variant="outline-primary"
                  disabled={!holder?.connected || unheardSince !== null}
                  onClick={() => uplink.current?.ask(holder?.microphoneOn ? 'microphone off' : 'microphone on')}
                >
                  {holder?.microphoneOn === false ? 'Microphone on again' : 'Mute the microphone'}
                </Button>
              )}
            </div>
          )}
          {onAir && <Polls show={show} runs />}
          {onAir && <Mailbag show={show} air={air} />}
          {air && (onAir || air.showState === 'interrupted') && (
            <Button size="lg" variant="outline-primary" className="w-100 mt-3" disabled={wrap.isPending} onClick={() => setAsksWrap(true)}>
              {wrap.isPending ? 'Wrapping up…' : 'Wrap up…'}
            </Button>
          )}
        </div>
      </div>
      {show.rehearsal ? (
        <FarEndEdge show={show} air={air} unheardSince={lampsUnknownSince(air, unheardSince)} />
      ) : (
        <LampEdge air={air} unheardSince={lampsUnknownSince(air, unheardSince)} zone={show.zone} onStart={startOne.mutate} onAnew={makeAnew.mutate} />
      )}
      {asksWrap && air && (
        <WrapUp
          show={show}
          air={air}
          onClose={() => setAsksWrap(false)}
          onTakeBack={() => {
            setAsksWrap(false);
            takeBack.mutate();
          }}
          onWrap={() => {
            setAsksWrap(false);
            wrap.mutate();
          }}
        />
      )}
    </div>
  );
}

/** How a show stands whose picture comes on an outside line: nothing is drawn or sent from here. */
function fromLineWords({ showState, source, lines }: AirView): string {
  if (showState === 'onAir') return source?.startsWith('line:') ? 'It goes out on every channel and on the house page.' : 'It does not come at this moment.';
  return lines.length
    ? 'It comes in already. Go on air, and it goes out everywhere.'
    : 'Start the encoder with the address and the key of the line; what comes is judged here before you go on air.';
}
