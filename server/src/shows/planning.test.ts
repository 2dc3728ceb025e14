// Two people at one sheet, series, starting points and the calendar, over the whole interface with a real database.
import type { JobView, PlaceResult, SaveResult, SeriesResult, ShowChange, ShowSummary, ShowView } from '@lantern/contract';
import { DAY_MS, instant, MINUTE_MS, wallTimeOf } from '@lantern/core';
import sharp from 'sharp';
import type request from 'supertest';
import { SeriesService } from '../series/series.service';
import { OWNER, TestStation } from '../test/station';
import { Show } from './show.entities';

let station: TestStation;
let idris = '';
let hall = '';
let annex = '';
const ZONE = 'Europe/Dublin';
const FIRST = '2027-03-04'; // A Thursday, three weeks before Dublin's clocks go forward.

beforeAll(async () => {
  station = await TestStation.open();
  await travel('2027-02-20T12:00:00Z');
  idris = await station.person('producer');
  [hall, annex] = (await Promise.all(
    ['Hall', 'Annex'].map(
      async (name) =>
        (
          await as(http().post('/api/channels/typed-in'))
            .send({ name, address: 'rtmp://localhost/x', key: `key-of-${name}` })
            .expect(201)
        ).body.id as string,
    ),
  )) as [string, string];
});
afterAll(() => station.close());
beforeEach(async () => {
  station.forgetTries();
  await travel('2027-02-20T12:00:00Z');
});

/** Sessions end in the meantime. */
async function travel(to: string): Promise<void> {
  station.travelTo(Date.parse(to));
  station.cookie = await station.signIn(OWNER.email, OWNER.password);
}

const http = () => station.http();
const as = (test: request.Test, who = station.cookie) => station.as(test, who);
async function drafted(change = {}): Promise<ShowView> {
  return (
    await as(http().post('/api/shows'))
      .send(station.draft([hall], { date: FIRST, ...change }))
      .expect(201)
  ).body as ShowView;
}
const save = (show: { id: string }, body: ShowChange, who = station.cookie) => as(http().patch(`/api/shows/${show.id}`), who).send(body);
const read = async (id: string) => (await as(http().get(`/api/shows/${id}`)).expect(200)).body as ShowView;
const list = async () => (await as(http().get('/api/shows')).expect(200)).body as ShowSummary[];
const weekly = {
  pattern: { every: 'week', interval: 1, on: ['TH'] },
  from: FIRST,
  ends: { kind: 'count', count: 6 },
  also: [],
  dropped: [],
  placesByItself: false,
};
async function series(change = {}, rule = {}): Promise<{ first: ShowView; dates: ShowSummary[]; all: () => Promise<ShowSummary[]> }> {
  const first = await drafted(change);
  await as(http().post(`/api/shows/${first.id}/series`))
    .send({ ...weekly, ...rule })
    .expect(201);
  const seriesId = (await read(first.id)).series!.id;
  const all = async () => (await list()).filter((show) => show.seriesId === seriesId);
  return { first, dates: await all(), all };
}
const wall = (show: { startsAt: number }) => wallTimeOf(instant(show.startsAt), ZONE);

