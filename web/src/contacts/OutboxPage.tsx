// Mail that goes out for the station: what waits, what was sent, what could not be.
import type { MailState, OutboxView } from '@lantern/contract';
import { instant, sayDistance } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { serverNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { PageTitle } from '../app/PageTitle';

const OUTBOX = ['mails'];
const ASK_EVERY_MS = 10_000;
const STATE_WORDS: Record<MailState, string> = { waiting: 'goes out', sent: 'sent', failing: 'is tried again', 'given up': 'given up' };

export function OutboxPage() {
  const queries = useQueryClient();
  const outbox = useQuery({ queryKey: OUTBOX, queryFn: () => server.get<OutboxView>('/api/mails'), refetchInterval: ASK_EVERY_MS });
  const [trouble, setTrouble] = useState('');
  if (outbox.error) return <Notice kind="refusal">{wordsOf(outbox.error)}</Notice>;
  if (!outbox.data) return null;
  const { mails, counts, server: real } = outbox.data;
  const again = async (id: string) => {
    setTrouble('');
    try {
      queries.setQueryData(OUTBOX, await server.post<OutboxView>(`/api/mails/${id}/again`));
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  const summary = (['waiting', 'failing', 'given up', 'sent'] as const).filter((state) => counts[state]).map((state) => `${counts[state]} ${state}`);
  return (
    <>
      <PageTitle of="Outbox" />
      <h1 className="mb-2">Outbox</h1>
      <p className="soft mb-4">
        {real ? 'Mails go out by your mail server.' : 'No mail server is set: mails are written as files into the folder “outbox” beside the station’s data.'}{' '}
        {summary.length > 0 && `${summary.join(', ')}.`}
      </p>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {!mails.length && <p>Nothing has gone out yet. Reminders and invitations are listed here.</p>}
      <ul className="mails">
        {mails.map(({ id, recipient, subject, state, at, trouble: why }) => (
          <li key={id}>
            <span>
              <b>{subject}</b>
              <span className="soft small-words d-block">{recipient}</span>
            </span>
            <span className="small-words mail-state">
              {STATE_WORDS[state]} {state !== 'given up' && sayDistance(instant(at) - serverNow())}
              {(state === 'failing' || state === 'given up') && (
                <Button variant="quiet" size="sm" aria-label={`Try “${subject}” to ${recipient} again now`} onClick={() => void again(id)}>
                  Try now
                </Button>
              )}
              {why && <Notice kind="caution">The mail server said: {why}</Notice>}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
