// Going on air: at its time one press, before its time a question that says what becomes public now.
import type { AirView, ChannelView, ShowView, StationView } from '@lantern/contract';
import { DAY_MS, instant, publicFrom, sayDistance, sayTime, sayWhen, USUAL_TIMES } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
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
  onGo: () => void;
}

export function GoOnAir({ show, air, busy, disabled, onGo }: Props) {
  const now = useNow(5_000);
  const [asks, setAsks] = useState(false);
  const station = useQuery({ queryKey: ['station'], queryFn: () => server.get<StationView>('/api/station') });
  const early = { ...USUAL_TIMES, ...station.data?.milestoneTimes, ...show.milestoneTimes }['holding card'] ?? USUAL_TIMES['holding card']!;
  const interrupted = air.showState === 'interrupted';
  if (!interrupted && show.startsAt - now > OFFERED_BEFORE_MS) {
    return <span className="soft small-words text-end">It can go on air from {sayWhen(instant(show.startsAt - OFFERED_BEFORE_MS), show.zone)}</span>;
  }
  const press = () => {
    if (!interrupted && show.startsAt - serverNow() > early + 60_000) setAsks(true);
    else onGo();
  };
  return (
    <>
      <Button onClick={press} disabled={busy || disabled}>
        {busy ? 'Going on air…' : interrupted ? 'Resume' : 'Go on air'}
      </Button>
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
          <li className="small-words">The show’s own page shows the picture at once.</li>
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