describe('two people at one sheet', () => {
  test('keep what each of them typed in different fields', async () => {
    const show = await drafted();
    await save(show, { base: show.version, changes: { title: 'Dusk Report, extended' } }).expect(200);
    const second = (await save(show, { base: show.version, changes: { description: 'The sky.', lengthMin: 55 } }, idris).expect(200)).body as SaveResult;
    expect(second.conflicts).toEqual([]);
    expect(second.show).toMatchObject({ title: 'Dusk Report, extended', description: 'The sky.', lengthMs: 55 * 60_000, changedBy: 'Bea Lanthorn' });
  });

  test('who type the same field in the same moment: one is kept, the other is told', async () => {
    for (let round = 0; round < 5; round++) {
      const show = await drafted();
      const titles = ['Hers', 'Mine'];
      const replies = await Promise.all(
        [idris, undefined].map((who, at) => save(show, { base: show.version, changes: { title: titles[at]! } }, who).expect(200)),
      );
      const told = replies.map(({ body }) => (body as SaveResult).conflicts.length);
      expect([...told].sort()).toEqual([0, 1]);
      expect((await read(show.id)).title).toBe(titles[told.indexOf(0)]);
    }
  });

  test('are told when both changed the same field, and nothing is overwritten silently', async () => {
    const show = await drafted();
    await save(show, { base: show.version, changes: { title: 'Hers' } }, idris).expect(200);
    const mine = (await save(show, { base: show.version, changes: { title: 'Mine', room: 'Dome' } }).expect(200)).body as SaveResult;
    expect(mine.conflicts).toEqual([{ field: 'title', by: 'Bea Lanthorn' }]);
    expect(mine.show).toMatchObject({ title: 'Hers', room: 'Dome' });
    // Having seen it, one may insist.
    expect((await save(show, { base: mine.show.version, changes: { title: 'Mine' } }).expect(200)).body).toMatchObject({
      conflicts: [],
      show: { title: 'Mine' },
    });
  });

  test('a new date is not joined with somebody else’s new time, and variants of two channels are two fields', async () => {
    const show = await drafted({ channelIds: [hall, annex] });
    await save(show, { base: show.version, changes: { time: '21:00' } }, idris).expect(200);
    expect(((await save(show, { base: show.version, changes: { date: '2027-03-05' } }).expect(200)).body as SaveResult).conflicts).toHaveLength(1);
    const { version } = await read(show.id);
    const variant = (channelId: string, title: string) => ({ channelId, title, description: null, choices: {} });
    await save(show, { base: version, changes: { variants: [variant(hall, 'In the hall')] } }, idris).expect(200);
    const both = (await save(show, { base: version, changes: { variants: [variant(annex, 'In the annex')] } }).expect(200)).body as SaveResult;
    expect(both.conflicts).toEqual([]);
    expect(both.show.airings.map(({ title }) => title).sort()).toEqual(['In the annex', 'In the hall']);
  });

  test('what cannot be right is refused at its field and nothing else is lost', async () => {
    const show = await drafted();
    const reply = await save(show, { base: show.version, changes: { lengthMin: 0, title: 'Lost?' } }).expect(400);
    expect(Object.keys(reply.body.fields)).toEqual(['lengthMin']);
    expect(await read(show.id)).toMatchObject({ title: 'Dusk Report', version: show.version });
    await save(show, { base: show.version, changes: { title: '' } }).expect(200); // while it is being typed anew
  });

  test('a time that clocks show twice is kept once it was said which', async () => {
    const show = await drafted();
    const night = { date: '2027-10-31', time: '01:30' };
    expect((await save(show, { base: show.version, changes: night }).expect(400)).body.fields.time).toContain('which of the two');
    for (const fold of ['earlier', 'later'] as const) {
      const { version } = await read(show.id);
      await save(show, { base: version, changes: { ...night, fold } }).expect(200);
      expect(await read(show.id)).toMatchObject({ fold });
    }
    expect((await read(show.id)).startsAt).toBe(Date.parse('2027-10-31T01:30:00Z'));
  });

  test('a moderator looks but does not change', async () => {
    const bea = await station.person('moderator', 'third');
    await save(await drafted(), { base: 1, changes: { title: 'No' } }, bea).expect(403);
  });
});

