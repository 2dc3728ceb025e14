// The green room: where guests wait, see and hear the programme, and always know whether they are seen and heard.
import type { DoorView as Door } from '@lantern/contract';
import { LONGEST_NOTE, PLACE_WORDS, sayDistance, type GuestPlace } from '@lantern/core';
import { useEffect, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNow } from '../app/clock';
import { Notice } from '../look/Notice';
import { GreenRoom, useRoom } from './green-room';
import { OwnPicture } from './OwnPicture';
import { OwnSoundHere } from './OwnSoundHere';
import type { Chosen, Opened } from './own-media';
import { seesReturn } from './return-picture';
import { Shell, type Mine } from './Shell';

interface Props {
  pass: string;
  door: Door;
  keep: (door: Door) => void;
  mine: Mine & { opened: Opened };
  onDevices: (chosen: Chosen) => Promise<Opened>;
  onLeft: () => void;
}

/** So long may a connection take before it is said that none comes about. */
const LONG_MS = 12_000;

/** The shape that fills the edge of the screen, so that it is known from across a room. */
const SHAPES: Record<GuestPlace, string> = { unheard: 'unheard', next: 'next', 'on air': 'lit', recorded: 'recorded' };

const MEANS: Record<GuestPlace, string> = {
  unheard: 'Viewers neither see nor hear you. The team does.',
  next: 'You come in with the next take.',
  'on air': 'Everybody sees and hears you.',
  recorded: 'It is rehearsed: nobody but the team sees it.',
};

export function GreenRoomView({ pass, door, keep, mine, onDevices, onLeft }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const sound = useRef<HTMLAudioElement>(null);
  const fallback = useRef<HTMLVideoElement>(null);
  const engine = useRef<GreenRoom | null>(null);
  const first = useRef({ door, opened: mine.opened, context: mine.context });
  const [decodes, setDecodes] = useState<boolean | null>(null);
  useEffect(() => void seesReturn().then(setDecodes), []);
  useEffect(() => {
    if (decodes === null) return;
    const { door: to, opened, context } = first.current;
    const made = new GreenRoom(to, pass, opened, context, { canvas: canvas.current!, sound: sound.current!, fallback: fallback.current!, seesReturn: decodes });
    engine.current = made;
    return () => {
      engine.current = null;
      made.close();
    };
  }, [pass, decodes]);
  const keptToo = door.ownSound.wanted && door.ownSound.said === 'agreed';
  // The engine is there as soon as it is known what this browser decodes.
  useEffect(() => engine.current?.agreeOwnSound(keptToo), [keptToo, pass, decodes]);
  const { room, connected, linked, microphoneOn, cameraOn, notes, share, asksWhich, ended, refused, soundAsleep, ownSound } = useRoom();
  // Where nothing is heard of the server, nobody here can say what goes out.
  const known = room === null || connected;
  const place = (known ? room?.place : null) ?? 'unheard';
  const meaning = !known
    ? 'Take it that you are seen and heard.'
    : room?.muted && place !== 'unheard'
      ? 'The team has muted you: you are seen, and not heard.'
      : place === 'next' && !room?.onAir
        ? 'You are in: viewers see you as soon as the show is on air.'
        : room?.host === null
          ? 'Nobody sees or hears you: nobody is at the stage yet.'
          : MEANS[place];
  if (ended !== null) return <Ended why={ended} door={door} onLeft={onLeft} />;
  return (
    <main className={`green-room ${known ? SHAPES[place] : 'unknown'}`} data-bs-theme="dusk">
      <div className="place" role="status" aria-live="assertive">
        <h1>{known ? PLACE_WORDS[place] : 'Not known at this moment'}</h1>
        <p>{meaning}</p>
      </div>
      <div className="room-column">
        {asksWhich && (
          <Notice kind="caution">
            Your pass is in use on another device at this moment. Which one shall stay?{' '}
            <Button size="sm" onClick={() => engine.current?.stayHere()}>
              This one
            </Button>{' '}
            <Button size="sm" variant="quiet" onClick={onLeft}>
              The other
            </Button>
          </Notice>
        )}
        {refused && <Notice kind="refusal">{refused}</Notice>}
        {!asksWhich && !connected && <Notice kind="caution">The line to the show is broken, and comes back by itself. Your place is kept.</Notice>}
        {connected && room?.host === null && <p className="soft">You see and hear the show as soon as somebody is there.</p>}
        {connected && room?.host && !linked && <Connecting />}
        {soundAsleep && <Button onClick={() => engine.current?.wakeSound()}>Hear the programme</Button>}
        <div className="return" hidden={room?.host === null}>
          <canvas ref={canvas} role="img" aria-label="The programme" hidden={decodes === false} />
          <video ref={fallback} playsInline muted autoPlay aria-label="The programme" hidden={decodes !== false} />
          {/* What is heard of it comes by itself, without one's own voice. */}
          <audio ref={sound} />
        </div>
        <Clock startsAt={door.startsAt} onAir={room?.onAir ?? false} rehearsal={room?.rehearsal ?? door.rehearsal} />
        <div className="own-row">
          {mine.opened.camera && cameraOn ? (
            <OwnPicture camera={mine.opened.camera} />
          ) : (
            <span className="no-picture">{mine.opened.camera ? 'Camera off' : 'By sound only'}</span>
          )}
          <div className="own-buttons">
            <Button variant={microphoneOn ? 'outline-primary' : 'primary'} aria-pressed={!microphoneOn} onClick={() => engine.current?.switchMicrophone()}>
              {microphoneOn ? 'Switch microphone off' : 'Switch microphone on again'}
            </Button>
            {mine.opened.camera && (
              <Button variant={cameraOn ? 'outline-primary' : 'primary'} aria-pressed={!cameraOn} onClick={() => engine.current?.switchCamera()}>
                {cameraOn ? 'Switch camera off' : 'Switch camera on again'}
              </Button>
            )}
            {'getDisplayMedia' in (navigator.mediaDevices ?? {}) && (
              <Button variant="quiet" onClick={() => (share.on ? engine.current?.endShare() : void engine.current?.share())}>
                {share.on ? 'Offer my screen no more' : 'Offer my screen'}
              </Button>
            )}
          </div>
        </div>
        {share.on && (
          <p className="small-words">
            {share.wanted ? 'The host has your screen in the show.' : 'The host sees that you offer your screen. It is not shown yet.'}
          </p>
        )}
        {share.words && <p className="small-words soft">{share.words}</p>}
        {!linked && mine.opened.words && <Notice kind="caution">{mine.opened.words}</Notice>}
        <OwnSoundHere door={door} pass={pass} keep={keep} state={ownSound} />
        <Notes onNote={(words) => engine.current?.note(words)} notes={notes} disabled={!connected} />
        <p className="small-words mb-2">
          {room?.others.length ? (
            <>
              <b>Also here:</b> {room.others.map((other) => `${other.name}${other.place === 'on air' ? ' (on air)' : ''}`).join(', ')}
            </>
          ) : (
            <span className="soft">No other guest is here.</span>
          )}
        </p>
        <div className="door-row">
          {!mine.opened.microphone || mine.opened.words ? (
            <Button variant="outline-primary" onClick={() => void onDevices(mine.chosen).then((opened) => engine.current?.use(opened))}>
              Try camera and microphone again
            </Button>
          ) : null}
          <Button variant="quiet" onClick={() => engine.current?.leave()}>
            Leave
          </Button>
        </div>
      </div>
    </main>
  );
}

