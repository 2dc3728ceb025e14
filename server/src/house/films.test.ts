// Films on the public page: a trailer before, the recording after.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import type { HouseView, ShowReport, ShowView } from '@lantern/contract';
import { DAY_MS, HOUR_MS } from '@lantern/core';
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { RecordingRows } from '../recording/recording-rows';
import { RecordingService } from '../recording/recording.service';
import { Show } from '../shows/show.entities';
import { TestStation } from '../test/station';

let station: TestStation;
beforeAll(async () => (station = await TestStation.open()));
afterAll(() => station.close());
beforeEach(() => station.forgetTries());

/** Two seconds of moving picture and sound. */
function film(name: string, args: string[] = []): Buffer {
  const path = join(station.folder, name);
  const source = ['-f', 'lavfi', '-i', 'testsrc=size=320x240:rate=25:duration=2', '-f', 'lavfi', '-i', 'sine=duration=2'];
  execFileSync(ffmpegPackage.path, ['-y', '-loglevel', 'error', ...source, ...args, '-metadata', 'title=Secret name', path]);
  return readFileSync(path);
}

async function placed(change = {}): Promise<ShowView> {
  const show = (await station.as(station.http().post('/api/shows').send(station.draft([], change))).expect(201)).body as ShowView;
  await station.database.getRepository(Show).update({ id: show.id }, { state: 'placed' });
  return show;
}
const slugOf = ({ houseUrl }: ShowView) => houseUrl.split('/').at(-1)!;
const send = ({ id }: ShowView, bytes: Buffer) => station.as(station.http().put(`/api/shows/${id}/trailer`).type('application/octet-stream').send(bytes));
const house = async (show: ShowView): Promise<HouseView> =>
  (
    await station
      .http()
      .get(`/api/house/${slugOf(show)}`)
      .expect(200)
  ).body;
async function settled(show: ShowView): Promise<ShowView> {
  for (;;) {
    const { body } = await station.as(station.http().get(`/api/shows/${show.id}`)).expect(200);
    if (body.trailer?.state !== 'making') return body as ShowView;
    await new Promise((next) => setTimeout(next, 100));
  }
}

describe('a trailer', () => {
  test.each([
    ['webm', ['-c:v', 'libvpx', '-c:a', 'libvorbis']],
    ['mov', ['-c:v', 'mpeg4']],
  ])('as %s is made into one that every browser plays, without what the file told of itself', async (kind, args) => {
    const show = await placed();
    expect((await send(show, film(`film.${kind}`, args)).expect(200)).body.trailer.state).toBe('making');
    const { trailer } = await settled(show);
    expect(trailer).toMatchObject({ state: 'ready', words: '' });
    expect(Math.abs(trailer!.lengthMs - 2_000)).toBeLessThan(200);
    const { trailerUrl } = await house(show);
    const { body } = await station.http().get(trailerUrl!).set('range', 'bytes=0-99999999').expect(206).expect('content-type', 'video/mp4');
    const bytes = body as Buffer;
    expect(bytes.toString('latin1', 4, 8)).toBe('ftyp');
    expect(bytes.includes('Secret name')).toBe(false);
    await station.as(station.http().delete(`/api/shows/${show.id}/trailer`)).expect(200);
    expect((await house(show)).trailerUrl).toBeNull();
    await station.http().get(trailerUrl!).expect(404);
  });

  test.each([
    ['a list of other files that calls itself a film', Buffer.from('#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n'), 'not a film'],
    ['nothing', Buffer.alloc(0), 'empty'],
    ['a page', Buffer.from('<!doctype html><p>no film at all'), 'not a film'],
  ])('%s is refused at once, and the one before stays', async (_name, bytes, words) => {
    const show = await placed();
    await send(show, film('good.mp4')).expect(200);
    await settled(show);
    const { status, body } = await send(show, bytes);
    expect([400, 415]).toContain(status);
    expect(body.words).toContain(words);
    expect((await settled(show)).trailer!.state).toBe('ready');
  });

  test('that begins like a film and is none is told, with the way out', async () => {
    const show = await placed();
    await send(show, Buffer.concat([film('half.mp4').subarray(0, 40), Buffer.alloc(5_000, 7)])).expect(200);
    expect((await settled(show)).trailer).toMatchObject({ state: 'failed', words: expect.stringContaining('Choose an MP4') });
    expect((await house(show)).trailerUrl).toBeNull();
    // One that was there before stays, with word of what happened.
    await send(show, film('whole.mp4')).expect(200);
    await settled(show);
    await send(show, Buffer.concat([film('half.mp4').subarray(0, 40), Buffer.alloc(5_000, 7)])).expect(200);
    expect((await settled(show)).trailer).toMatchObject({ state: 'ready', words: expect.stringContaining('Choose an MP4') });
    expect((await house(show)).trailerUrl).not.toBeNull();
  });

  test('of a show that is not for everybody is watched by nobody else', async () => {
    const show = await placed({ houseVisibility: 'supporters' });
    await send(show, film('own.mp4')).expect(200);
    await settled(show);
    await station
      .http()
      .get(`/api/house/${slugOf(show)}/trailer.mp4`)
      .expect(404);
    await station.as(station.http().get(`/api/shows/${show.id}/trailer.mp4`)).expect(200);
    await station.http().get(`/api/shows/${show.id}/trailer.mp4`).expect(401);
  });
});

