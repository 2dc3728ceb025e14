// The steps at the guest door, each with one question.
import type { DoorView as Door, TriedOut } from '@lantern/contract';
import { meterShare } from '@lantern/core';
import { useEffect, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { LookPreview } from './LookPreview';
import { devicesHere, DRAWN, remembered, type Chosen, type Device, type Opened } from './own-media';
import { OwnPicture } from './OwnPicture';
import { hearsTone, OwnEar, playBack, playTone } from './own-ear';
import { sayOwnSound } from './OwnSoundHere';
import { Shell, type Mine } from './Shell';

interface StepProps {
  door: Door;
  pass: string;
  mine: Mine | null;
  busy: boolean;
  keep: (door: Door) => void;
  change: (part: Partial<Mine>) => void;
  open: (chosen: Chosen) => Promise<Opened>;
  onNext: () => void;
  onBack: () => void;
}

/** As many spoken seconds as are played back. */
const ECHO_BACK_MS = 3_000;

function Buttons({ label, disabled = false, onNext, onBack }: { label: string; disabled?: boolean; onNext: () => void; onBack: () => void }) {
  return (
    <div className="door-row">
      <Button size="lg" disabled={disabled} onClick={onNext}>
        {label}
      </Button>
      <Button variant="quiet" onClick={onBack}>
        Back
      </Button>
    </div>
  );
}

export function StrapStep({ door, pass, keep, onNext, onBack }: StepProps) {
  const [name, setName] = useState(door.name);
  const [caption, setCaption] = useState(door.caption);
  const [trouble, setTrouble] = useState('');
  const next = async () => {
    setTrouble('');
    try {
      if (name !== door.name || caption !== door.caption) keep(await server.post<Door>('/api/door/strap', { pass, name, caption }));
      onNext();
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <Shell title="Who are you on the picture?" door={door}>
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void next();
        }}
      >
        <Field id="strap-name" label="Your name, as it is to be read">
          <Form.Control maxLength={80} autoComplete="name" value={name} onChange={({ target }) => setName(target.value)} />
        </Field>
        <Field id="strap-caption" label="Beneath it" help="Who you are, or where you are; pronouns, if you like. It may stay empty.">
          <Form.Control maxLength={80} value={caption} onChange={({ target }) => setCaption(target.value)} />
        </Field>
        {trouble && <Notice kind="refusal">{trouble}</Notice>}
        <div className="door-row">
          <Button size="lg" type="submit" disabled={!name.trim()}>
            That is right
          </Button>
          <Button variant="quiet" onClick={onBack}>
            Back
          </Button>
        </div>
      </Form>
    </Shell>
  );
}

export function DevicesStep({ door, mine, busy, open, onNext, onBack }: StepProps) {
  const [devices, setDevices] = useState<{ cameras: Device[]; microphones: Device[] }>({ cameras: [], microphones: [] });
  const opened = mine?.opened ?? null;
  const chosen = mine?.chosen ?? remembered();
  useEffect(() => {
    void devicesHere().then(setDevices);
  }, [opened]);
  const choose = (part: Partial<Chosen>) => void open({ ...chosen, ...part });
  const hasAny = opened && (opened.camera || opened.microphone);
  return (
    <Shell title="May we use your camera and microphone?" door={door}>
      {!opened && (
        <>
          <p>Your browser asks you next: allow both. Nobody sees or hears you yet.</p>
          <AskForDevices
            label={busy ? 'Waiting for the browser…' : 'Camera and microphone'}
            busy={busy}
            onAsk={() => choose({ soundOnly: false })}
            onSoundOnly={() => choose({ soundOnly: true })}
            onBack={onBack}
          />
          <p className="soft small-words">
            By sound only is a whole way of being there: viewers hear you, and see your name, with your portrait where the host has one.
          </p>
          <p className="small-words">
            <Button variant="quiet" size="sm" onClick={() => choose({ cameraId: DRAWN, microphoneId: DRAWN, soundOnly: false })}>
              Only looking around? Take a drawn guest
            </Button>
          </p>
        </>
      )}
      {opened && (
        <>
          {opened.words && <Notice kind={hasAny ? 'caution' : 'refusal'}>{opened.words}</Notice>}
          {opened.camera ? <OwnPicture camera={opened.camera} /> : hasAny && <p>No camera: you are heard, and your name is seen.</p>}
          {hasAny && (
            <>
              {!chosen.soundOnly && (
                <Field id="door-camera" label="Camera">
                  <Form.Select value={chosen.cameraId} onChange={({ target }) => choose({ cameraId: target.value })}>
                    <option value="">As the browser chooses</option>
                    <Options devices={devices.cameras} drawn="Drawn: a guest" />
                  </Form.Select>
                </Field>
              )}
              <Field id="door-microphone" label="Microphone">
                <Form.Select value={chosen.microphoneId} onChange={({ target }) => choose({ microphoneId: target.value })}>
                  <option value="">As the browser chooses</option>
                  <Options devices={devices.microphones} drawn="A made-up murmur" />
                </Form.Select>
              </Field>
            </>
          )}
          {opened.microphone ? (
            <Buttons label="Go on" disabled={busy} onNext={onNext} onBack={onBack} />
          ) : (
            <AskForDevices label="Try again" busy={busy} onAsk={() => choose({})} onSoundOnly={() => choose({ soundOnly: true })} onBack={onBack} />
          )}
        </>
      )}
    </Shell>
  );
}