/** Where no way is found, that is said, with what can be done about it. */
function Connecting() {
  const [long, setLong] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLong(true), LONG_MS);
    return () => clearTimeout(timer);
  }, []);
  return long ? (
    <Notice kind="caution">
      No way to the stage has been found yet: the network that you are in may let nothing through. It is tried again and again; another network, as a phone’s
      own, may help.
    </Notice>
  ) : (
    <p className="soft">Connecting you with the stage…</p>
  );
}

function Clock({ startsAt, onAir, rehearsal }: { startsAt: number; onAir: boolean; rehearsal: boolean }) {
  const now = useNow(1_000);
  const left = startsAt - now;
  const words = left > 0 ? `Begins ${sayDistance(left)}` : onAir ? (rehearsal ? 'The rehearsal is running' : 'The show is on') : 'Begins any moment';
  return (
    <p className="room-clock">
      {left > 0 && left < 600_000 ? `${Math.floor(left / 60_000)}:${String(Math.floor((left % 60_000) / 1_000)).padStart(2, '0')}` : words}
    </p>
  );
}

function Notes({
  notes,
  disabled,
  onNote,
}: {
  notes: readonly { words: string; from: string; at: number }[];
  disabled: boolean;
  onNote: (words: string) => void;
}) {
  const [words, setWords] = useState('');
  const newest = notes.findLast(({ from }) => from !== '');
  return (
    <section aria-label="Notes with the team" className="room-notes">
      {newest && (
        <p className="newest" role="status">
          <b>{newest.from}:</b> {newest.words}
        </p>
      )}
      {notes.length > 1 && (
        <details className="small-words mb-2">
          <summary>All notes</summary>
          <ul>
            {notes.map(({ words: each, from, at }) => (
              <li key={`${at} ${each}`}>
                <b>{from || 'You'}:</b> {each}
              </li>
            ))}
          </ul>
        </details>
      )}
      <Form
        className="d-flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (!words.trim()) return;
          onNote(words.trim());
          setWords('');
        }}
      >
        <Form.Control
          aria-label="A note to the team"
          placeholder="A note to the team alone"
          maxLength={LONGEST_NOTE}
          value={words}
          onChange={({ target }) => setWords(target.value)}
        />
        <Button type="submit" variant="outline-primary" disabled={disabled || !words.trim()}>
          Send
        </Button>
      </Form>
    </section>
  );
}

function Ended({ why, door, onLeft }: { why: 'pass' | 'taken' | 'left'; door: Door; onLeft: () => void }) {
  if (why === 'pass')
    return (
      <Shell title="Your pass was withdrawn" door={door}>
        <p>You are neither seen nor heard any more, and camera and microphone are let go. If that is a surprise, ask the host.</p>
      </Shell>
    );
  return (
    <Shell title={why === 'taken' ? 'You are there on another device' : 'You have left the green room'} door={door}>
      <p>
        {why === 'taken'
          ? 'Your place was taken up there. Nothing of you goes out from here.'
          : 'Nothing of you goes out any more. Your place is kept, should you come back.'}
      </p>
      <Button size="lg" onClick={onLeft}>
        {why === 'taken' ? 'Come back to this one' : 'Back to the door'}
      </Button>
    </Shell>
  );
}
