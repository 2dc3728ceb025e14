// Cuts, chapters and captions of a show's recording, as people of the station and visitors have them.
import type { CaptionsView, CutsView, CutView, HouseView, RecordingsOnDisk, ShowView } from '@lantern/contract';
import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { Cut } from './cut.entities';
import { HappeningRows } from '../air/happening-rows';
import { SETTINGS, type Settings } from '../foundation/settings';
import { JobsService } from '../jobs/jobs.service';
import { recordingFolder } from '../media/stretch';
import { RecordingRows } from '../recording/recording-rows';
import { Show } from '../shows/show.entities';
import { TestStation } from '../test/station';
import { stampsOf, writeStamped } from '../test/stamped';

const BEGAN = Date.UTC(2026, 10, 20, 20, 30);
const LENGTH = 12_000;
let station: TestStation;
let show: ShowView;
let settings: Settings;
const path = (rest = '') => `/api/shows/${show.id}/cuts${rest}`;
const view = async () => (await station.as(station.http().get(path())).expect(200)).body as CutsView;
const first = async (): Promise<CutView> => (await view()).cuts[0]!;
const DRAFT = {
  name: 'Without the chatter',
  kept: [
    { fromMs: 2_000, toMs: 5_000 },
    { fromMs: 7_000, toMs: 10_000 },
  ],
  levelled: false,
};
const house = async () =>
  (
    await station
      .http()
      .get(`/api/house/${show.houseUrl.split('/').at(-1)}`)
      .expect(200)
  ).body as HouseView;

beforeAll(async () => {
  station = await TestStation.open();
  settings = station.app.get<Settings>(SETTINGS);
  const cues = ['Opening', 'The comet'].map((name, at) => ({ id: 'ab'[at], name, lengthS: 600, hardAt: null, who: '', notes: '' }));
  show = (
    await station
      .as(station.http().post('/api/shows'))
      .send({ ...station.draft([]), cues, houseVisibility: 'everyone' })
      .expect(201)
  ).body as ShowView;
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'over', onAirSince: BEGAN, endedAt: BEGAN + LENGTH, houseReplay: true });
  const folder = recordingFolder(settings, show.id);
  mkdirSync(folder, { recursive: true });
  writeStamped(settings.ffmpeg, join(folder, 'recording.mp4'), LENGTH / 1_000);
  await station.app.get(RecordingRows).become(show.id, { state: 'ready', lengthMs: LENGTH, parts: [{ fromMs: 0, atMs: 0, lengthMs: LENGTH }] });
  await station.app.get(HappeningRows).add(show.id, [
    { kind: 'cue', what: 'a', at: BEGAN },
    { kind: 'scene', what: 'holding', at: BEGAN },
    { kind: 'scene', what: 'host', at: BEGAN + 2_000 },
    { kind: 'cue', what: 'b', at: BEGAN + 6_000 },
  ]);
});
afterAll(() => station.close());

test('a recording is looked through when somebody comes to cut it, and what could be left out is said with its reason', async () => {
  expect((await view()).survey).toBeNull();
  await station.app.get(JobsService).settled('survey');
  const { survey, suggestions, ran, lengthMs } = await view();
  expect(lengthMs).toBe(LENGTH);
  expect(ran).toEqual([
    { atMs: 0, name: 'Opening' },
    { atMs: 6_000, name: 'The comet' },
  ]);
  expect(suggestions[0]).toMatchObject({ kind: 'begin', fromMs: 0, why: expect.stringContaining('holding card') as string });
  const strip = await station.as(station.http().get(survey!.strip.url)).expect(200);
  expect(strip.headers['content-type']).toBe('image/jpeg');
  expect(((await station.as(station.http().get(survey!.sound.url)).buffer(true)).body as Buffer).length).toBe(survey!.sound.count);
  expect((await station.as(station.http().get(path('/times?from=1000&to=1080'))).expect(200)).body).toEqual([1_000, 1_033, 1_067]);
  await station.as(station.http().get(path('/times?from=x&to=1'))).expect(400);
});

test('a cut is made, watched, and then shown in the place of the recording, with chapters that have moved along', async () => {
  await station.as(station.http().post(path())).send(DRAFT).expect(201);
  const { id } = await first();
  await station
    .as(station.http().put(path(`/${id}/shown`)))
    .send({ shown: true })
    .expect(409);
  // A second press is one cut.
  await Promise.all([1, 2].map(() => station.as(station.http().post(path(`/${id}/make`))).expect(202)));
  await station.app.get(JobsService).settled('cut');
  const { made, state } = await first();
  expect([state, made?.lengthMs, made?.revision]).toEqual(['idle', 6_000, 1]);
  const file = join(recordingFolder(settings, show.id), `cut-${id}-1.mp4`);
  expect(stampsOf(settings.ffmpeg, file)).toHaveLength(180);
  await station.as(station.http().get(made!.url).set('range', 'bytes=0-99')).expect(206);
  expect((await house()).replay).toMatchObject({ lengthMs: LENGTH });
  await station
    .as(station.http().put(path(`/${id}/shown`)))
    .send({ shown: true })
    .expect(200);
  const { replay } = await house();
  expect(replay).toMatchObject({
    lengthMs: 6_000,
    chapters: [
      { atMs: 0, name: 'Opening' },
      { atMs: 3_000, name: 'The comet' },
    ],
    captions: null,
  });
  const sent = await station
    .http()
    .get((replay as { url: string }).url)
    .expect(200);
  expect(Number(sent.headers['content-length'])).toBe(made!.bytes);
  await station.as(station.http().delete(path(`/${id}`))).expect(409);
});

