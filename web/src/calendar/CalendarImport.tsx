// Takes over events of a calendar file: first looked at, then chosen.
import { CALENDAR_MAX_BYTES, type CalendarReading } from '@lantern/contract';
import { instant, sayWhen } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';

export function CalendarImport() {
  const queries = useQueryClient();
  const [text, setText] = useState('');
  const [reading, setReading] = useState<CalendarReading | null>(null);
  const [chosen, setChosen] = useState<string[]>([]);
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const ask = async (file: string, take?: string[]) => {
    setTrouble('');
    setBusy(true);
    try {
      const answer = await server.post<CalendarReading>('/api/calendar', { text: file, ...(take && { take }) });
      setReading(answer);
      setChosen(take ? [] : answer.entries.filter(({ possible }) => possible).map(({ id }) => id));
      if (take) await queries.invalidateQueries({ queryKey: ['shows'] });
    } catch (error) {
      setReading(null);
      setTrouble(wordsOf(error));
    } finally {
      setBusy(false);
    }
  };
  const open = async (file: File | undefined) => {
    if (!file) return;
    setReading(null);
    if (file.size > CALENDAR_MAX_BYTES) return setTrouble(`${file.name} is larger than 1 MB. Export a shorter time and try again.`);
    const read = await file.text();
    setText(read);
    await ask(read);
  };
  return (
    <section aria-labelledby="import" className="mt-4">
      <h2 id="import">Import a calendar</h2>
      <p className="mb-2">Events of a calendar file (.ics) become drafts, on no channel yet; what repeats becomes a series.</p>
      <Form.Control
        type="file"
        accept=".ics,text/calendar"
        aria-label="Calendar file"
        disabled={busy}
        onChange={(event) => {
          void open((event.target as HTMLInputElement).files?.[0]);
          event.target.value = '';
        }}
      />
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      {reading && reading.made.length > 0 && (
        <Notice kind="done">
          Made {reading.made.length === 1 ? 'a draft' : `${reading.made.length} drafts`}:{' '}
          {reading.made.map(({ id, title }, index) => (
            <span key={id}>
              {index > 0 && ', '}
              <Link to={`/shows/${id}`}>{title}</Link>
            </span>
          ))}
        </Notice>
      )}
      {reading && reading.refused.length > 0 && (
        <Notice kind="refusal">
          {reading.refused.map(({ title, words }, index) => (
            <span key={index} className="d-block">
              Nothing was made of “{title}”: {words}
            </span>
          ))}
        </Notice>
      )}
      {reading && reading.made.length === 0 && (
        <>
          <ul className="start-list mt-3">
            {reading.entries.map((entry) => (
              <li key={entry.id}>
                <Form.Check
                  id={`take-${entry.id}`}
                  disabled={!entry.possible}
                  checked={chosen.includes(entry.id)}
                  onChange={({ target }) => setChosen(target.checked ? [...chosen, entry.id] : chosen.filter((id) => id !== entry.id))}
                  label={
                    <>
                      <b>{entry.title || 'Untitled'}</b>
                      <span className="soft small-words d-block">
                        {entry.startsAt === null ? '' : `${sayWhen(instant(entry.startsAt), entry.zone)}, ${entry.lengthMin} min`}
                        {entry.repeats && `. ${entry.repeats}`}
                      </span>
                      {entry.trouble && (
                        <Notice kind={entry.possible ? 'caution' : 'refusal'} live={false}>
                          {entry.trouble}
                        </Notice>
                      )}
                    </>
                  }
                />
              </li>
            ))}
          </ul>
          <Button size="sm" disabled={busy || !chosen.length} onClick={() => void ask(text, chosen)}>
            {chosen.length === 1 ? 'Take over 1 event' : `Take over ${chosen.length} events`}
          </Button>
        </>
      )}
    </section>
  );
}
