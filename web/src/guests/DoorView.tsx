// The guest door: where a pass leads. One question after the other, and then the green room. Nothing to install, no account, one column.
import type { DoorView as Door } from '@lantern/contract';
import { instant, sayDistance, sayWhen } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { serverNow, useNow } from '../app/clock';
import { server, ServerError, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { AgreeStep, DevicesStep, ListenStep, LookStep, StrapStep } from './DoorSteps';
import { openOwn, remember, remembered, type Chosen, type Opened } from './own-media';
import { GreenRoomView } from './GreenRoomView';
import { OwnSoundHere } from './OwnSoundHere';
import { Shell, type Mine } from './Shell';
import './guests.scss';
import { saveAs } from '../app/save-as';

/** A pass is taken out of the address at once, and kept for as long as the tab lives: a reload comes back to the door. */
const KEPT = 'lantern-guest-pass';
const WAS_IN = 'lantern-guest-was-in';

function useGuestPass(): string {
  const [pass] = useState(() => {
    const shown = location.hash.slice(1);
    if (shown) {
      if (sessionStorage.getItem(KEPT) !== shown) sessionStorage.removeItem(WAS_IN);
      sessionStorage.setItem(KEPT, shown);
      history.replaceState(history.state, '', location.pathname);
    }
    return shown || (sessionStorage.getItem(KEPT) ?? '');
  });
  return pass;
}

export function DoorView() {
  const pass = useGuestPass();
  const queries = useQueryClient();
  const door = useQuery({
    queryKey: ['door', pass],
    queryFn: () => server.post<Door>('/api/door', { pass }),
    enabled: pass !== '',
    retry: (count, error) => count < 3 && !(error instanceof ServerError && error.status > 0 && error.status < 500),
    staleTime: Infinity,
  });
  if (!pass)
    return (
      <Shell title="A guest pass is needed">
        <p>Open the address from the mail that asked you. If you were given the pass by hand, ask for it again.</p>
      </Shell>
    );
  if (door.error)
    return (
      <Shell title="This pass opens no door">
        <Notice kind="refusal">{wordsOf(door.error)}</Notice>
        <Button variant="outline-primary" onClick={() => void door.refetch()}>
          Try again
        </Button>
      </Shell>
    );
  if (!door.data) return null;
  if (door.data.isOver)
    return (
      <Shell title="That evening is over" door={door.data}>
        <p>Thank you for having been there. This pass opens nothing any more.</p>
        <OwnSoundHere door={door.data} pass={pass} keep={(now) => queries.setQueryData(['door', pass], now)} />
        <a href={door.data.houseUrl}>To the show’s page</a>
      </Shell>
    );
  return <Door pass={pass} door={door.data} />;
}

const STEPS = ['strap', 'devices', 'listen', 'look', 'agree'] as const;
type Step = (typeof STEPS)[number];

function Door({ pass, door }: { pass: string; door: Door }) {
  const queries = useQueryClient();
  const [step, setStep] = useState<'ask' | 'in' | 'back' | Step>(() => (sessionStorage.getItem(WAS_IN) ? 'back' : 'ask'));
  const [mine, setMine] = useState<Mine | null>(null);
  const [busy, setBusy] = useState(false);
  const holds = useRef<Mine | null>(null);
  useEffect(() => {
    holds.current = mine;
  }, [mine]);
  // Cameras are let go with the page.
  useEffect(
    () => () => {
      holds.current?.opened?.close();
      void holds.current?.context.close();
    },
    [],
  );
  const keep = (now: Door) => queries.setQueryData(['door', pass], now);
  const change = (part: Partial<Mine>) => setMine((before) => before && { ...before, ...part });
  /** Opens what is chosen; the first time by a touch, so that sound may run. */
  const open = async (chosen: Chosen): Promise<Opened> => {
    const context = mine?.context ?? new AudioContext();
    void context.resume();
    setBusy(true);
    mine?.opened?.close();
    const opened = await openOwn(chosen, context, door.guestId);
    remember(chosen);
    setMine((before) => ({ heard: false, echo: null, ...before, chosen, opened, context }));
    setBusy(false);
    return opened;
  };
  const goIn = () => {
    sessionStorage.setItem(WAS_IN, 'yes');
    setStep('in');
  };
  const next = (from: Step) => setStep(STEPS[STEPS.indexOf(from) + 1] ?? 'in');
  const back = (from: Step) => setStep(STEPS[STEPS.indexOf(from) - 1] ?? 'ask');
  if (step === 'in' && mine?.opened)
    return (
      <GreenRoomView
        pass={pass}
        door={door}
        keep={keep}
        mine={{ ...mine, opened: mine.opened }}
        onDevices={open}
        onLeft={() => {
          sessionStorage.removeItem(WAS_IN);
          mine.opened?.close();
          setMine({ ...mine, opened: null });
          setStep('ask');
        }}
      />
    );
  if (step === 'back' || (step === 'in' && !mine?.opened))
    return (
      <Shell title="Come back in" door={door}>
        <p>You were in the green room. Your place is kept; you are muted and unseen until the host brings you in.</p>
        <div className="door-row">
          <Button size="lg" disabled={busy} onClick={() => void open(remembered()).then(goIn)}>
            {busy ? 'Opening camera and microphone…' : 'Come back in'}
          </Button>
          <Button variant="quiet" onClick={() => setStep('strap')}>
            Look at everything once more
          </Button>
        </div>
      </Shell>
    );
  const steps = { door, pass, mine, keep, change, open, busy };
  switch (step) {
    case 'strap':
      return <StrapStep {...steps} onNext={() => next('strap')} onBack={() => back('strap')} />;
    case 'devices':
      return <DevicesStep {...steps} onNext={() => next('devices')} onBack={() => back('devices')} />;
    case 'listen':
      return <ListenStep {...steps} onNext={() => next('listen')} onBack={() => back('listen')} />;
    case 'look':
      return <LookStep {...steps} onNext={() => next('look')} onBack={() => back('look')} />;
    case 'agree':
      return <AgreeStep {...steps} onNext={goIn} onBack={() => back('agree')} />;
    default:
      return <AskStep door={door} pass={pass} keep={keep} onGo={() => setStep('strap')} />;
  }
}

/** What they are asked, when, and whether they come. */
function AskStep({ door, pass, keep, onGo }: { door: Door; pass: string; keep: (door: Door) => void; onGo: () => void }) {
  const { title, stationName, startsAt, comeAt, zone, answer, name, rehearsal } = door;
  const now = useNow(30_000);
  const [word, setWord] = useState(door.word);
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const [own] = useState(() => Intl.DateTimeFormat().resolvedOptions().timeZone);
  const say = async (said: 'accepted' | 'declined') => {
    setBusy(true);
    setTrouble('');
    await server.post<Door>('/api/door/answer', { pass, answer: said, word }).then(keep, (error: unknown) => setTrouble(wordsOf(error)));
    setBusy(false);
  };
  const save = async () => {
    const response = await fetch('/api/door/calendar', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ pass }),
    }).catch(() => null);
    if (!response?.ok) return setTrouble('The calendar file could not be had. Try again.');
    saveAs('guest-door.ics', await response.blob());
  };
  return (
    <Shell
      title={answer === 'asked' ? `Will you be our guest, ${name}?` : answer === 'accepted' ? `Good to have you, ${name}` : `You have said no, ${name}`}
      door={door}
    >
      <p>
        {stationName} {rehearsal ? 'rehearses' : 'asks you into'} “{title}”.
      </p>
      <dl className="door-when">
        <dt>Be here</dt>
        <dd>
          {sayWhen(instant(comeAt), own)}
          <span className="soft"> {comeAt > now ? sayDistance(comeAt - now) : 'any time now'}</span>
        </dd>
        <dt>It begins</dt>
        <dd>{sayWhen(instant(startsAt), own)}</dd>
        {own !== zone && (
          <>
            <dt>At the show</dt>
            <dd className="soft">{sayWhen(instant(startsAt), zone)}</dd>
          </>
        )}
      </dl>
      {answer !== 'declined' && (
        <p className="small-words">
          <Button variant="quiet" size="sm" onClick={() => void save()}>
            Save it in your calendar
          </Button>
        </p>
      )}
      {answer === 'accepted' ? (
        <>
          <div className="door-row">
            <Button size="lg" onClick={onGo}>
              {comeAt > serverNow() + 3_600_000 ? 'Try it out now' : 'Come in'}
            </Button>
          </div>
          <p className="soft small-words">
            Camera, microphone and how you look, step by step: some two minutes. Nobody sees or hears you before you have agreed at the end.
          </p>
          {door.onPages.map(({ channel, answer: there, url }) => (
            <p key={url} className="small-words">
              {there === 'accepted' ? `${channel} names you on its page.` : `${channel} would name you on its page, and asks you itself.`}{' '}
              <a href={url} target="_blank" rel="noreferrer">
                {there === 'accepted' ? 'Look at it there' : 'Answer there'}
              </a>
            </p>
          ))}
          <details className="small-words">
            <summary>You cannot come after all?</summary>
            <Word value={word} onChange={setWord} />
            <Button variant="outline-primary" size="sm" disabled={busy} onClick={() => void say('declined')}>
              Say that you do not come
            </Button>
          </details>
        </>
      ) : (
        <>
          <Word value={word} onChange={setWord} />
          <div className="door-row">
            <Button size="lg" disabled={busy} onClick={() => void say('accepted')}>
              {answer === 'asked' ? 'Yes, I come' : 'I come after all'}
            </Button>
            {answer === 'asked' && (
              <Button variant="outline-primary" size="lg" disabled={busy} onClick={() => void say('declined')}>
                No, I cannot
              </Button>
            )}
          </div>
        </>
      )}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </Shell>
  );
}

function Word({ value, onChange }: { value: string; onChange: (word: string) => void }) {
  return (
    <Form.Group className="mb-3" controlId="door-word">
      <Form.Label>A word to the host, if you like</Form.Label>
      <Form.Control as="textarea" rows={2} maxLength={300} value={value} onChange={({ target }) => onChange(target.value)} />
    </Form.Group>
  );
}