test('a card with the title and the day stands before a cut where that is asked for, and all that belongs to it comes later', async () => {
  await station
    .as(station.http().post(path()))
    .send({ ...DRAFT, name: 'With a card', cardMs: 3_000 })
    .expect(201);
  await station
    .as(station.http().post(path()))
    .send({ ...DRAFT, name: 'With another', cardMs: 60_000 })
    .expect(400);
  const carded = (await view()).cuts.find(({ name }) => name === 'With a card')!;
  expect(carded).toMatchObject({ cardMs: 3_000, lengthMs: 9_000 });
  await station.as(station.http().post(path(`/${carded.id}/make`))).expect(202);
  await station.app.get(JobsService).settled('cut');
  const { made, state } = (await view()).cuts.find(({ id }) => id === carded.id)!;
  expect([state, made?.lengthMs]).toEqual(['idle', 9_000]);
  expect(stampsOf(settings.ffmpeg, join(recordingFolder(settings, show.id), `cut-${carded.id}-1.mp4`))).toHaveLength(270);
  const { text } = await station.as(station.http().get(path(`/${carded.id}/chapters.vtt`))).expect(200);
  expect(text).toContain('00:00:00.000 --> 00:00:06.000\nOpening');
  await station.as(station.http().delete(path(`/${carded.id}`))).expect(200);
});

test('what is changed afterwards is told to differ from what was made, and made anew takes its place', async () => {
  const { id, revision } = await first();
  const change = (base: number, name: string) =>
    station.as(station.http().put(path(`/${id}`))).send({ ...DRAFT, name, kept: [{ fromMs: 0, toMs: 1_000 }], base });
  const answers = await Promise.all([change(revision, 'Mine'), change(revision, 'Theirs')]);
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
  const changed = await first();
  expect([changed.revision, changed.made?.revision, changed.shown]).toEqual([2, 1, true]);
  expect((await house()).replay).toMatchObject({ lengthMs: 6_000 });
  await station.as(station.http().post(path(`/${id}/make`))).expect(202);
  await station.app.get(JobsService).settled('cut');
  expect((await house()).replay).toMatchObject({ lengthMs: 1_000 });
  expect(readdirSync(recordingFolder(settings, show.id)).filter((name) => name.startsWith('cut-'))).toEqual([`cut-${id}-2.mp4`]);
});

test('one that is stopped leaves what was made before', async () => {
  const { id } = await first();
  await station.as(station.http().post(path(`/${id}/make`))).expect(202);
  await station.as(station.http().delete(path(`/${id}/make`))).expect(200);
  await station.app.get(JobsService).settled('cut');
  expect(await first()).toMatchObject({ state: 'idle', trouble: '', made: { revision: 2 } });
  expect(existsSync(join(recordingFolder(settings, show.id), `cut-${id}-2.mp4`))).toBe(true);
});

test('a server that is killed while a cut is being made goes on with it at its next start', async () => {
  const { id } = await first();
  await station.as(station.http().post(path(`/${id}/make`))).expect(202);
  await station.close(true);
  station = await TestStation.open(station.folder);
  settings = station.app.get<Settings>(SETTINGS);
  await station.app.get(JobsService).settled('cut');
  const { state, made } = await first();
  expect([state, made?.revision]).toEqual(['idle', 2]);
  expect(readdirSync(recordingFolder(settings, show.id)).filter((name) => name.startsWith('cut-'))).toEqual([`cut-${id}-2.mp4`]);
});

test('chapters are written by hand over nobody else’s, and given back to the running order', async () => {
  const keep = (base: number, chapters: object[]) => station.as(station.http().put(`/api/shows/${show.id}/chapters`)).send({ base, chapters });
  const { body } = await keep(0, [
    { atMs: 7_000, name: ' The  tail ' },
    { atMs: 0, name: 'Welcome' },
  ]).expect(200);
  expect((body as CutsView).chapters.map(({ name }) => name)).toEqual(['Welcome', 'The tail']);
  await keep(0, []).expect(409);
  await keep(1, [{ atMs: -1, name: 'Before' }]).expect(400);
  await keep(1, [{ atMs: 1, name: '' }]).expect(400);
  expect((await station.as(station.http().get(`/api/shows/${show.id}/chapters.vtt`))).text).toContain('00:00:07.000 --> 00:00:12.000\nThe tail');
  expect(((await keep(1, []).expect(200)).body as CutsView).chapters.map(({ name }) => name)).toEqual(['Opening', 'The comet']);
});

