// How often it was played, while it was on and day by day since, and what led visitors to the house page.
import type { ShowReport } from '@lantern/contract';
import { playsByDay, sayDistance } from '@lantern/core';
import { max, scaleLinear } from 'd3';
import { serverNow } from '../app/clock';

interface Place {
  key: string;
  name: string;
  network: string;
  live: number | null;
  /** Null: its network does not tell; empty: none yet. */
  byDay: number[] | null;
  note: string;
}

const BARS = { width: 150, height: 22, days: 31 };

export function PlayedHere({ report }: { report: ShowReport }) {
  const { airings, house } = report;
  const channels = airings.flatMap(({ airingId, channelName, network, plays }): Place[] => {
    if (!plays || (plays.toldAt === null && !plays.trouble)) return [];
    const last = plays.days.at(-1);
    const since = plays.days.some((day) => day.since !== null) ? playsByDay(plays.days) : null;
    const told = plays.toldAt === null ? '' : `told ${ago(plays.toldAt)}`;
    return [{ key: airingId, name: channelName, network, live: last?.live ?? null, byDay: since, note: [told, plays.trouble].filter(Boolean).join('; ') }];
  });
  const opened = house.opened.before + house.opened.live + house.opened.since;
  const here: Place = { key: 'house', name: 'The house page', network: '', live: house.playsLive, byDay: house.playsByDay, note: 'counted here' };
  const places = [...channels, ...(opened || house.playsLive || house.playsByDay.length ? [here] : [])];
  if (!places.length) return null;
  const highest = max(places, ({ byDay }) => max(byDay ?? [])) ?? 0;
  return (
    <section className="mb-5">
      <h2>Played, then and since</h2>
      <div className="overflow-auto" role="region" aria-label="How often it was played on each place" tabIndex={0}>
        <table className="plain-table" style={{ minWidth: '36rem' }}>
          <thead>
            <tr>
              <th scope="col">Place</th>
              <th scope="col">While it was on</th>
              <th scope="col">Since</th>
              <th scope="col">Day by day since its end</th>
            </tr>
          </thead>
          <tbody>
            {places.map(({ key, name, network, live, byDay, note }) => (
              <tr key={key}>
                <th scope="row">
                  {name}
                  <span className="soft small-words d-block fw-normal">{[network !== name && network, note].filter(Boolean).join(' · ')}</span>
                </th>
                <td>{live ?? 'not told'}</td>
                <td>{byDay ? byDay.reduce((all, count) => all + count, 0) : 'not told'}</td>
                <td>{byDay && byDay.length > 0 && <Days of={name} byDay={byDay} highest={highest} />}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="soft small-words mt-2 mb-0">
        Each network counts a play in its own way, so they are not added. Channels are asked for thirty days; the house page counts each browser in which it
        plays.
      </p>
      {opened > 0 && (
        <>
          <h3 className="h6 mt-4 mb-2">What led to the house page</h3>
          <p className="mb-2">
            It was opened {times(opened)}: {house.opened.before} before, {house.opened.live} while it was on, {house.opened.since} since. Whoever comes twice
            counts twice.
          </p>
          <ul className="plain-list">
            {house.from.map(({ source, count }) => (
              <li key={source}>
                <b>{source || 'Not known'}</b>: {count}
                {!source && <span className="soft"> (a typed address, or a browser that does not say)</span>}
              </li>
            ))}
          </ul>
          <p className="soft small-words mb-0">
            Put “?from=poster” behind the address of the page, with a word of your own, and whoever comes by that link is counted under it.
          </p>
        </>
      )}
    </section>
  );
}

const times = (count: number): string => (count === 1 ? 'once' : `${count} times`);
const ago = (at: number): string => sayDistance(at - serverNow()).replace(/^now$/, 'just now');

function Days({ of, byDay, highest }: { of: string; byDay: readonly number[]; highest: number }) {
  const x = scaleLinear([0, BARS.days], [0, BARS.width]);
  const y = scaleLinear([0, Math.max(1, highest)], [0, BARS.height - 2]);
  const words = byDay.map((count, day) => `${day === 0 ? 'the day of its end' : `day ${day}`}: ${count}`).join(', ');
  return (
    <svg width={BARS.width} height={BARS.height} role="img" aria-label={`${of}, ${words}`}>
      <line x1={0} x2={BARS.width} y1={BARS.height - 0.5} y2={BARS.height - 0.5} stroke="var(--hairline)" />
      {byDay.map((count, day) => (
        <rect key={day} x={x(day)} width={x(1) - 1} y={BARS.height - 1 - y(count)} height={y(count)} fill="var(--bs-link-color)">
          <title>{`${day === 0 ? 'The day of its end' : `Day ${day}`}: ${count}`}</title>
        </rect>
      ))}
    </svg>
  );
}
