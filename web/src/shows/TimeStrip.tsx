// What the start is on the clocks of everybody concerned: a day around it for each place, with its night and
// the change of date.
import type { PersonOnShow } from '@lantern/contract';
import { HOUR_MS, instant, MINUTE_MS, nightsBetween, offsetMsAt, sayTime, wallTimeOf, isNight, type City, type Instant } from '@lantern/core';
import { Moon } from 'lucide-react';

const BEFORE_MS = 8 * HOUR_MS;
const AFTER_MS = 16 * HOUR_MS;
const WHOLE_MS = BEFORE_MS + AFTER_MS;

interface Props {
  startsAt: Instant;
  lengthMin: number;
  zone: string;
  cities: readonly City[];
  people: readonly PersonOnShow[];
}

interface Place {
  zone: string;
  names: string[];
}

/** Everybody's places, one row a zone: the show's first, then the viewer's own, the cities and the guests. */
function placesOf({ zone, cities, people }: Props): Place[] {
  const places: Place[] = [];
  const add = (name: string, of: string) => {
    const known = places.find((place) => place.zone === of);
    if (known) known.names.push(name);
    else places.push({ zone: of, names: [name] });
  };
  add('Show', zone);
  for (const city of cities) add(city.name, city.zone);
  for (const person of people) if (person.zone && person.name) add(person.name, person.zone);
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  if (offsetMsAt(0, here) !== offsetMsAt(0, zone) || !places.some((place) => place.zone === here)) add('You', here);
  return places.map((place) => ({ ...place, names: [...new Set(place.names)] }));
}

export function TimeStrip(props: Props) {
  const { startsAt, lengthMin, zone } = props;
  const from = instant(startsAt - BEFORE_MS);
  const to = instant(startsAt + AFTER_MS);
  const part = (at: number) => `${(Math.min(1, Math.max(0, (at - from) / WHOLE_MS)) * 100).toFixed(3)}%`;
  const showDay = wallTimeOf(startsAt, zone).date;
  return (
    <table className="time-strip">
      <caption className="visually-hidden">The start on the clocks of your cities and guests</caption>
      <tbody>
        {placesOf(props).map((place) => {
          const { date } = wallTimeOf(startsAt, place.zone);
          const midnight = midnightOf(from, place.zone);
          const night = isNight(startsAt, place.zone);
          return (
            <tr key={place.zone}>
              <th scope="row">
                {place.names.join(', ')}
                {!place.names.includes(cityOf(place.zone)) && <span className="soft">{cityOf(place.zone)}</span>}
              </th>
              <td className="when">
                <b>{sayTime(startsAt, place.zone, false)}</b>
                <span className="soft">
                  {new Intl.DateTimeFormat('en-GB', { timeZone: place.zone, weekday: 'short', day: 'numeric', month: 'short' }).format(startsAt)}
                </span>
                {night && (
                  <span className="night-mark">
                    <Moon size={13} aria-hidden="true" /> night
                  </span>
                )}
                {date !== showDay && <span className="other-day">{date > showDay ? 'the next day' : 'the day before'}</span>}
              </td>
              <td className="strip" aria-hidden="true">
                <div>
                  {nightsBetween(place.zone, from, to).map(({ from: dusk, to: dawn }) => (
                    <i key={dusk} className="night" style={{ left: part(dusk), width: `calc(${part(dawn)} - ${part(dusk)})` }} />
                  ))}
                  <i className="midnight" style={{ left: part(midnight) }}>
                    <span>{new Intl.DateTimeFormat('en-GB', { timeZone: place.zone, weekday: 'short' }).format(midnight + HOUR_MS)}</span>
                  </i>
                  <i
                    className="show"
                    style={{ left: part(startsAt), width: `max(3px, calc(${part(startsAt + lengthMin * MINUTE_MS)} - ${part(startsAt)}))` }}
                  />
                </div>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** The place that a zone is called by. */
const cityOf = (zone: string): string => zone.split('/').at(-1)!.replaceAll('_', ' ');

/** The first midnight on the clocks of `zone` after `from`. */
function midnightOf(from: Instant, zone: string): number {
  const { time } = wallTimeOf(from, zone);
  const [hours, minutes] = time.split(':').map(Number) as [number, number];
  return from + ((24 * 60 - hours * 60 - minutes) % (24 * 60)) * MINUTE_MS;
}
