// What the report of a past show says of how many watched, when most came and went, and as files.
import type { Comparison, ShowReport, ShowView } from '@lantern/contract';
import { instant, MINUTE_MS, type Lamp } from '@lantern/core';
import { AirSampleRow } from '../air/air.entities';
import { HappeningRows } from '../air/happening-rows';
import { Question } from '../questions/question.entities';
import { Invitation } from '../invitations/invitation.entities';
import { Registration } from '../reminders/reminder.entities';
import { PastFiguresRows } from './past-figures';
import { RecordingRows } from '../recording/recording-rows';
import { Airing, Show } from '../shows/show.entities';
import { TestStation } from '../test/station';

const BEGAN = instant(Date.UTC(2026, 10, 20, 20, 30));
const at = (minutes: number) => instant(BEGAN + minutes * MINUTE_MS);
let station: TestStation;
let show: ShowView;
const get = (path: string) => station.as(station.http().get(`/api/shows/${show.id}/${path}`));

beforeAll(async () => {
  station = await TestStation.open();
  const channels: string[] = [];
  for (const name of ['Hall', 'Square'])
    channels.push(
      (
        await station
          .as(station.http().post('/api/channels/typed-in'))
          .send({ name, address: `rtmp://127.0.0.1:9/${name}`, key: `${name}-key-1` })
          .expect(201)
      ).body.id as string,
    );
  const cues = [
    { id: 'a', name: 'Opening', lengthS: 600, hardAt: null, who: '', notes: '' },
    { id: 'b', name: 'The comet', lengthS: 600, hardAt: null, who: '', notes: '' },
  ];
  show = (
    await station
      .as(station.http().post('/api/shows'))
      .send({ ...station.draft(channels), title: 'Dusk: the “comet”', cues })
      .expect(201)
  ).body as ShowView;
});
afterAll(() => station.close());

/** Half an hour: a break from the 12th to the 14th minute in which thirty go, and the second cue in the 20th, in which twenty come; Square in trouble for a minute. */
async function anEvening(): Promise<void> {
  const airings = await station.database.getRepository(Airing).findBy({ showId: show.id });
  const hall = airings.find(({ channelId }) => channelId === show.channelIds[0])!;
  const rows: { airingId: string; at: number; lamp: Lamp; watching: number | null }[] = [];
  for (let second = 0; second <= 30 * 60; second += 5) {
    const minute = second / 60;
    const watching = minute < 13 ? 90 : minute < 20 ? 60 : 80;
    const lamp: Lamp = minute >= 16 && minute < 17 ? 'fault' : 'lit';
    for (const { id } of airings)
      rows.push({ airingId: id, at: BEGAN + second * 1_000, ...(id === hall.id ? { lamp: 'lit', watching } : { lamp, watching: 10 }) });
  }
  const samples = station.database.getRepository(AirSampleRow);
  for (let from = 0; from < rows.length; from += 200) await samples.insert(rows.slice(from, from + 200));
  await station.app.get(HappeningRows).add(show.id, [
    { kind: 'cue', what: 'a', at: at(0) },
    { kind: 'source', what: 'stage', at: at(0) },
    { kind: 'source', what: 'break card', at: at(12) },
    { kind: 'source', what: 'stage', at: at(14) },
    { kind: 'cue', what: 'b', at: at(20) },
  ]);
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'over', onAirSince: BEGAN, endedAt: at(30) });
}

test('a show that has not been on air has no figures, as files neither', async () => {
  const report = (await get('report').expect(200)).body as ShowReport;
  expect(report).toMatchObject({ watching: [], parts: [], moments: [] });
  expect((await get('report.csv').expect(200)).text.trim()).toBe('Time (UTC),Hall,Square,Together');
});

