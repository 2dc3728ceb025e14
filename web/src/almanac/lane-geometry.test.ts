import type { ChannelView, PlanView, ShowSummary } from '@lantern/contract';
import { DAY_MS, defaultsFor, HOUR_MS, instant, MINUTE_MS, rulesFor, wallTimeOf, type NetworkId, dueSteps } from '@lantern/core';
import { csvOf } from './csv';
import { dayStart, daysOn, gridFor, hitAt, lanesBetween, layOut, meantStart, objectionsTo, ribbonTop, ticksOf, type Scale } from './lane-geometry';

const NOW = instant(Date.UTC(2026, 10, 24, 18));
const ZONE = 'Europe/Dublin';

function channel(id: string, network: NetworkId): ChannelView {
  const rules = rulesFor(network, network === 'reelmoor' ? 'library channel' : 'page');
  const unknown = { pictureUrl: null, access: 'good' as const, notices: [], limits: null, conditions: [], conditionsAt: null, watchUrl: null, lines: [] };
  return { id, network, kind: rules.kind, name: `Club ${id}`, rules, defaults: defaultsFor(rules), ...unknown };
}
const channels = [channel('a', 'reelmoor'), channel('b', 'townfold')];

function show(id: string, startsAt: number, on: string[], change: Partial<ShowSummary> = {}): ShowSummary {
  return {
    id,
    title: `Show ${id}`,
    state: 'draft',
    startsAt,
    zone: ZONE,
    lengthMs: HOUR_MS,
    airings: on.map((channelId) => ({ channelId, network: 'reelmoor', channelName: `Club ${channelId}`, placing: 'none', lineId: null, drifted: false })),
    version: 1,
    seriesId: null,
    people: [],
    room: '',
    hasPicture: true,
    pictureUrl: null,
    onAirSince: null,
    endedAt: null,
    milestoneTimes: {},
    ticked: [],
    toLook: [],
    announcements: [],
    refusedPosts: [],
    said: [],
    placedAt: null,
    madeAt: 0,
    ...change,
  };
}
/** An hour is twenty pixels. */
const PX = 20 / HOUR_MS;
const scale: Scale = Object.assign((at: number) => (at - NOW) * PX, { invert: (x: number) => NOW + x / PX });

describe('the lanes', () => {
  const shows = [show('1', NOW + HOUR_MS, ['a', 'b']), show('2', NOW + 1.5 * HOUR_MS, ['a']), show('3', NOW + 5 * HOUR_MS, ['a'], { lengthMs: 4 * HOUR_MS })];
  const layout = layOut(shows, channels);
  const middle = (ribbon: { lane: number; row: number }) => ribbonTop(layout.lanes[ribbon.lane]!, ribbon.row) + 10;

  test('grow by the shows that meet in them, and a show hangs together over its lanes', () => {
    expect(layout.lanes[0]!.height).toBeGreaterThan(layout.lanes[1]!.height);
    expect(
      layout.ofShow
        .get('1')!
        .map(({ lane }) => lane)
        .sort(),
    ).toEqual([0, 1]);
  });

  test('a point finds the show that is drawn there, and its end where that can be taken hold of', () => {
    for (const ribbon of layout.ribbons) {
      const y = middle(ribbon);
      expect(hitAt(layout, scale, scale(ribbon.show.startsAt) + 3, y)).toEqual({ show: ribbon.show, part: 'whole' });
    }
    const long = layout.ofShow.get('3')![0]!;
    expect(hitAt(layout, scale, scale(long.show.startsAt + long.show.lengthMs) - 2, middle(long))).toMatchObject({ part: 'end' });
    expect(hitAt(layout, scale, scale(NOW + 3.5 * HOUR_MS), middle(long))).toBeNull();
    expect(hitAt(layout, scale, 5, 5)).toBeNull();
  });

  test('what is swept takes in the lanes between, whichever way one sweeps', () => {
    const [top, bottom] = [layout.lanes[0]!.top + 5, layout.lanes[1]!.top + 5];
    expect(lanesBetween(layout, bottom, top).map((lane) => lane.channel.id)).toEqual(['a', 'b']);
    expect(lanesBetween(layout, top, top).map((lane) => lane.channel.id)).toEqual(['a']);
  });
});

describe('the axis', () => {
  test.each([
    ['a day', DAY_MS, 40],
    ['a week', 7 * DAY_MS, 40],
    ['a month', 31 * DAY_MS, 40],
    ['a quarter', 92 * DAY_MS, 40],
    ['a year', 366 * DAY_MS, 40],
  ])('over %s has marks that stand on the clock of the zone and leave each other room', (_name, span, room) => {
    const width = 930;
    const from = dayStart(Date.UTC(2027, 2, 20), ZONE);
    const ticks = ticksOf(from, from + span, width / span, ZONE);
    expect(ticks.length).toBeGreaterThan(3);
    for (const { at } of ticks) expect(wallTimeOf(instant(at), ZONE).time).toMatch(/:(00|15|30|45)$/);
    for (const kind of [true, false]) {
      const same = ticks.filter(({ strong }) => strong === kind).map(({ at }) => ((at - from) * width) / span);
      // The hour that is missing on the day of a clock change brings two marks nearer.
      same.slice(1).forEach((x, index) => expect(x - same[index]!).toBeGreaterThanOrEqual(room - 10));
    }
  });

  test('a day begins at midnight on its own clock, on the days of clock changes too', () => {
    for (const day of ['2027-03-28', '2027-10-31', '2026-12-01']) {
      const start = dayStart(Date.parse(`${day}T12:00:00Z`), ZONE);
      expect(wallTimeOf(instant(start), ZONE)).toEqual({ date: day, time: '00:00' });
    }
  });
});

