// The bench: everybody who is in the green room, how they come in, and what is done with each of them.
import type { GuestOrder, GuestView, ShowView } from '@lantern/contract';
import {
  GUEST_CUES,
  LONGEST_NOTE,
  meterShare,
  PLACE_WORDS,
  STANDING_WORDS,
  type GuestPlace,
  type GuestSeat,
  shows,
  type StripSetting,
  VOICE,
} from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server } from '../app/server';
import { Notice } from '../look/Notice';
import type { StageGuest } from './stage-guests';
import { useStage, useStageOf } from './stage-store';
import { StripFields } from './StripFields';
import './bench.scss';

interface Props {
  show: ShowView;
  /** The show is another stage's. */
  disabled: boolean;
  onOrder: (id: string, order: GuestOrder) => void;
  onTalk: (ids: readonly string[]) => void;
  onShare: (id: string | null) => void;
  /** Keeps somebody in the seat that follows the voice; null: it follows again. */
  onKeepInVoice: (seat: GuestSeat | null) => void;
  onStrip: (seat: GuestSeat, change: Partial<StripSetting>) => void;
}

export function Bench({ show, disabled, ...on }: Props) {
  const { guests, talksTo, guestShare } = useStageOf('guests', 'talksTo', 'guestShare');
  const asked = useQuery({ queryKey: ['show', show.id, 'guests'], queryFn: () => server.get<GuestView[]>(`/api/shows/${show.id}/guests`) });
  const [open, setOpen] = useState<string | null>(null);
  const expected = (asked.data ?? []).filter(({ id, standing }) => standing !== 'declined' && !guests.some((guest) => guest.id === id));
  if (!guests.length && !expected.length) return null;
  const chosen = guests.find(({ id }) => id === open);
  return (
    <section className="bench" aria-label="Guests">
      <ol className="bench-row">
        {guests.map((guest, at) => (
          <li key={guest.id} className={guest.id === open ? 'open' : ''}>
            <Figure guest={guest} onOpen={() => setOpen(guest.id === open ? null : guest.id)} isOpen={guest.id === open} />
            <Button
              size="sm"
              variant={guest.broughtIn ? 'outline-primary' : 'primary'}
              disabled={disabled || !guest.connected}
              onClick={() => on.onOrder(guest.id, { does: guest.broughtIn ? 'take off' : 'bring in' })}
            >
              {guest.broughtIn ? 'Take off' : 'Bring in'}
              <span className="visually-hidden"> {guest.name}</span> <kbd className="key">{at + 1}</kbd>
            </Button>
          </li>
        ))}
        {expected.map(({ id, name, standing }) => (
          <li key={id} className="expected small-words">
            <b>{name}</b>
            <span className="soft">{STANDING_WORDS[standing]}</span>
          </li>
        ))}
      </ol>
      {guests
        .flatMap((guest) => troublesOf(guest))
        .map((words) => (
          <Notice key={words} kind="caution">
            {words}
          </Notice>
        ))}
      {guests
        .filter(({ offersShare }) => offersShare)
        .map(({ id, name }) => (
          <p key={id} className="small-words mb-1">
            {name} offers what is on their screen.{' '}
            <Button size="sm" variant="quiet" disabled={disabled} onClick={() => on.onShare(guestShare === id ? null : id)}>
              {guestShare === id ? `Take ${name}’s screen away` : `Have ${name}’s screen as the share`}
            </Button>
          </p>
        ))}
      {chosen && (
        <Chosen
          key={chosen.id}
          guest={chosen}
          disabled={disabled}
          talks={talksTo.includes(chosen.id)}
          onOrder={(order) => on.onOrder(chosen.id, order)}
          onTalk={(talk) => on.onTalk(talk ? [chosen.id] : [])}
          onStrip={(change) => on.onStrip(chosen.seat, change)}
          onKeepInVoice={on.onKeepInVoice}
        />
      )}
    </section>
  );
}

function troublesOf({ name, lineWords, echoes, connected, linked }: StageGuest): string[] {
  const noWay = `${name} is here, and no picture or voice has come yet. Where that stays so, a firewall in between lets nothing through, or the relay does not answer.`;
  return [
    ...(connected && !linked ? [noWay] : lineWords ? [lineWords] : []),
    ...(echoes ? [`${name} hears the programme by loudspeaker: ask for headphones.`] : []),
  ];
}

/** How the bench says where somebody is: to the team, not to them. */
function placeWords({ place, connected, broughtIn, muted }: StageGuest): string {
  if (!connected) return 'gone for now';
  const said: Record<GuestPlace, string> = { unheard: broughtIn ? 'in, not on this scene' : 'waits', next: 'next', 'on air': 'on air', recorded: 'recorded' };
  return muted ? `${said[place]}, muted` : said[place];
}

