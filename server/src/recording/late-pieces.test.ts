// What a stage made while its line was gone, sent later: over HTTP, by whom it may be, piece upon piece, also twice and cut off.
import { LATE_CHUNK_BYTES, latePath, type ShowView } from '@lantern/contract';
import { existsSync, mkdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import request from 'supertest';
import { stretchFiles } from '../media/stretch';
import { TestStation } from '../test/station';
import { RecordingService } from './recording.service';

let station: TestStation;
let showId: string;
let asked: string[];

const files = (stretch: number) => stretchFiles(join(station.folder, 'recordings', showId), stretch);
const head = (stretch: number, who = station.cookie) => station.as(station.http().head(latePath(showId, stretch)), who);
const patch = (stretch: number, offset: number | string, bytes: string | Buffer, { complete = false, who = station.cookie } = {}): request.Test =>
  station
    .as(station.http().patch(latePath(showId, stretch)), who)
    .set('upload-offset', String(offset))
    .set('upload-complete', complete ? '?1' : '?0')
    .set('content-type', 'application/partial-upload')
    .send(bytes);

beforeAll(async () => {
  station = await TestStation.open();
  const made = await station.as(station.http().post('/api/shows')).send(station.draft([])).expect(201);
  showId = (made.body as ShowView).id;
  asked = [];
  jest.spyOn(station.app.get(RecordingService), 'cameWhole').mockImplementation((id) => Promise.resolve(void asked.push(id)));
});
afterAll(() => station.close());

beforeEach(() => {
  rmSync(join(station.folder, 'recordings', showId), { recursive: true, force: true });
  mkdirSync(join(station.folder, 'recordings', showId), { recursive: true });
  writeFileSync(files(1).pieces, 'what came in time, ');
  writeFileSync(files(1).done, '');
  writeFileSync(files(2).pieces, 'what comes now');
  asked = [];
});

test('it goes on where the server has to: what is sent twice or begins elsewhere changes nothing', async () => {
  expect((await head(1).expect(204)).headers['upload-offset']).toBe('19');
  expect((await patch(1, 19, 'and what ').expect(204)).headers['upload-offset']).toBe('28');
  const twice = await patch(1, 19, 'and what ').expect(409);
  expect((twice.body as { words: string }).words).toBe('28 bytes of this part are there: what comes next begins with those, not with 19.');
  await patch(1, 40, 'nothing joins on').expect(409);
  expect(asked).toEqual([]);
  await patch(1, 28, 'came late', { complete: true }).expect(204);
  expect(readFileSync(files(1).pieces, 'utf8')).toBe('what came in time, and what came late');
  expect(asked).toEqual([showId]);
  // Its FLV is made anew, and how much of it viewers could see is known.
  expect([existsSync(files(1).done), readFileSync(files(1).late, 'utf8')]).toEqual([false, '0']);
});

test('a stretch that is being received, or was a moment ago, takes nothing from elsewhere; one that never was is not there', async () => {
  await head(2).expect(409);
  rmSync(files(1).done);
  await patch(1, 19, 'too early').expect(409);
  utimesSync(files(1).pieces, new Date(), new Date(Date.now() - 20_000));
  await patch(1, 19, 'now').expect(204);
  await head(3).expect(404);
  await head(1).expect(204);
});

test('two who send at once: one is taken', async () => {
  const replies = await Promise.all([patch(1, 19, 'one of them'), patch(1, 19, 'one of them')]);
  expect(replies.map(({ status }) => status).sort()).toEqual([204, 409]);
  expect(readFileSync(files(1).pieces, 'utf8')).toBe('what came in time, one of them');
});

test('a request that is cut off leaves nothing of itself, and so does one that is too long', async () => {
  const port = await station.listen();
  const half = new AbortController();
  const body = new ReadableStream<Uint8Array>({
    start: (to) => {
      to.enqueue(Buffer.from('half of '));
      setTimeout(() => half.abort(), 300);
    },
  });
  const headers = { cookie: station.cookie.split(';')[0]!, 'upload-offset': '19', origin: `http://127.0.0.1:${port}` };
  const sent = fetch(`http://127.0.0.1:${port}${latePath(showId, 1)}`, { method: 'PATCH', headers, body, signal: half.signal, duplex: 'half' } as RequestInit);
  await expect(sent).rejects.toThrow();
  await patch(1, 19, Buffer.alloc(LATE_CHUNK_BYTES + 1)).expect(413);
  let there = '';
  for (let tries = 0; tries < 100 && there !== '19'; tries++) {
    await new Promise((next) => setTimeout(next, 20));
    there = ((await head(1)).headers['upload-offset'] as string | undefined) ?? '';
  }
  expect(there).toBe('19');
  expect(readFileSync(files(1).pieces, 'utf8')).toBe('what came in time, ');
});

test('only who may go on air, at this station; and a request that says nothing of where it begins is told so', async () => {
  await patch(1, 19, 'x', { who: await station.person('moderator') }).expect(403);
  await patch(1, 19, 'x', { who: await station.person('owner', 'elsewhere') }).expect(404);
  await station.http().head(latePath(showId, 1)).expect(401);
  for (const offset of ['-1', 'nineteen', '']) await patch(1, offset, 'x').expect(400);
  expect(readFileSync(files(1).pieces, 'utf8')).toBe('what came in time, ');
});