describe('a series', () => {
  test('makes its dates at the same wall time on both sides of a clock change, counting episodes', async () => {
    const { dates } = await series({ episode: 41, room: 'Dome' });
    expect(dates.map(wall)).toEqual(['03-04', '03-11', '03-18', '03-25', '04-01', '04-08'].map((day) => ({ date: `2027-${day}`, time: '20:30' })));
    expect(await Promise.all(dates.map(async ({ id }) => (await read(id)).episode))).toEqual([41, 42, 43, 44, 45, 46]);
    expect(new Set(dates.map(({ room }) => room))).toEqual(new Set(['Dome']));
  });

  test('one date may differ; the difference can be brought to later ones, and dates that differ themselves keep theirs', async () => {
    const { dates, all } = await series();
    await save(dates[4]!, { base: 1, changes: { title: 'Easter special' } }).expect(200);
    await save(dates[2]!, { base: 1, changes: { title: 'Dusk Report at the lake', time: '21:00' } }).expect(200);
    expect((await read(dates[2]!.id)).series!.differs.sort()).toEqual(['time', 'title']);
    const result = (
      await as(http().post(`/api/shows/${dates[2]!.id}/series/spread`))
        .send({ scope: 'later', fields: ['title', 'time'] })
        .expect(200)
    ).body as SeriesResult;
    expect(result.changed).toBe(3);
    expect((await all()).map((show) => [show.title, wall(show).time])).toEqual([
      ['Dusk Report', '20:30'],
      ['Dusk Report', '20:30'],
      ['Dusk Report at the lake', '21:00'],
      ['Dusk Report at the lake', '21:00'],
      ['Easter special', '21:00'],
      ['Dusk Report at the lake', '21:00'],
    ]);
  });

  test('all dates move together by days when one was moved and that is spread', async () => {
    const { dates, all } = await series();
    await as(http().post(`/api/shows/${dates[1]!.id}/move`))
      .send({ startsAt: dates[1]!.startsAt + DAY_MS, lengthMs: dates[1]!.lengthMs, base: 1 })
      .expect(200);
    expect((await all())[2]!.startsAt).toBe(dates[2]!.startsAt);
    await as(http().post(`/api/shows/${dates[1]!.id}/series/spread`))
      .send({ scope: 'all', fields: ['date', 'time'] })
      .expect(200);
    expect((await all()).map(wall).map(({ date }) => date)).toEqual(['03-05', '03-12', '03-19', '03-26', '04-02', '04-09'].map((day) => `2027-${day}`));
  });

  test('a dropped date goes and does not come back; another rule from one date on leaves the earlier ones', async () => {
    const { dates, all } = await series();
    expect((await as(http().post(`/api/shows/${dates[1]!.id}/series/drop`)).expect(200)).body).toMatchObject({
      refused: [],
      removed: { title: 'Dusk Report, Thursday 11 March' },
    });
    await station.app.get(SeriesService).tick();
    expect((await all()).map(wall).map(({ date }) => date)).not.toContain('2027-03-11');
    const rule = { ...weekly, pattern: { every: 'week', interval: 2, on: ['TH'] }, ends: { kind: 'count', count: 5 }, scope: 'later' };
    const result = (
      await as(http().post(`/api/shows/${dates[3]!.id}/series/rule`))
        .send(rule)
        .expect(200)
    ).body as SeriesResult;
    expect(result).toMatchObject({ removed: 1, made: 0, left: [] });
    expect((await all()).map(wall).map(({ date }) => date)).toEqual(['2027-03-04', '2027-03-18']);
    const later = (await list())
      .filter(({ seriesId }) => seriesId !== null)
      .map(wall)
      .map(({ date }) => date);
    expect(later).toEqual(expect.arrayContaining(['2027-03-25', '2027-04-08']));
  });

  test('"from this date on" keeps the dates of a counted series that has dropped ones, before and after', async () => {
    const { dates, all } = await series({ episode: 5 }, { ends: { kind: 'count', count: 10 } });
    for (const at of [1, 6]) await as(http().post(`/api/shows/${dates[at]!.id}/series/drop`)).expect(200);
    const before = await read(dates[3]!.id);
    const rule = { ...before.series!.repeat, placesByItself: false, scope: 'later' };
    const { body } = await as(http().post(`/api/shows/${dates[3]!.id}/series/rule`))
      .send(rule)
      .expect(200);
    expect(body).toMatchObject({ removed: 0, made: 0, left: [] });
    const both = (await list()).filter(({ id }) => dates.some((date) => date.id === id));
    expect(both.map(({ id }) => id).sort()).toEqual(
      dates
        .filter((_, at) => at !== 1 && at !== 6)
        .map(({ id }) => id)
        .sort(),
    );
    expect(await all()).toHaveLength(2);
    // A count that leaves nothing from there on says how many lie before.
    const { body: refused } = await as(http().post(`/api/shows/${dates[5]!.id}/series/rule`))
      .send({ ...rule, ends: { kind: 'count', count: 2 } })
      .expect(422);
    expect(refused.words).toContain('more than 2 times in all');
  });

  test('a rule that no month meets is refused before anything is kept, and the series goes on as it was', async () => {
    const { dates, all } = await series({}, { ends: { kind: 'never' } });
    const impossible = { ...weekly, from: '2027-02-28', pattern: { every: 'month', interval: 12, onDate: 31 }, ends: { kind: 'never' }, scope: 'all' };
    const { body } = await as(http().post(`/api/shows/${dates[0]!.id}/series/rule`))
      .send(impossible)
      .expect(400);
    expect(body.words).toContain('No February has a 31st');
    await station.app.get(SeriesService).tick();
    expect((await all()).length).toBe(dates.length);
  });

  test('a time that a clock change skips on a later date is spread to all of them at once, and that date is named', async () => {
    const { dates, all } = await series({ date: '2027-03-21', time: '20:30' }, { from: '2027-03-21', pattern: { every: 'week', interval: 1, on: ['SU'] } });
    await save(dates[0]!, { base: 1, changes: { time: '01:30' } }).expect(200);
    const { body } = await as(http().post(`/api/shows/${dates[0]!.id}/series/spread`))
      .send({ scope: 'later', fields: ['time'] })
      .expect(200);
    expect(body).toMatchObject({ changed: 5, clocks: [{ id: dates[1]!.id }] });
    const after = await all();
    expect(after.map(wall).map(({ time }) => time)).toEqual(['01:30', '02:30', '01:30', '01:30', '01:30', '01:30']);
    expect(after.map(({ toLook }) => toLook)).toEqual([[], ['time'], [], [], [], []]);
  });

  test('episode numbers stay unique when a date is dropped, and one is added', async () => {
    const { dates, all } = await series({ episode: 41 });
    await as(http().post(`/api/shows/${dates[2]!.id}/series/drop`)).expect(200);
    const { series: own } = await read(dates[0]!.id);
    await as(http().post(`/api/shows/${dates[0]!.id}/series/rule`))
      .send({ ...own!.repeat, also: ['2027-03-06'], ends: { kind: 'count', count: 8 }, placesByItself: false, scope: 'all' })
      .expect(200);
    const episodes = await Promise.all((await all()).map(async ({ id }) => (await read(id)).episode));
    expect(episodes).toHaveLength(8);
    expect(new Set(episodes).size).toBe(8);
  });

  test('a dropped date comes back, as it was, when the drop is taken back', async () => {
    const { dates, all } = await series();
    await save(dates[2]!, { base: 1, changes: { title: 'With a guest' } }).expect(200);
    const { body } = await as(http().post(`/api/shows/${dates[2]!.id}/series/drop`)).expect(200);
    expect(await all()).toHaveLength(5);
    await as(http().post(`/api/removed/${body.removed.id}/restore`)).expect(200);
    await station.app.get(SeriesService).tick();
    expect((await all()).map(({ title }) => title)[2]).toBe('With a guest');
    expect((await read(dates[2]!.id)).series!.repeat.dropped).toEqual([]);
    await as(http().post(`/api/removed/${body.removed.id}/restore`)).expect(404); // once is enough
  });

  test('a date that stands on a channel is left as a single show when its rule goes', async () => {
    const { dates } = await series();
    await as(http().post(`/api/shows/${dates[5]!.id}/place`)).expect(200);
    const rule = { ...weekly, ends: { kind: 'count', count: 2 }, scope: 'all' };
    const result = (
      await as(http().post(`/api/shows/${dates[0]!.id}/series/rule`))
        .send(rule)
        .expect(200)
    ).body as SeriesResult;
    expect(result).toMatchObject({ removed: 3, left: [{ id: dates[5]!.id }] });
    expect(await read(dates[5]!.id)).toMatchObject({ state: 'placed', series: null });
    await as(http().post(`/api/shows/${dates[5]!.id}/withdraw`)).expect(200);
  });

  test('places its dates by itself where that was asked for, and a date on which clocks are changed waits for a look', async () => {
    const { all } = await series(
      { channelIds: [annex], date: '2027-03-27', time: '01:30', title: 'Night watch' },
      { pattern: { every: 'day', interval: 1 }, from: '2027-03-27', ends: { kind: 'count', count: 3 }, placesByItself: true },
    );
    await station.app.get(SeriesService).tick();
    const dates = await all();
    expect(dates.map(({ state, toLook }) => [state, toLook])).toEqual([
      ['placed', []],
      ['draft', ['time']],
      ['placed', []],
    ]);
    const refused = await as(http().post(`/api/shows/${dates[1]!.id}/place`)).expect(422);
    expect(refused.body.words).toContain('Clocks are changed over this start');
    await save(dates[1]!, { base: 1, changes: { time: '02:45', toLook: [] } }).expect(200);
    expect(((await as(http().post(`/api/shows/${dates[1]!.id}/place`)).expect(200)).body as PlaceResult).show.state).toBe('placed');
  });

  test('its picture stays the series’ own when the date that it came from is dropped, and a picture of one date can be spread', async () => {
    const picture = (background: string) =>
      sharp({ create: { width: 1600, height: 900, channels: 3, background } })
        .png()
        .toBuffer();
    const first = await drafted();
    const upload = async (id: string, background: string) =>
      as(http().put(`/api/shows/${id}/thumbnail`))
        .set('content-type', 'application/octet-stream')
        .send(await picture(background))
        .expect(200);
    await upload(first.id, '#123456');
    await as(http().post(`/api/shows/${first.id}/series`))
      .send({ ...weekly, ends: { kind: 'never' } })
      .expect(201);
    const seriesId = (await read(first.id)).series!.id;
    const dates = async () => (await list()).filter((show) => show.seriesId === seriesId);
    expect((await dates()).every(({ hasPicture }) => hasPicture)).toBe(true);
    await as(http().post(`/api/shows/${first.id}/series/drop`)).expect(200);
    await travel('2027-03-20T12:00:00Z');
    await station.app.get(SeriesService).tick();
    const later = await dates();
    expect(later.every(({ hasPicture }) => hasPicture)).toBe(true);
    const [, second, third] = later as [ShowSummary, ShowSummary, ShowSummary];
    await upload(second.id, '#654321');
    const before = (await read(third.id)).thumbnail!.url;
    expect((await read(second.id)).series!.differs).toEqual(['thumbnail']);
    await as(http().post(`/api/shows/${second.id}/series/spread`))
      .send({ scope: 'later', fields: ['thumbnail'] })
      .expect(200);
    expect((await read(third.id)).thumbnail!.url).not.toBe(before);
    expect((await read(second.id)).series!.differs).toEqual([]);
  });

  test('a channel taken off one date and all others stays where a date stands on it', async () => {
    const { dates } = await series({ channelIds: [hall, annex], date: '2027-05-06', time: '07:00' }, { from: '2027-05-06' });
    await as(http().post(`/api/shows/${dates[2]!.id}/place`)).expect(200);
    await save(dates[0]!, { base: 1, changes: { channelIds: [hall] } }).expect(200);
    await as(http().post(`/api/shows/${dates[0]!.id}/series/spread`))
      .send({ scope: 'all', fields: ['channelIds'] })
      .expect(200);
    expect((await read(dates[1]!.id)).channelIds).toEqual([hall]);
    const standing = await read(dates[2]!.id);
    expect(standing.channelIds.sort()).toEqual([hall, annex].sort());
    expect(standing.airings.every(({ placing }) => placing === 'placed')).toBe(true);
  });

  test('that cannot be made holds up no other, and is told under Station until it can', async () => {
    const broken = await series({ title: 'Out of order' }, { ends: { kind: 'never' } });
    const whole = await series({ title: 'In order' }, { ends: { kind: 'never' } });
    const idOf = async ({ first }: { first: ShowView }) => (await read(first.id)).series!.id;
    const [brokenId, wholeId] = [await idOf(broken), await idOf(whole)];
    const [{ repeat }] = (await station.database.query('SELECT repeat FROM series WHERE id = ?', [brokenId])) as [{ repeat: string }];
    await station.database.query(`UPDATE series SET repeat = 'null' WHERE id = ?`, [brokenId]);
    const made = (seriesId: string) => station.database.getRepository(Show).countBy({ seriesId });
    const before = await made(wholeId);
    await travel('2027-04-20T12:00:00Z');
    await station.app.get(SeriesService).tick();
    expect(await made(wholeId)).toBe(before + 8);
    const jobs = (await as(http().get('/api/jobs')).expect(200)).body as JobView[];
    expect(jobs.map(({ words }) => words)).toEqual(['Make the coming dates of “Out of order”']);
    await station.database.query('UPDATE series SET repeat = ? WHERE id = ?', [repeat, brokenId]);
    await as(http().post(`/api/jobs/${jobs[0]!.id}/now`)).expect(204);
    await station.app.get(SeriesService).tick();
    expect([await made(brokenId), (await as(http().get('/api/jobs'))).body]).toEqual([before + 8, []]);
  });

  test('comes as far as the horizon, and further as time goes on', async () => {
    const { first } = await series({ title: 'For ever' }, { ends: { kind: 'never' } });
    const { id: seriesId } = (await read(first.id)).series!;
    const made = () => station.database.getRepository(Show).countBy({ seriesId });
    const before = await made();
    await travel('2027-04-20T12:00:00Z');
    await station.app.get(SeriesService).tick();
    expect(await made()).toBe(before + 8);
  });

  test.each([
    ['no day of the week', { pattern: { every: 'week', interval: 1, on: [] } }, 'at least one day'],
    ['a count of nought', { ends: { kind: 'count', count: 0 } }, 'from once to'],
    ['ten thousand dates', { ends: { kind: 'count', count: 10_000 } }, '1000'],
    ['an end before its beginning', { ends: { kind: 'until', date: '2020-01-01' } }, 'before the first'],
    ['a pattern that is none', { pattern: 'weekly' }, 'Say how the show repeats'],
    ['a rule without its own first date', { pattern: { every: 'week', interval: 1, on: ['MO'] } }, 'leaves out the date of this show'],
  ])('with %s is refused in words and leaves the show single', async (_name, rule, words) => {
    const show = await drafted();
    const reply = await as(http().post(`/api/shows/${show.id}/series`)).send({ ...weekly, ...rule });
    expect(reply.status).toBeGreaterThanOrEqual(400);
    expect(reply.body.words).toContain(words);
    expect((await read(show.id)).series).toBeNull();
  });
});