/** Somebody by shape: dashed waits, whole is in, with rays is on air, broken is gone. The arc is how loud they are. */
function Figure({ guest, isOpen, onOpen }: { guest: StageGuest; isOpen: boolean; onOpen: () => void }) {
  const { name, camera, connected, broughtIn, ownMicrophone, says } = guest;
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    if (video.current && video.current.srcObject !== camera) video.current.srcObject = camera;
  }, [camera]);
  const state = !connected ? 'gone' : guest.place === 'on air' ? 'lit' : broughtIn ? 'in' : 'waits';
  return (
    <button type="button" className={`bench-figure ${state}`} aria-expanded={isOpen} onClick={onOpen}>
      <span className="face">
        {camera ? <video ref={video} muted autoPlay playsInline aria-hidden="true" /> : <span aria-hidden="true">{name.slice(0, 1)}</span>}
        <Ring guest={guest} state={state} />
      </span>
      <b>{name}</b>
      <span className="small-words soft">{placeWords(guest)}</span>
      {connected && !ownMicrophone && <span className="small-words soft">microphone off</span>}
      {says && <span className="says small-words">“{says}”</span>}
    </button>
  );
}

const RADIUS = 29;
const ROUND = 2 * Math.PI * RADIUS;

function Ring({ guest, state }: { guest: StageGuest; state: 'gone' | 'lit' | 'in' | 'waits' }) {
  const level = useStage(({ levels }) => meterShare(levels[guest.seat].rmsDb));
  return (
    <svg viewBox="0 0 72 72" aria-hidden="true">
      {state === 'lit' && Array.from({ length: 12 }, (_, at) => <path key={at} className="ray" d="M36 3.5v-3" transform={`rotate(${at * 30} 36 36)`} />)}
      <circle className="edge" cx="36" cy="36" r={RADIUS} strokeDasharray={state === 'waits' ? '5 5' : state === 'gone' ? '2 9' : undefined} />
      <circle className="loud" cx="36" cy="36" r={RADIUS - 4} strokeDasharray={`${level * (ROUND - 25)} 400`} transform="rotate(-90 36 36)" />
      {state === 'gone' && <path className="edge" d="M12 60 60 12" />}
    </svg>
  );
}

interface ChosenProps {
  guest: StageGuest;
  disabled: boolean;
  talks: boolean;
  onOrder: (order: GuestOrder) => void;
  onTalk: (talk: boolean) => void;
  onStrip: (change: Partial<StripSetting>) => void;
  onKeepInVoice: (seat: GuestSeat | null) => void;
}

/** All that is done with one of them beside bringing them in. */
function Chosen({ guest, disabled, talks, onOrder, onTalk, onStrip, onKeepInVoice }: ChosenProps) {
  const { keptInVoice, scenes } = useStageOf('keptInVoice', 'scenes');
  const { name, seat, muted, connected } = guest;
  const [words, setWords] = useState('');
  const [said, setSaid] = useState('');
  const write = (note: string) => {
    onOrder({ does: 'note', words: note });
    setSaid(note);
    setWords('');
  };
  return (
    <div className="bench-chosen">
      <div>
        <p className="mb-2">
          <b>{name}</b> <span className="soft small-words">sees: {PLACE_WORDS[guest.place].toLowerCase()}</span>
        </p>
        <div className="button-row">
          <Button size="sm" variant="outline-primary" disabled={disabled || !connected} onClick={() => onOrder({ does: muted ? 'unmute' : 'mute' })}>
            {muted ? 'Let them be heard' : 'Mute'}
          </Button>
          <Button size="sm" variant="outline-primary" aria-pressed={talks} disabled={disabled || !connected} onClick={() => onTalk(!talks)}>
            {talks ? 'Stop speaking to them alone' : 'Speak to them alone'}
          </Button>
        </div>
        {scenes.some((scene) => shows(scene, VOICE)) && (
          <Form.Check
            id="kept-in-voice"
            className="small-words mt-2"
            checked={keptInVoice === seat}
            disabled={disabled}
            onChange={({ target }) => onKeepInVoice(target.checked ? seat : null)}
            label="Keep them where whoever speaks is seen"
          />
        )}
        {talks && <p className="small-words mt-2 mb-0">Only {name} hears you now; the programme does not.</p>}
        <StripFields strip={seat} name={name} onChange={onStrip} />
      </div>
      <div>
        <p className="small-words mb-1">To {name}’s eyes alone:</p>
        <div className="cue-notes">
          {GUEST_CUES.map((cue) => (
            <Button key={cue} size="sm" variant="quiet" disabled={!connected} onClick={() => write(cue)}>
              {cue}
            </Button>
          ))}
        </div>
        <Form
          className="d-flex gap-2 mt-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (words.trim()) write(words.trim());
          }}
        >
          <Form.Control size="sm" aria-label={`A note to ${name}`} maxLength={LONGEST_NOTE} value={words} onChange={({ target }) => setWords(target.value)} />
          <Button size="sm" type="submit" variant="outline-primary" disabled={!connected || !words.trim()}>
            Send
          </Button>
        </Form>
        {said && (
          <p className="small-words soft mt-1 mb-0" role="status">
            Handed on: “{said}”
          </p>
        )}
      </div>
    </div>
  );
}
