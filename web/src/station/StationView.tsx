// What holds for all shows: the cities of the audience, the usual times of the milestones, the calendar.
import { StationSettings, type FeedAddress, type StationView as Station, type SupportersCode } from '@lantern/contract';
import { DATE_ORDERS, sayTypedDate, type DateOrder } from '@lantern/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { RemovedList } from '../app/removed';
import { server, wordsOf } from '../app/server';
import { CalendarImport } from '../calendar/CalendarImport';
import { CopyButton } from '../look/CopyButton';
import { Notice } from '../look/Notice';
import { ZoneOptions } from '../look/ZoneOptions';
import { TimesFields } from './TimesFields';
import { RecordingsHere } from './RecordingsHere';
import { StillToDo } from './StillToDo';
import { useStation } from './station-queries';
import { PageTitle } from '../app/PageTitle';

export function StationPage() {
  const station = useStation();
  if (station.error) return <Notice kind="refusal">{wordsOf(station.error)}</Notice>;
  if (!station.data) return null;
  return (
    <>
      <PageTitle of="Station" />
      <h1 className="mb-4">Station</h1>
      <StillToDo />
      <div className="station-columns">
        <Settings station={station.data} />
        <div>
          <PublicPage station={station.data} />
          <Feed station={station.data} />
          <CalendarImport />
          <RecordingsHere />
          <RemovedList />
        </div>
      </div>
    </>
  );
}

function Settings({ station }: { station: Station }) {
  const queries = useQueryClient();
  const [settings, setSettings] = useState<StationSettings>(() => settingsOf(station));
  const { zone, cities, milestoneTimes, dateOrder } = settings;
  const save = useMutation({
    mutationFn: () => server.put<Station>('/api/station', { ...settings, cities: cities.filter(({ name }) => name.trim()) }),
    onSuccess: (after) => queries.setQueryData(['station'], after),
  });
  const setCity = (at: number, change: Partial<(typeof cities)[number]>) =>
    setSettings({ ...settings, cities: cities.map((city, index) => (index === at ? { ...city, ...change } : city)) });
  const changed = JSON.stringify(settings) !== JSON.stringify(settingsOf(station));
  return (
    <Form
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <section aria-labelledby="zones">
        <h2 id="zones">Where you and your audience are</h2>
        <Form.Group controlId="station-zone" className="mb-3">
          <Form.Label>The station’s zone</Form.Label>
          <ZoneSelect zone={zone} onChange={(chosen) => setSettings({ ...settings, zone: chosen })} />
        </Form.Group>
        <Form.Group controlId="date-order" className="mb-3">
          <Form.Label>Dates are written</Form.Label>
          <Form.Select value={dateOrder} onChange={({ target }) => setSettings({ ...settings, dateOrder: target.value as DateOrder })}>
            {DATE_ORDERS.map((order) => (
              <option key={order} value={order}>
                {order}, as {sayTypedDate('2026-12-17', order)}
              </option>
            ))}
          </Form.Select>
          <Form.Text>Fields for a date show it so, and read numbers in that order.</Form.Text>
        </Form.Group>
        <p className="mb-2">
          Cities of your audience <span className="soft small-words">· every sheet shows what a start is on their clocks</span>
        </p>
        {cities.map((city, index) => (
          <div key={index} className="city-row">
            <Form.Control
              aria-label={`City ${index + 1}`}
              value={city.name}
              placeholder="City"
              onChange={({ target }) => setCity(index, { name: target.value })}
            />
            <ZoneSelect zone={city.zone} label={`Zone of ${city.name || 'the city'}`} onChange={(chosen) => setCity(index, { zone: chosen })} />
            <Button variant="quiet" size="sm" onClick={() => setSettings({ ...settings, cities: cities.filter((_, at) => at !== index) })}>
              Take out <span className="visually-hidden">{city.name || `city ${index + 1}`}</span>
            </Button>
          </div>
        ))}
        {cities.length < 8 && (
          <Button variant="quiet" size="sm" onClick={() => setSettings({ ...settings, cities: [...cities, { name: '', zone }] })}>
            Add a city
          </Button>
        )}
      </section>
      <section aria-labelledby="usual-times" className="mt-4">
        <h2 id="usual-times">When things are due</h2>
        <p className="soft small-words">Each show may have other times; these are the usual ones.</p>
        <TimesFields times={milestoneTimes} onChange={(times) => setSettings({ ...settings, milestoneTimes: times })} />
      </section>
      {save.error && <Notice kind="refusal">{wordsOf(save.error)}</Notice>}
      <Button type="submit" className="mt-3" disabled={!changed || save.isPending}>
        {changed ? 'Keep' : 'Kept'}
      </Button>
    </Form>
  );
}