describe('what cannot be', () => {
  test.each([
    ['a start beyond all calendars', 'post', (id: string) => `/api/shows/${id}/move`, { startsAt: 1e18, lengthMs: 60_000, base: 1 }, 'start'],
    ['variants that are no list', 'patch', (id: string) => `/api/shows/${id}`, { base: 1, changes: { variants: 'x' } }, 'cannot be read'],
    ['a variant of nothing', 'patch', (id: string) => `/api/shows/${id}`, { base: 1, changes: { variants: [null] } }, 'cannot be read'],
    ['a title that is none', 'patch', (id: string) => `/api/shows/${id}`, { base: 1, changes: { title: null } }, 'has to be text'],
    ['times of milestones that are none', 'patch', (id: string) => `/api/shows/${id}`, { base: 1, changes: { milestoneTimes: null } }, 'missing'],
    ['the year 0', 'patch', (id: string) => `/api/shows/${id}`, { base: 1, changes: { date: '0000-01-01' } }, 'between 2000 and 2199'],
    ['the year 1200', 'patch', (id: string) => `/api/shows/${id}`, { base: 1, changes: { date: '1200-05-05' } }, 'between 2000 and 2199'],
  ] as const)('%s is refused for what it is', async (_name, method, path, body, words) => {
    const show = await drafted();
    const reply = await as(http()[method](path(show.id))).send(body);
    expect(reply.status).toBe(400);
    expect(JSON.stringify(reply.body)).toContain(words);
    expect(await read(show.id)).toMatchObject({ version: show.version, startsAt: show.startsAt });
  });
});