describe('moving', () => {
  const friday = Date.parse('2027-03-26T20:30:00Z');
  test('by days keeps the hour over a clock change, and near its own hour a drag is taken for that', () => {
    expect(wallTimeOf(daysOn(friday, ZONE, 2), ZONE)).toEqual({ date: '2027-03-28', time: '20:30' });
    const one = show('x', friday, []);
    expect(meantStart(one, friday + 2 * DAY_MS, HOUR_MS, 5 / HOUR_MS)).toBe(daysOn(friday, ZONE, 2));
    expect(meantStart(one, friday + 6 * HOUR_MS + 7 * MINUTE_MS, HOUR_MS, 5 / HOUR_MS) % HOUR_MS).toBe(0);
  });

  test('goes by the widest grid of the channels, and more coarsely the smaller the scale', () => {
    expect(gridFor([channel('g', 'guildhand')], 1)).toBe(15 * MINUTE_MS);
    expect(gridFor(channels, 0.5 / HOUR_MS)).toBe(HOUR_MS);
  });

  test('is told what channels, lines, people and rooms have against it, refusals first', () => {
    const mine = show('1', NOW + 2 * DAY_MS, ['a', 'b'], { people: [{ name: 'Maren Tolliver', role: 'host', zone: null }] });
    const plan: PlanView = {
      uses: [
        { airingId: 'x', showId: '1', channelId: 'a', lineId: 'l', startsAt: instant(mine.startsAt), lengthMs: HOUR_MS, onAir: false, stands: false },
        { airingId: 'y', showId: '2', channelId: 'a', lineId: 'l', startsAt: instant(NOW + 3 * DAY_MS), lengthMs: HOUR_MS, onAir: false, stands: true },
      ],
      lines: [{ id: 'l', channelId: 'a', singleUse: false, name: 'Dome' }],
      channels: [{ id: 'a', name: 'Club a', severalAtOnce: true, startGridMs: 5 * MINUTE_MS }],
      shows: [{ id: '2', title: 'New Moon Night', startsAt: NOW + 3 * DAY_MS, lengthMs: HOUR_MS, people: ['Maren Tolliver'], room: '' }],
    };
    expect(objectionsTo(mine, instant(mine.startsAt), HOUR_MS, channels, plan, NOW)).toEqual([]);
    const at = (startsAt: number, lengthMs = HOUR_MS) =>
      objectionsTo(mine, instant(startsAt), lengthMs, channels, plan, NOW).map(({ severity, words }) => `${severity}: ${words}`);
    expect(at(NOW + 3 * DAY_MS)).toEqual([
      expect.stringMatching(/^objection: New Moon Night and Show 1 meet on the line Dome/),
      'caution: Maren Tolliver is also in New Moon Night at that time.',
    ]);
    expect(at(NOW + 11 * DAY_MS)).toEqual([expect.stringContaining('Townfold takes shows up to 10 days ahead')]);
    expect(at(NOW + 5 * DAY_MS, 7 * HOUR_MS)).toEqual([expect.stringContaining('objection: Townfold ends every show after 6 h')]);
  });
});

describe('what is due', () => {
  const times = { artwork: DAY_MS, announce: null, guests: null, 'tech check': null, 'holding card': null, 'replay down': null };
  test('comes over all shows, the most urgent first, with the field on which it is done', () => {
    const shows = [
      show('later', NOW + 5 * DAY_MS, ['a'], { hasPicture: false }),
      show('late', NOW + HOUR_MS, ['a'], { hasPicture: false, announcements: [{ id: 'm', place: 'Members’ mail', text: '', time: 'start', channelId: null }] }),
      show('far', NOW + 60 * DAY_MS, ['a'], { hasPicture: false }),
      show('gone', NOW - HOUR_MS, ['a'], { hasPicture: false }),
    ];
    const due = dueSteps(shows, channels, times, NOW);
    expect(due.map(({ show: { id }, words, late, to }) => [id, words, late, to])).toEqual([
      ['late', 'Artwork', true, '/shows/late#picture'],
      ['late', 'Place', false, '/shows/late#place'],
      ['late', 'Say it: Members’ mail', false, '/shows/late#announcements'],
      ['later', 'Artwork', false, '/shows/later#picture'],
      ['later', 'Place', false, '/shows/later#place'],
    ]);
  });
});

test('the table carries every show, any text in it, and nothing that a spreadsheet would run', () => {
  const table = csvOf([show('1', Date.parse('2026-12-03T20:30:00Z'), ['a'], { title: '=SUM(A1), "loud"\nand so on', room: 'Dome' })], { none: 'not placed' });
  expect(table.split('\r\n')[1]).toBe(
    `"'=SUM(A1), ""loud""\nand so on",2026-12-03,20:30,Europe/Dublin,2026-12-03T20:30:00.000Z,60,draft,Club a (not placed),,Dome,no`,
  );
});
