// Going on air: at its time one press, before its time a question that says what becomes public now.
import type { AirView, ChannelView, ShowView, StationView } from '@lantern/contract';
import { DAY_MS, instant, publicFrom, sayDistance, sayTime, sayWhen, USUAL_TIMES } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { serverNow, useNow } from '../app/clock';
import { server } from '../app/server';
import { useChannels } from '../channels/channel-queries';
import { Identity } from '../look/Identity';

/** Further ahead than this going on air is not offered. */
const OFFERED_BEFORE_MS = DAY_MS;

interface Props {
  show: ShowView;
  air: AirView;
  busy: boolean;
  disabled: boolean;
  /** `only`: the airings that begin now; missing: all. */
  onGo: (only?: readonly string[]) => void;
  /** Has it begin by itself at its time, or not. */
  onByItself: (wanted: boolean) => void;
  /** Whether the picture comes from this very page. */
  fromHere?: boolean;
}

export function GoOnAir({ show, air, busy, disabled, onGo, onByItself, fromHere = false }: Props) {
  const now = useNow(5_000);
  const [asks, setAsks] = useState(false);
  const [chooses, setChooses] = useState(false);
  const [asksByItself, setAsksByItself] = useState(false);
  const station = useQuery({ queryKey: ['station'], queryFn: () => server.get<StationView>('/api/station') });
  const early = { ...USUAL_TIMES, ...station.data?.milestoneTimes, ...show.milestoneTimes }['holding card'] ?? USUAL_TIMES['holding card']!;
  const interrupted = air.showState === 'interrupted';
  const starts = instant(show.startsAt);
  const byItself =
    interrupted || show.startsAt <= now ? null : air.startsBy !== null ? (
      <>
        <span className="small-words text-end">
          By itself at {sayTime(starts, show.zone)} <span className="soft">· {air.startsBy}</span>
        </span>
        <Button variant="quiet" size="sm" onClick={() => onByItself(false)}>
          Leave it to a press
        </Button>
      </>
    ) : (
      <Button variant="quiet" size="sm" onClick={() => setAsksByItself(true)} disabled={disabled}>
        By itself at {sayTime(starts, show.zone)}…
      </Button>
    );
  const question = asksByItself && (
    <ByItself
      show={show}
      fromHere={fromHere}
      onClose={() => setAsksByItself(false)}
      onYes={() => {
        setAsksByItself(false);
        onByItself(true);
      }}
    />
  );
  if (!interrupted && show.startsAt - now > OFFERED_BEFORE_MS) {
    return (
      <>
        <span className="soft small-words text-end">It can go on air from {sayWhen(instant(show.startsAt - OFFERED_BEFORE_MS), show.zone)}</span>
        {byItself}
        {question}
      </>
    );
  }
  const press = () => {
    if (!interrupted && show.startsAt - serverNow() > early + 60_000) setAsks(true);
    else onGo();
  };
  return (
    <>
      {byItself}
      {question}
      {!interrupted && air.startsBy === null && air.airings.length > 1 && (
        <Button variant="quiet" size="sm" onClick={() => setChooses(true)} disabled={busy || disabled}>
          Some channels only…
        </Button>
      )}
      <Button onClick={press} disabled={busy || disabled}>
        {show.rehearsal ? (busy ? 'Beginning…' : 'Begin the rehearsal') : busy ? 'Going on air…' : interrupted ? 'Resume' : 'Go on air'}
      </Button>
      {chooses && (
        <SomeChannels
          air={air}
          onClose={() => setChooses(false)}
          onGo={(only) => {
            setChooses(false);
            onGo(only);
          }}
        />
      )}
      {asks && (
        <TooEarly
          show={show}
          air={air}
          onClose={() => setAsks(false)}
          onGo={() => {
            setAsks(false);
            onGo();
          }}
        />
      )}
    </>
  );
}