describe('captions', () => {
  const keep = (draft: object) => station.as(station.http().put(`/api/shows/${show.id}/captions`)).send({ language: 'en', take: 'strict', ...draft });
  const now = async () => (await station.as(station.http().get(`/api/shows/${show.id}/captions`)).expect(200)).body as CaptionsView;
  const FILE = 'WEBVTT\n\n00:00:00.200 --> 00:00:00.900\nGood evening\n\n00:00:08.000 --> 00:00:09.000\nThe <i>tail</i> & all\n';

  test('are read from a file, shown to visitors, and go along with the cut', async () => {
    expect((await keep({ base: 0, text: FILE }).expect(200)).body).toMatchObject({
      revision: 1,
      unread: [],
      captions: [{ text: 'Good evening' }, { fromMs: 8_000 }],
    });
    const { replay } = await house();
    const url = (replay as { captions: { url: string } }).captions.url;
    const { text, headers } = await station.http().get(url).expect(200);
    expect(headers['content-type']).toContain('text/vtt');
    // Of the second the cut of one second has nothing.
    expect(text).toBe('WEBVTT\n\n00:00:00.200 --> 00:00:00.900\nGood evening\n');
    expect((await station.as(station.http().get(`/api/shows/${show.id}/captions.srt`))).text).toContain('2\n00:00:08,000 --> 00:00:09,000\nThe tail & all');
  });

  test('that were written for a cut get the times of the recording', async () => {
    const id = (await first()).id;
    const { body } = await keep({ base: 1, text: `${FILE}`, cutId: id }).expect(200);
    expect(body).toMatchObject({ captions: [{ fromMs: 200, toMs: 900 }], unread: [{ words: expect.stringContaining('after the end') as string }] });
  });

  test('of a file with faults nothing is changed, unless what can be read is asked for', async () => {
    const odd = `${FILE}\nno times here\n`;
    const { body } = await keep({ base: 2, text: odd }).expect(422);
    expect(body).toMatchObject({ words: expect.stringMatching(/^Line 9: .*Nothing was changed\.$/) as string });
    expect((await now()).revision).toBe(2);
    expect((await keep({ base: 2, text: odd, take: 'what can be read' }).expect(200)).body).toMatchObject({ revision: 3, unread: [{ line: 9 }] });
    await keep({ base: 2, text: '' }).expect(409);
    await keep({ base: 3, text: '', language: '<en>' }).expect(400);
    await keep({ base: 3, text: '\u0000\u0001' }).expect(422);
  });
});

test.each([
  ['nothing', { kept: [] }, 400],
  ['what is not there', { kept: [{ fromMs: 50_000, toMs: 60_000 }] }, 422],
  ['no numbers', { kept: [{ fromMs: 'x', toMs: 1 }] }, 400],
  ['no name', { name: ' ' }, 422],
])('a cut of %s is refused', async (_, change, status) => {
  await station
    .as(station.http().post(path()))
    .send({ ...DRAFT, ...change })
    .expect(status);
});

describe('on the disk', () => {
  const onDisk = async () => (await station.as(station.http().get('/api/recordings')).expect(200)).body as RecordingsOnDisk;

  test('recordings are told with what they take, and their sound alone is a file', async () => {
    const { recordings, usedBytes, quotaBytes } = await onDisk();
    expect(recordings).toEqual([expect.objectContaining({ showId: show.id, cuts: 1, shown: true })]);
    expect(usedBytes).toBe(recordings[0]!.bytes);
    expect(quotaBytes).toBeGreaterThan(usedBytes);
    const sound = await station
      .as(station.http().get(`/api/shows/${show.id}/recording.m4a`))
      .buffer(true)
      .expect(200);
    expect(sound.headers['content-type']).toBe('audio/mp4');
    expect((sound.body as Buffer).toString('latin1', 4, 8)).toBe('ftyp');
  });

  test('from four fifths of the quota on it says that there is little room', async () => {
    const { usedBytes } = await onDisk();
    settings.recordingsQuotaBytes = usedBytes / 0.79;
    expect((await onDisk()).state).toBe('enough');
    settings.recordingsQuotaBytes = usedBytes / 0.81;
    expect((await onDisk()).state).toBe('little');
    settings.recordingsQuotaBytes = usedBytes;
    expect((await onDisk()).state).toBe('none');
    settings.recordingsQuotaBytes = null;
  });

  test('one is removed with its cuts, and what people are told of it goes too', async () => {
    await station.database.getRepository(Cut).update({ showId: show.id }, { state: 'making' });
    await station.as(station.http().delete(`/api/shows/${show.id}/recording`)).expect(409);
    await station.database.getRepository(Cut).update({ showId: show.id }, { state: 'idle' });
    await station.as(station.http().delete(`/api/shows/${show.id}/recording`)).expect(200);
    expect((await onDisk()).recordings).toEqual([]);
    expect((await house()).replay).toBeNull();
    await station.as(station.http().get(path())).expect(404);
    await station.as(station.http().get(`/api/shows/${show.id}/recording.m4a`)).expect(404);
    expect(((await station.as(station.http().get(`/api/shows/${show.id}/captions`)).expect(200)).body as CaptionsView).captions).not.toEqual([]);
  });
});