test('all channels stand on the same moments, with breaks, trouble, and when most came and went', async () => {
  await anEvening();
  const report = (await get('report').expect(200)).body as ShowReport;
  const places = report.airings.map(({ channelName }) => channelName);
  const moment = report.watching.find((each) => each.at === at(10))!;
  expect(moment.by[places.indexOf('Hall')]).toBe(90);
  expect(moment.by[places.indexOf('Square')]).toBe(10);
  expect(report.parts).toEqual(
    expect.arrayContaining([
      { kind: 'break', name: 'Break', from: at(12), to: at(14) },
      { kind: 'fault', name: 'Square', from: at(16), to: at(17) },
    ]),
  );
  expect(report.moments.map(({ by, words }) => [by, words])).toEqual([
    [-30, '30 fewer in the four minutes around a break'],
    [20, '20 more as “The comet” began'],
  ]);
  const hall = report.airings[places.indexOf('Hall')]!;
  expect(hall.watchedMs).toBe((13 * 90 + 7 * 60 + 10 * 80) * MINUTE_MS);
  expect(hall.averageWatching).toBeCloseTo((13 * 90 + 7 * 60 + 10 * 80) / 30);
});

test('the same goes out as files that open elsewhere, under a name that any file system takes', async () => {
  const csv = await get('report.csv').expect(200);
  expect(csv.headers['content-type']).toContain('text/csv');
  expect(csv.headers['content-disposition']).toBe('attachment; filename="Dusk the comet.csv"');
  const lines = csv.text.trim().split('\r\n');
  expect(lines[0]!.split(',').slice(1).sort()).toEqual(['Hall', 'Square', 'Together']);
  expect(
    lines
      .find((line) => line.startsWith(new Date(at(10)).toISOString()))!
      .split(',')
      .at(-1),
  ).toBe('100');
  const json = await get('report.json').expect(200);
  expect(json.headers['content-disposition']).toContain('Dusk the comet.json');
  expect((JSON.parse(json.text) as ShowReport).moments).toHaveLength(2);
});

test('its recording has the cues for chapters, and questions that were on the picture, each where it stands in it', async () => {
  expect((await get('chapters.vtt').expect(200)).text.trim()).toBe('WEBVTT');
  // The first picture came two seconds late, and the line to the disk was gone for a minute.
  const parts = [
    { fromMs: 2_000, atMs: 0, lengthMs: 10 * MINUTE_MS },
    { fromMs: 11 * MINUTE_MS + 2_000, atMs: 10 * MINUTE_MS, lengthMs: 18 * MINUTE_MS },
  ];
  await station.app.get(RecordingRows).become(show.id, { state: 'ready', lengthMs: 28 * MINUTE_MS, parts });
  const questions = station.database.getRepository(Question);
  const asked = {
    showId: show.id,
    name: 'Niamh',
    askedAt: at(1),
    state: 'answered' as const,
    answeredAt: at(16),
    place: 'none' as const,
    guestId: null,
    channelId: null,
  };
  await questions.insert({ ...asked, id: 'q1', keyHash: 'k1', words: 'Why is it green?', onPicture: null });
  await questions.insert({ ...asked, id: 'q2', keyHash: 'k2', words: 'Never shown', onPicture: null });
  await station.app.get(HappeningRows).add(show.id, [{ kind: 'graphic', what: 'q1', at: at(15) }]);
  const report = (await get('report').expect(200)).body as ShowReport;
  expect(report.chapters).toEqual([
    { atMs: 0, name: 'Opening' },
    { atMs: 14 * MINUTE_MS - 2_000, name: 'Why is it green?' },
    { atMs: 19 * MINUTE_MS - 2_000, name: 'The comet' },
  ]);
  const vtt = await get('chapters.vtt').expect(200);
  expect(vtt.headers['content-type']).toContain('text/vtt');
  expect(vtt.text).toContain('00:18:58.000 --> 00:28:00.000\nThe comet');
  // On the house page for whoever may see the recording there.
  const slug = new URL(show.houseUrl).pathname.split('/').at(-1)!;
  await station.database.getRepository(Show).update({ id: show.id }, { houseReplay: true, houseVisibility: 'everyone' });
  expect((await station.http().get(`/api/house/${slug}/chapters.vtt`).expect(200)).text).toBe(vtt.text);
  await station.database.getRepository(Show).update({ id: show.id }, { houseReplay: false });
  await station.http().get(`/api/house/${slug}/chapters.vtt`).expect(404);
});