const settingsOf = ({ zone, cities, milestoneTimes, dateOrder }: Station): StationSettings => ({ zone, cities, milestoneTimes, dateOrder });

function ZoneSelect({ zone, onChange, label }: { zone: string; onChange: (zone: string) => void; label?: string }) {
  return (
    <Form.Select aria-label={label} value={zone} onChange={({ target }) => onChange(target.value)}>
      <ZoneOptions chosen={zone} />
    </Form.Select>
  );
}

/** Where the public finds all shows of the station, and the code that lets supporters in. */
function PublicPage({ station }: { station: Station }) {
  const queries = useQueryClient();
  const [code, setCode] = useState<string | null>(null);
  const make = useMutation({
    mutationFn: () => server.post<SupportersCode>('/api/station/supporters-code'),
    onSuccess: (made) => {
      setCode(made.code);
      void queries.invalidateQueries({ queryKey: ['station'] });
    },
  });
  return (
    <section aria-labelledby="public-page" className="mb-4">
      <h2 id="public-page">The public’s page</h2>
      <div className="link-line">
        <div>
          <code>
            <a href={station.pageUrl} target="_blank" rel="noreferrer">
              {station.pageUrl}
            </a>
          </code>
          <span className="soft small-words">
            all shows for everyone; with a feed and a calendar
            {station.subscribers > 0 && `; ${station.subscribers === 1 ? '1 person hears' : `${station.subscribers} people hear`} of new shows by mail`}
          </span>
        </div>
        <CopyButton text={station.pageUrl} what="the address of the station’s page" />
      </div>
      <p className="mb-2">
        {station.supportersCode
          ? 'Supporters have a code for shows that are theirs. A new one shuts out whoever had the old.'
          : 'Shows can be kept to supporters, who are let in by a code. There is none yet.'}
      </p>
      {code && (
        <p>
          <b>{code}</b> <span className="soft small-words">Copy it now: it is not shown again.</span> <CopyButton text={code} what="the supporters’ code" />
        </p>
      )}
      <Button variant="outline-primary" size="sm" disabled={make.isPending} onClick={() => make.mutate()}>
        {station.supportersCode ? 'Make another code' : 'Make a code'}
      </Button>
      {make.error && <Notice kind="refusal">{wordsOf(make.error)}</Notice>}
    </section>
  );
}

/** The calendar that others can subscribe to: its address is a secret, told once. */
function Feed({ station }: { station: Station }) {
  const queries = useQueryClient();
  const [url, setUrl] = useState<string | null>(null);
  const known = () => queries.invalidateQueries({ queryKey: ['station'] });
  const open = useMutation({
    mutationFn: () => server.post<FeedAddress>('/api/station/feed'),
    onSuccess: (made) => {
      setUrl(made.url);
      void known();
    },
  });
  const close = useMutation({
    mutationFn: () => server.delete('/api/station/feed'),
    onSuccess: () => {
      setUrl(null);
      void known();
    },
  });
  const error = open.error ?? close.error;
  return (
    <section aria-labelledby="feed">
      <h2 id="feed">Calendar</h2>
      <p className="mb-2">
        <a href="/api/calendar.ics" download="almanac.ics">
          Save the almanac as a calendar file
        </a>
      </p>
      <p className="mb-2">
        {station.feedOpen
          ? 'Calendar programs can subscribe to the almanac. Whoever has the address can read your plans.'
          : 'Nobody can subscribe to the almanac. An address for calendar programs can be made; whoever has it can read your plans.'}
      </p>
      {url && (
        <div className="link-line">
          <div>
            <b>Copy it now:</b> <span className="soft small-words">it is not shown again</span>
            <code>{url}</code>
          </div>
          <CopyButton text={url} what="the calendar’s address" />
        </div>
      )}
      <span className="d-flex flex-wrap gap-3">
        <Button variant="outline-primary" size="sm" disabled={open.isPending} onClick={() => open.mutate()}>
          {station.feedOpen ? 'Make another address' : 'Make an address'}
        </Button>
        {station.feedOpen && (
          <Button variant="quiet" size="sm" disabled={close.isPending} onClick={() => close.mutate()}>
            Close it: the address leads nowhere then
          </Button>
        )}
      </span>
      {error && <Notice kind="refusal">{wordsOf(error)}</Notice>}
    </section>
  );
}