interface AskProps {
  label: string;
  busy: boolean;
  onAsk: () => void;
  onSoundOnly: () => void;
  onBack: () => void;
}

function AskForDevices({ label, busy, onAsk, onSoundOnly, onBack }: AskProps) {
  return (
    <div className="door-row">
      <Button size="lg" disabled={busy} onClick={onAsk}>
        {label}
      </Button>
      <Button size="lg" variant="outline-primary" disabled={busy} onClick={onSoundOnly}>
        By sound only
      </Button>
      <Button variant="quiet" onClick={onBack}>
        Back
      </Button>
    </div>
  );
}

function Options({ devices, drawn }: { devices: readonly Device[]; drawn: string }) {
  return (
    <>
      {devices.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
      <option value={DRAWN}>{drawn}</option>
    </>
  );
}

export function ListenStep({ door, mine, change, onNext, onBack }: StepProps) {
  const [level, setLevel] = useState(-90);
  const [state, setState] = useState<'' | 'records' | 'plays' | 'tone'>('');
  const [toneHeard, setToneHeard] = useState<boolean | null>(null);
  const heard = mine?.heard ?? false;
  const microphone = mine?.opened?.microphone ?? null;
  const ear = useRef<OwnEar | null>(null);
  const context = mine?.context;
  useEffect(() => {
    if (!microphone || !context) return;
    const made = new OwnEar(context, microphone);
    ear.current = made;
    const timer = setInterval(() => setLevel(made.rmsDb()), 80);
    return () => {
      clearInterval(timer);
      ear.current = null;
      made.close();
    };
  }, [microphone, context]);
  useEffect(() => {
    if (level > -50 && !heard) change({ heard: true });
  }, [level, heard, change]);
  const record = async () => {
    if (!microphone || !context) return;
    setState('records');
    await playBack(context, microphone, ECHO_BACK_MS, () => setState('plays')).catch(() => undefined);
    setState('');
  };
  const tone = async () => {
    if (!context || !ear.current) return;
    setState('tone');
    const echo = await hearsTone(ear.current, () => playTone(context));
    change({ echo });
    setState('');
    setToneHeard((before) => before ?? false);
  };
  return (
    <Shell title="Do you hear, and are you heard?" door={door}>
      <p className="mb-1">Say something: the bar moves while you speak.</p>
      <div
        className="meter door-meter"
        role="meter"
        aria-label="How loud you are"
        aria-valuemin={-60}
        aria-valuemax={0}
        aria-valuenow={Math.round(Math.max(level, -60))}
      >
        <div style={{ transform: `scaleX(${meterShare(level)})` }} />
      </div>
      <p className="small-words" role="status">
        {level > -6 ? 'Too loud: move back a little.' : heard ? 'We hear you.' : 'Nothing is heard yet. Is the right microphone chosen, and is it switched on?'}
      </p>
      <div className="door-row">
        <Button variant="outline-primary" disabled={state !== ''} onClick={() => void record()}>
          {state === 'records' ? 'Speak now: three seconds…' : state === 'plays' ? 'That is you' : 'Hear yourself'}
        </Button>
        <Button variant="outline-primary" disabled={state !== ''} onClick={() => void tone()}>
          {state === 'tone' ? 'A tone…' : 'Hear a tone'}
        </Button>
      </div>
      {toneHeard === false && state === '' && (
        <p>
          Did you hear the tone?{' '}
          <Button variant="quiet" size="sm" onClick={() => setToneHeard(true)}>
            Yes
          </Button>{' '}
          <span className="soft small-words">If not: turn the sound of this device up, and see where it goes to.</span>
        </p>
      )}
      {mine?.echo && <Notice kind="caution">Your microphone hears your loudspeaker: others would hear themselves. Please use headphones.</Notice>}
      {mine?.echo === false && toneHeard !== null && (
        <p className="small-words">Your microphone does not hear the loudspeaker: good. Headphones are better still.</p>
      )}
      <Buttons label="Go on" onNext={onNext} onBack={onBack} />
    </Shell>
  );
}

export function LookStep({ door, pass, mine, onNext, onBack }: StepProps) {
  const camera = mine?.opened?.camera ?? null;
  const microphone = mine?.opened?.microphone ?? null;
  const { heard = false, echo = null } = mine ?? {};
  const told = useRef(false);
  // What was found is told to the host: they know before the evening.
  useEffect(() => {
    if (told.current) return;
    told.current = true;
    const { width, height } = camera?.getSettings() ?? {};
    const picture = camera ? (width && height ? `${width}×${height}` : 'a picture') : 'sound only';
    const found: TriedOut = { camera: camera !== null, microphone: microphone !== null && heard, picture, uplinkKbps: null, echo };
    void server.post('/api/door/tried', { pass, found }).catch(() => undefined);
  }, [pass, camera, microphone, heard, echo]);
  return (
    <Shell title="This is how you will look" door={door}>
      <LookPreview door={door} camera={camera} />
      <p className="small-words soft">
        Beside a host who is drawn here.{' '}
        {camera
          ? 'Light from the front, eyes at the height of the camera, and nothing private behind you.'
          : 'Without a camera your name stands in your place.'}
      </p>
      <Buttons label="Good" onNext={onNext} onBack={onBack} />
    </Shell>
  );
}

export function AgreeStep({ door, pass, keep, onNext, onBack }: StepProps) {
  const { sentTo, seenBy, rehearsal, stationName, ownSound } = door;
  const [agrees, setAgrees] = useState(false);
  const [ownToo, setOwnToo] = useState(ownSound.said === 'agreed');
  const [trouble, setTrouble] = useState('');
  const next = async () => {
    setTrouble('');
    try {
      if (ownSound.wanted && ownToo !== (ownSound.said === 'agreed')) keep(await sayOwnSound(pass, ownToo));
      onNext();
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <Shell title="Before you come in" door={door}>
      <ul className="door-facts">
        <li>
          You come into the <b>green room</b>: the people of {stationName} see and hear you there, viewers do not. Only the host brings you into the show.
        </li>
        {rehearsal ? (
          <li>
            This is a <b>rehearsal</b>: it goes to nobody, and is recorded for the team.
          </li>
        ) : (
          <li>
            The show is <b>public</b>: it goes to {sentTo.length ? `${sentTo.join(', ')} and ` : ''}the show’s own page, for {seenBy}.
          </li>
        )}
        <li>
          It is <b>recorded</b>, and may be shown later, whole or in parts.
        </li>
        <li>Where you are is said at every moment, on this page: not seen or heard, next, or on air. You can switch off and leave whenever you like.</li>
      </ul>
      <Form.Check id="door-agrees" className="mb-3" checked={agrees} onChange={({ target }) => setAgrees(target.checked)} label="I have read this and agree" />
      {ownSound.wanted && (
        <>
          <Form.Check
            id="door-own-sound"
            checked={ownToo}
            onChange={({ target }) => setOwnToo(target.checked)}
            label="My own sound may be kept as well, if you like"
          />
          <p className="soft small-words ps-4">
            Your voice apart from everybody else’s, while viewers hear you and at no other time; {stationName} can cut with it. You can take that back at any
            time, afterwards too, with this pass: it is removed then.
          </p>
        </>
      )}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <Buttons label="Into the green room" disabled={!agrees} onNext={() => void next()} onBack={onBack} />
    </Shell>
  );
}
