// Being reminded: by mail where the show does that, by one's own calendar always.
import type { HouseView } from '@lantern/contract';
import { useState } from 'react';
import { server, wordsOf } from '../app/server';

export function ReminderForm({ slug, house }: { slug: string; house: HouseView }) {
  const [email, setEmail] = useState('');
  const [said, setSaid] = useState('');
  const [asked, setAsked] = useState(false);
  const ask = async () => {
    try {
      const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
      const { words } = await server.post<{ words: string }>(`/api/house/${slug}/reminders`, { email, zone });
      setSaid(words);
      setAsked(true);
    } catch (error) {
      setSaid(wordsOf(error));
    }
  };
  return (
    <section className="reminder">
      <h2 className="h3">Do not miss it</h2>
      {house.reminders && !asked && (
        <form
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            void ask();
          }}
        >
          <label htmlFor="email" className="form-label">
            Be reminded by mail
          </label>
          <div className="d-flex gap-2">
            <input id="email" type="email" className="form-control" autoComplete="email" value={email} onChange={({ target }) => setEmail(target.value)} />
            <button className="btn btn-primary text-nowrap">Remind me</button>
          </div>
        </form>
      )}
      <p role="status" className="mt-2 mb-2">
        {said}
      </p>
      <a href={house.calendarUrl} download="show.ics">
        Save it in your calendar
      </a>
    </section>
  );
}