test('of a long show no more is told than of a short one', async () => {
  await station.database.getRepository(Show).update({ id: show.id }, { onAirSince: at(30 - 9 * 60) });
  const reply = await get('report').expect(200);
  expect((reply.body as ShowReport).watching.length).toBeLessThanOrEqual(401);
  expect(reply.text.length).toBeLessThan(200_000);
});

test('it stands beside earlier ones of its name, within the days that are asked for', async () => {
  const compare = async (query = '') => (await get(`comparison${query}`).expect(200)).body as Comparison;
  expect((await compare()).earlier).toEqual([]);
  const { own } = await compare();
  expect(own).toMatchObject({ peak: 100, messages: null });
  const draft = { ...station.draft([]), title: 'Dusk: the “comet”' };
  const before = (await station.as(station.http().post('/api/shows')).send(draft).expect(201)).body as ShowView;
  const other = (
    await station
      .as(station.http().post('/api/shows'))
      .send({ ...draft, title: 'Another' })
      .expect(201)
  ).body as ShowView;
  for (const { id } of [before, other])
    await station.database
      .getRepository(Show)
      .update({ id }, { state: 'over', startsAt: own.startsAt - 7 * 24 * 60 * MINUTE_MS, onAirSince: at(0), endedAt: at(20) });
  expect((await compare()).earlier).toEqual([expect.objectContaining({ showId: before.id, lengthMs: 20 * MINUTE_MS, peak: null, average: null })]);
  expect((await compare(`?from=${own.startsAt - MINUTE_MS}`)).earlier).toEqual([]);
});

test('a sample that comes late is in the figures of a report that was read before', async () => {
  const read = async () => (await get('report').expect(200)).body as ShowReport;
  const before = await read();
  expect(await read()).toEqual(before);
  const airing = await station.database.getRepository(Airing).findOneByOrFail({ showId: show.id, channelId: show.channelIds[1]! });
  const late = await station.database.getRepository(AirSampleRow).save({ airingId: airing.id, at: at(5) + 1, lamp: 'lit', watching: 700 });
  const figures = await read();
  expect(figures.airings.find(({ airingId }) => airingId === airing.id)).toMatchObject({ peakWatching: 700 });
  expect(figures.peakTogether).toBe(790);
  await station.database.getRepository(AirSampleRow).delete({ id: late.id });
  expect(await read()).toEqual(before);
});

test('a report can be read where nothing can be written, as on a full disk', async () => {
  await station.database.query('DELETE FROM watched_figures');
  await station.database.query(`CREATE TRIGGER full BEFORE INSERT ON watched_figures BEGIN SELECT RAISE(ABORT, 'database or disk is full'); END`);
  try {
    expect(((await get('report').expect(200)).body as ShowReport).peakTogether).toBe(100);
  } finally {
    await station.database.query('DROP TRIGGER full');
  }
});

test('how many wrote, asked and came is told', async () => {
  const person = (id: string) => ({ id, showId: show.id, tokenHash: id, toldStart: 0, told: '', email: `${id}@people.example` });
  await station.database.getRepository(Invitation).insert([
    { ...person('i1'), name: 'Ada', answer: 'accepted', invitedAt: 1, cameAt: 5 },
    { ...person('i2'), name: 'Bram', answer: 'accepted', invitedAt: 1, cameAt: null },
  ]);
  await station.database.getRepository(Registration).insert([{ ...person('r1'), zone: 'UTC', askedAt: 1, confirmedAt: 2 }]);
  const { people } = (await get('report').expect(200)).body as ShowReport;
  expect(people).toMatchObject({ invited: 2, came: 1, registered: 1, messages: 0 });
  // Kept beyond the addresses, which go after thirty days.
  await station.app.get(PastFiguresRows).keep(show.id, 100);
  await station.database.getRepository(Invitation).delete({ showId: show.id });
  expect(((await get('report').expect(200)).body as ShowReport).people).toEqual(people);
});