describe('removing', () => {
  test('takes a draft away and brings it back whole; what stands somewhere is withdrawn first, and is a draft again', async () => {
    const show = await drafted({ title: 'Second thoughts', channelIds: [hall], date: '2027-07-01' });
    await as(http().post(`/api/shows/${show.id}/place`)).expect(200);
    expect((await as(http().delete(`/api/shows/${show.id}`)).expect(409)).body.words).toContain('Withdraw it first');
    expect(((await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200)).body as PlaceResult).show).toMatchObject({ state: 'draft' });
    // Whoever knows its page reads there that it does not take place.
    const page = await http().get(`/api/house/${show.houseUrl.split('/').at(-1)}`);
    expect(page.body).toMatchObject({ state: 'withdrawn' });
    expect(((await as(http().post(`/api/shows/${show.id}/place`)).expect(200)).body as PlaceResult).show).toMatchObject({ state: 'placed' });
    await as(http().post(`/api/shows/${show.id}/withdraw`)).expect(200);
    const before = await read(show.id);
    const { body: removed } = await as(http().delete(`/api/shows/${show.id}`)).expect(200);
    await as(http().get(`/api/shows/${show.id}`)).expect(404);
    expect((await as(http().get('/api/removed')).expect(200)).body).toContainEqual(removed);
    const other = await station.person('owner', 'elsewhere');
    await as(http().post(`/api/removed/${removed.id}/restore`), other).expect(404);
    expect((await as(http().post(`/api/removed/${removed.id}/restore`)).expect(200)).body).toEqual({
      showId: show.id,
      title: 'Second thoughts, Thursday 1 July',
    });
    expect(await read(show.id)).toEqual(before);
  });

  test('brings back a draft without a channel that was unlinked meanwhile, and nothing once its day is over', async () => {
    const { id: annex } = (
      await as(http().post('/api/channels/typed-in')).send({ name: 'Annex', address: 'rtmp://localhost/annex', key: 'annex-key' }).expect(201)
    ).body;
    const show = await drafted({ title: 'Two ways', channelIds: [hall, annex], date: '2027-07-02' });
    const { body: removed } = await as(http().delete(`/api/shows/${show.id}`)).expect(200);
    await as(http().post(`/api/channels/${annex}/unlink`)).expect(204);
    await as(http().post(`/api/removed/${removed.id}/restore`)).expect(200);
    expect((await read(show.id)).channelIds).toEqual([hall]);
    const { body: again } = await as(http().delete(`/api/shows/${show.id}`)).expect(200);
    station.travelTo(again.until + MINUTE_MS);
    await as(http().post(`/api/removed/${again.id}/restore`)).expect(404);
    expect((await as(http().get('/api/removed')).expect(200)).body).not.toContainEqual(again);
    station.travelTo(again.until - DAY_MS);
  });
});

