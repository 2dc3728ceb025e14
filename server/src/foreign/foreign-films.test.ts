// Files as they come in: what happens on the way, before anybody looks at what they are.
import { existsSync, mkdtempSync, readdirSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { DiskSpace, Room } from '../foundation/disk-space';
import type { Settings } from '../foundation/settings';
import { ForeignFilms, type Incoming, type Taking } from './foreign-films';

const TAKEN: Taking = { what: 'clip', mostBytes: 1_000_000, readers: ['wav'], kinds: 'Choose a WAV file.' };
let folder: string;
let room: Room['state'] = 'enough';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-films-'));
  room = 'enough';
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const films = (filmFfmpeg: string | null = 'ffmpeg') =>
  new ForeignFilms({ look: () => Promise.resolve({ freeBytes: null, state: room }) } as unknown as DiskSpace, { filmFfmpeg } as Settings);
const coming = (from: Iterable<Buffer> | AsyncIterable<Buffer>, length?: number): Incoming =>
  Object.assign(Readable.from(from), { headers: length === undefined ? {} : { 'content-length': String(length) } });
const wav = (bytes = 1_000) => Buffer.concat([Buffer.from('RIFF\0\0\0\0WAVEfmt '), Buffer.alloc(bytes)]);

test('a disk that is full before, or runs full on the way, is named as the reason', async () => {
  room = 'none';
  await expect(films().take(coming([wav()]), join(folder, 'a'), TAKEN)).rejects.toMatchObject({ status: 507 });
  room = 'enough';
  // What is written there finds no room.
  symlinkSync('/dev/full', join(folder, 'full'));
  await expect(films().take(coming([wav()]), join(folder, 'full'), TAKEN)).rejects.toMatchObject({
    status: 507,
    words: 'The disk of the server is full. Free some room, then send the clip again.',
  });
  expect([readdirSync(folder), existsSync('/dev/full')]).toEqual([[], true]);
});

test('what says that it is too large is not taken at all; what is too large all the same, no further', async () => {
  await expect(films().take(coming([wav()], 1_000_001), join(folder, 'a'), TAKEN)).rejects.toMatchObject({ status: 413 });
  await expect(films().take(coming([wav(), Buffer.alloc(1_000_000)]), join(folder, 'b'), TAKEN)).rejects.toMatchObject({ status: 413 });
  expect(readdirSync(folder)).toEqual([]);
});

test('a line that breaks leaves nothing, and holds no place', async () => {
  const broken = async function* () {
    yield wav();
    await Promise.resolve();
    throw new Error('connection lost');
  };
  const one = films();
  for (let tried = 0; tried < 6; tried++) await expect(one.take(coming(broken()), join(folder, 'a'), TAKEN)).rejects.toMatchObject({ status: 400 });
  expect(readdirSync(folder)).toEqual([]);
});

test('so many wait at one time; a place is free again once the work is done, well or not', async () => {
  const one = films();
  const taken = [];
  for (let at = 0; at < 4; at++) taken.push(await one.take(coming([wav()]), join(folder, String(at)), TAKEN));
  await expect(one.take(coming([wav()]), join(folder, '4'), TAKEN)).rejects.toMatchObject({ status: 503 });
  await expect(taken[0]!.inTurn(() => Promise.reject(new Error('it failed')))).rejects.toThrow('it failed');
  await taken[1]!.inTurn(() => Promise.resolve());
  expect(readdirSync(folder)).toEqual(['2', '3']);
  await one.take(coming([wav()]), join(folder, '4'), TAKEN);
});

test('an ffmpeg that is not safe with files of strangers is given none', async () => {
  await expect(films(null).take(coming([wav()]), join(folder, 'a'), TAKEN)).rejects.toMatchObject({
    status: 409,
    words: expect.stringContaining('No clips are taken'),
  });
});