/** The show begins on the channels that are ticked; the others are started one by one, beside their lamps. */
function SomeChannels({ air, onClose, onGo }: { air: AirView; onClose: () => void; onGo: (only: readonly string[]) => void }) {
  const [only, setOnly] = useState<readonly string[]>([]);
  return (
    <Modal show onHide={onClose} aria-labelledby="some-title" data-bs-theme="dusk">
      <Modal.Header closeButton>
        <h2 id="some-title" className="mb-0">
          Begin on which channels?
        </h2>
      </Modal.Header>
      <Modal.Body>
        <p>The house page shows the picture at once. The other channels get nothing until you start them, each beside its lamp.</p>
        {air.airings.map(({ airingId, channel }) => (
          <Form.Check
            key={airingId}
            id={`some-${airingId}`}
            className="mb-2"
            checked={only.includes(airingId)}
            onChange={() => setOnly(only.includes(airingId) ? only.filter((id) => id !== airingId) : [...only, airingId])}
            label={<Identity of={channel} small />}
          />
        ))}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose}>
          Leave it
        </Button>
        <Button disabled={!only.length} onClick={() => onGo(only)}>
          Go on air there
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

function ByItself({ show, fromHere, onClose, onYes }: { show: ShowView; fromHere: boolean; onClose: () => void; onYes: () => void }) {
  return (
    <Modal show onHide={onClose} aria-labelledby="by-itself-title" data-bs-theme="dusk">
      <Modal.Header closeButton>
        <h2 id="by-itself-title" className="mb-0">
          Go on air by itself?
        </h2>
      </Modal.Header>
      <Modal.Body>
        <p>
          At its start, <b>{sayWhen(instant(show.startsAt), show.zone)}</b>, the show goes on air on all its channels without another press. If the start is
          moved, so is this.
        </p>
        <p className="mb-0">
          {fromHere
            ? 'Picture and sound then come from this tab, on the scene that is in the programme. Leave it open: while it is closed, viewers see the break card.'
            : show.pictureFrom === 'outside line'
              ? 'Viewers see the outside line, and the break card while nothing comes on it.'
              : show.pictureFrom === 'encoder'
                ? 'The encoder outside sends the picture; here its channels are told and looked after.'
                : 'No picture is made on this page: viewers see the break card until somebody takes the stage.'}
        </p>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose}>
          Leave it to a press
        </Button>
        <Button onClick={onYes} autoFocus>
          By itself at {sayTime(instant(show.startsAt), show.zone)}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

function TooEarly({ show, air, onClose, onGo }: { show: ShowView; air: AirView; onClose: () => void; onGo: () => void }) {
  const now = useNow(1_000);
  const channels = useChannels().data ?? [];
  const starts = instant(show.startsAt);
  return (
    <Modal show onHide={onClose} aria-labelledby="early-title" data-bs-theme="dusk">
      <Modal.Header closeButton>
        <h2 id="early-title" className="mb-0">
          Go on air already?
        </h2>
      </Modal.Header>
      <Modal.Body>
        <p>
          {show.title} begins on <b>{sayWhen(starts, show.zone)}</b>, {sayDistance(show.startsAt - now)}. If you go on air now:
        </p>
        <ul className="list-unstyled">
          {air.airings.map(({ airingId, channel }) => (
            <li key={airingId} className="mb-2">
              <Identity of={channel} small>
                <span className="small-words d-block">
                  {publicWords(
                    channels.find(({ id }) => id === channel.id),
                    starts,
                    now,
                    show.zone,
                  )}
                </span>
              </Identity>
            </li>
          ))}
          <li className="small-words">The house page shows the picture at once.</li>
        </ul>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose} autoFocus>
          Wait
        </Button>
        <Button onClick={onGo}>Go on air now</Button>
      </Modal.Footer>
    </Modal>
  );
}

function publicWords(channel: ChannelView | undefined, startsAt: number, now: number, zone: string): string {
  if (!channel) return 'Public as its network decides.';
  const from = publicFrom(channel.rules, instant(startsAt));
  if (from === null || from <= now) return 'Public there at once.';
  return `Public there from ${sayTime(instant(from), zone)}.`;
}