describe('starting points', () => {
  test('a show taken up again keeps hour and weekday, counts the episode on, and flags what may be about the old date', async () => {
    const show = await drafted({
      title: 'Dusk Report of 4 March',
      description: 'As always.',
      episode: 7,
      people: [{ name: 'Tomasz Wren', role: 'guest', zone: 'Asia/Kolkata' }],
      ticked: ['announce'],
    });
    await travel('2027-03-27T12:00:00Z');
    const again = (await as(http().post(`/api/shows/${show.id}/again`)).expect(201)).body as ShowView;
    expect(wall(again)).toEqual({ date: '2027-04-01', time: '20:30' });
    expect(again).toMatchObject({ state: 'draft', episode: 8, toLook: ['title', 'people'], ticked: [], channelIds: [hall], series: null });
  });

  test('announcements go along to the next time and to every date, and what was said of one date is not said of others', async () => {
    const announcements = [{ id: 'mail', place: 'Members’ mail', text: 'At {house page}', time: 86_400_000, channelId: null }];
    const { first, dates } = await series({ announcements, said: ['mail'], date: '2027-06-03', title: 'Told about' }, { from: '2027-06-03' });
    expect((await read(first.id)).said).toEqual(['mail']);
    const second = await read(dates[1]!.id);
    expect([second.announcements, second.said]).toEqual([announcements, []]);
    await save(second, { base: second.version, changes: { said: ['mail'] } }).expect(200);
    expect((await read(second.id)).series!.differs).toEqual([]);
    const again = (await as(http().post(`/api/shows/${first.id}/again`)).expect(201)).body as ShowView;
    expect([again.announcements, again.said]).toEqual([announcements, []]);
    for (const time of ['never', 0, -1, 1.5]) {
      await save(second, { base: 99, changes: { announcements: [{ ...announcements[0]!, time: time as never }] } }).expect(400);
    }
  });

  test('a template starts a show tomorrow at its hour, until it is forgotten', async () => {
    const show = await drafted({ title: 'Junior Dome Hour', time: '10:00', lengthMin: 60 });
    await as(http().post(`/api/shows/${show.id}/template`))
      .send({ name: 'For the young' })
      .expect(204);
    const [template] = (await as(http().get('/api/templates')).expect(200)).body;
    expect(template).toMatchObject({ name: 'For the young', title: 'Junior Dome Hour', channelNames: ['Hall'] });
    const made = (await as(http().post('/api/shows/new')).send({ title: '', templateId: template.id }).expect(201)).body as ShowView;
    expect(made).toMatchObject({ title: 'Junior Dome Hour', lengthMs: 3_600_000 });
    expect(wall(made)).toEqual({ date: '2027-02-21', time: '10:00' });
    const { body: removed } = await as(http().delete(`/api/templates/${template.id}`)).expect(200);
    await as(http().post('/api/shows/new')).send({ title: '', templateId: template.id }).expect(404);
    await as(http().post(`/api/removed/${removed.id}/restore`)).expect(200);
    await as(http().post('/api/shows/new')).send({ title: '', templateId: template.id }).expect(201);
  });
});

