// What pages ask for of many shows: by range, by page and by words, and never all that there ever were.
import type { EarlierShow, KnownWords, ShowSummary, ShowView } from '@lantern/contract';
import { DAY_MS, instant, wallTimeOf } from '@lantern/core';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { TestStation } from '../test/station';
import { Show } from './show.entities';

let station: TestStation;
let hall = '';
const shows: ShowView[] = [];
const as = (method: 'get' | 'post', path: string, who = station.cookie) => station.as(station.http()[method](path), who);
const list = async (query = '') => (await as('get', `/api/shows${query}`).expect(200)).body as ShowSummary[];

/** A show that began `daysAgo`, as if it had been on air then. */
async function past(daysAgo: number, title: string, more: object = {}): Promise<void> {
  const when = { ...wallTimeOf(instant(Date.now() + DAY_MS), 'UTC'), zone: 'UTC' };
  const made = (
    await as('post', '/api/shows')
      .send(station.draft([hall], { title, ...when, ...more }))
      .expect(201)
  ).body as ShowView;
  await station.database.getRepository(Show).update({ id: made.id }, { startsAt: Date.now() - daysAgo * DAY_MS, state: 'over' });
  shows.push(made);
}

beforeAll(async () => {
  station = await TestStation.open();
  hall = (await as('post', '/api/channels/typed-in').send({ name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' }).expect(201)).body.id;
  for (let at = 0; at < 60; at++)
    await past(40 + at, `Long past ${at}`, { room: at < 3 ? 'Old dome' : 'Dome', ...(at === 3 && { description: 'Caves under the fell.' }) });
  await past(5, 'Last week', { people: [{ name: 'Juno Vale', role: 'guest', zone: null }] });
  await past(900, '100% of the sky', { people: [{ name: 'Ossian Reed', role: 'guest', zone: null }] });
});
afterAll(() => station.close());

test('without being asked for more, only what is near is told', async () => {
  expect((await list()).map(({ title }) => title)).toEqual(['Last week']);
});

test('what is past is told page by page, each show once, to the first there ever was', async () => {
  const titles: string[] = [];
  let before = Date.now();
  for (let page = await list(`?before=${before}`); page.length; page = await list(`?before=${before}`)) {
    expect(page.map(({ startsAt }) => startsAt)).toEqual([...page.map(({ startsAt }) => startsAt)].sort((a, b) => a - b));
    titles.unshift(...page.map(({ title }) => title));
    before = page[0]!.startsAt;
  }
  expect(titles).toHaveLength(62);
  expect(new Set(titles).size).toBe(62);
  expect(titles[0]).toBe('100% of the sky');
});

test('words find shows of any time by title, text, room or people, as they stand and not as a pattern', async () => {
  expect((await list('?words=ossian')).map(({ title }) => title)).toEqual(['100% of the sky']);
  expect((await list('?words=old%20dome')).map(({ title }) => title).sort()).toEqual(['Long past 0', 'Long past 1', 'Long past 2']);
  expect((await list(`?words=${encodeURIComponent('100%')}`)).map(({ title }) => title)).toEqual(['100% of the sky']);
  expect(await list(`?words=${encodeURIComponent('_____________________________')}`)).toEqual([]);
  expect((await list('?words=past')).length).toBe(60);
  expect((await list('?words=under%20the%20fell')).map(({ title }) => title)).toEqual(['Long past 3']);
});

test('lists have the picture of a show as small as they show it; another station gets none of it', async () => {
  const show = (await as('post', '/api/shows/new').send({ title: 'With a picture' }).expect(201)).body as ShowView;
  expect((await list('?words=past')).every(({ pictureUrl }) => pictureUrl === null)).toBe(true);
  await as('get', `/api/shows/${show.id}/glance`).expect(404);
  const picture = await sharp({ create: { width: 1920, height: 1080, channels: 3, background: '#1c4a52' } })
    .png()
    .toBuffer();
  const upload = station.http().put(`/api/shows/${show.id}/thumbnail`).set('cookie', station.cookie).set('content-type', 'application/octet-stream');
  await upload.send(picture).expect(200);
  const [{ pictureUrl }] = (await list(`?words=${encodeURIComponent(show.title)}`)).filter(({ id }) => id === show.id) as [ShowSummary];
  const reply = await as('get', pictureUrl!).expect(200).expect('content-type', 'image/jpeg');
  expect(await sharp(reply.body as Buffer).metadata()).toMatchObject({ width: 160, height: 90, format: 'jpeg' });
  const earlier = (await as('get', '/api/shows/earlier').expect(200)).body as EarlierShow[];
  expect(earlier.filter((each) => each.pictureUrl === null).length).toBe(earlier.length - earlier.filter(({ id }) => id === show.id).length);
  // A file that was spoilt on the disk is said, with the way out.
  const again = (await as('post', '/api/shows/new').send({ title: 'Spoilt' }).expect(201)).body as ShowView;
  await station
    .as(station.http().put(`/api/shows/${again.id}/thumbnail`))
    .set('content-type', 'application/octet-stream')
    .send(picture)
    .expect(200);
  writeFileSync(join(station.folder, 'pictures', `${again.id}.sent`), 'no picture at all');
  const refused = await as('get', `/api/shows/${again.id}/glance`).expect(404);
  expect((refused.body as { words: string }).words).toContain('Choose it again on its sheet');
});

test('odd questions are refused in words, and another station is told nothing', async () => {
  await as('get', '/api/shows?before=yesterday').expect(400);
  await as('get', `/api/shows?words=${'x'.repeat(200)}`).expect(400);
  await as('get', '/api/shows?words=a&words=b').expect(400);
  const stranger = await station.person('owner', 'elsewhere');
  for (const query of ['', '?words=past', `?before=${Date.now()}`]) expect((await as('get', `/api/shows${query}`, stranger).expect(200)).body).toEqual([]);
  expect((await as('get', '/api/shows/known', stranger).expect(200)).body).toEqual({ people: [], rooms: [] });
  expect((await as('get', '/api/shows/earlier', stranger).expect(200)).body).toEqual([]);
});

test('names and rooms of before are suggested, the most used first, and the latest shows to begin anew from', async () => {
  expect((await as('get', '/api/shows/known').expect(200)).body as KnownWords).toEqual({
    people: expect.arrayContaining(['Juno Vale', 'Ossian Reed']),
    rooms: ['Dome', 'Old dome'],
  });
  const earlier = ((await as('get', '/api/shows/earlier').expect(200)).body as { title: string }[]).map(({ title }) => title);
  expect(earlier.slice(0, 2)).toEqual(['Last week', 'Long past 0']);
  expect(earlier).toHaveLength(6);
});