describe('the recording', () => {
  async function over(change = {}, state: 'ready' | 'making' = 'ready'): Promise<ShowView> {
    const show = await placed(change);
    const endedAt = Date.now() - HOUR_MS;
    await station.database.getRepository(Show).update({ id: show.id }, { state: 'over', onAirSince: endedAt - HOUR_MS, endedAt });
    await station.app.get(RecordingRows).become(show.id, { state, lengthMs: 2_000 });
    const path = station.app.get(RecordingService).file(show.id);
    mkdirSync(join(path, '..'), { recursive: true });
    writeFileSync(path, film('recording.mp4'));
    return show;
  }
  const set = (show: ShowView, shown: boolean) => station.as(station.http().put(`/api/shows/${show.id}/replay`).send({ shown }));

  test('takes the place of the picture, and can be taken down and shown again', async () => {
    const show = await over();
    const { replay } = await house(show);
    expect(replay).toMatchObject({ lengthMs: 2_000 });
    const { url } = replay as { url: string };
    await station.http().get(url).set('range', 'bytes=0-99').expect(206).expect('content-type', 'video/mp4');
    expect(
      (
        await station
          .http()
          .get(`/on/${slugOf(show)}`)
          .expect(200)
      ).text,
    ).toContain('Watch the recording');
    expect(((await set(show, false).expect(200)).body as ShowReport).replay.shown).toBe(false);
    await station.http().get(url).expect(404);
    expect((await house(show)).replay).toBeNull();
    await set(show, true).expect(200);
    await station.http().get(url).expect(200);
  });

  test('comes down by itself when the sheet says so, and is not there where the sheet said no', async () => {
    const show = await over({ milestoneTimes: { 'replay down': DAY_MS } });
    expect(((await station.as(station.http().get(`/api/shows/${show.id}/report`)).expect(200)).body as ShowReport).replay).toMatchObject({
      shown: true,
      until: expect.any(Number),
    });
    const { url } = (await house(show)).replay as { url: string };
    station.travelTo(Date.now() + 2 * DAY_MS);
    expect((await house(show)).replay).toBeNull();
    await station.http().get(url).expect(404);
    station.travelTo(Date.now());
    expect((await house(await over({ houseReplay: false }))).replay).toBeNull();
  });

  test('that is still being put together is announced, and is seen by nobody whom the page is not for', async () => {
    expect((await house(await over({}, 'making'))).replay).toBe('coming');
    const hidden = await over({ houseVisibility: 'invited people' });
    await station
      .http()
      .get(`/api/house/${slugOf(hidden)}/replay.mp4`)
      .expect(404);
  });
});