test('settings of a station hold for its sheets: cities fill placeholders, and a bad zone is refused', async () => {
  const times = { artwork: DAY_MS, announce: null, guests: null, 'tech check': null, 'holding card': null, 'replay down': null };
  const settings = { zone: ZONE, cities: [{ name: 'Santiago', zone: 'America/Santiago' }], milestoneTimes: times, dateOrder: 'month first' };
  await as(http().put('/api/station')).send(settings).expect(200);
  expect((await as(http().get('/api/station'))).body).toMatchObject(settings);
  await as(http().put('/api/station'))
    .send({ ...settings, cities: [{ name: 'Atlantis', zone: 'Ocean/Atlantis' }] })
    .expect(400);
  const show = await drafted({ title: 'Together', description: 'In Santiago: {start in Santiago}', date: '2028-05-04' });
  const refused = await as(http().post(`/api/shows/${(await drafted({ title: 'Late', description: '{start in Kolkata}' })).id}/place`)).expect(422);
  expect(refused.body.words).toContain('Nothing here is called {start in Kolkata}');
  await as(http().post(`/api/shows/${show.id}/place`)).expect(200);
  const house = await http()
    .get(`/api/house/${show.houseUrl.split('/').at(-1)}`)
    .expect(200);
  expect(house.body.description).toMatch(/^In Santiago: Thursday, 4 May 2028, 15:30/);
});
