import { PicturesWithTheirSets } from './parameter-sets';
import type { FlvTag } from './tags';

/** A configuration with one set of each kind, the second telling whose it is. */
const header = (of: number, lengthSize = 4): FlvTag => ({
  kind: 'video',
  timestampMs: 0,
  data: Uint8Array.of(0x17, 0, 0, 0, 0, 1, 66, 0, 31, 0xfc | (lengthSize - 1), 0xe1, 0, 2, 0x67, of, 1, 0, 2, 0x68, of),
});
const picture = (key: boolean, ...units: number[]): FlvTag => ({
  kind: 'video',
  timestampMs: 40,
  data: Uint8Array.of(key ? 0x17 : 0x27, 1, 0, 0, 0, ...units),
});
const bytes = (tag: FlvTag | null) => tag && [...tag.data].slice(5);

test('each key frame carries the sets of its own source, and the file has the first configuration alone', () => {
  const pictures = new PicturesWithTheirSets('whole');
  const key = picture(true, 0, 0, 0, 1, 0x65);
  const other = picture(false, 0, 0, 0, 1, 0x41);
  expect(pictures.push(header(1))).toEqual(header(1));
  expect(bytes(pictures.push(key))).toEqual([0, 0, 0, 2, 0x67, 1, 0, 0, 0, 2, 0x68, 1, 0, 0, 0, 1, 0x65]);
  expect(pictures.push(other)).toBe(other);
  expect(pictures.push(header(2))).toBeNull();
  expect(bytes(pictures.push(key))).toEqual([0, 0, 0, 2, 0x67, 2, 0, 0, 0, 2, 0x68, 2, 0, 0, 0, 1, 0x65]);
  expect(pictures.push(header(1))).toBeNull();
  expect(bytes(pictures.push(key))!.slice(0, 6)).toEqual([0, 0, 0, 2, 0x67, 1]);
});

test('a source that writes lengths in fewer bytes is written as the first of the file', () => {
  const pictures = new PicturesWithTheirSets('whole');
  pictures.push(header(1));
  pictures.push(header(2, 2));
  expect(bytes(pictures.push(picture(false, 0, 1, 0x41, 0, 2, 0x41, 9)))).toEqual([0, 0, 0, 1, 0x41, 0, 0, 0, 2, 0x41, 9]);
});

test('sound passes, and what cannot be read is left as it is', () => {
  const pictures = new PicturesWithTheirSets('whole');
  const sound: FlvTag = { kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 1, 2) };
  expect(pictures.push(sound)).toBe(sound);
  const odd: FlvTag = { kind: 'video', timestampMs: 0, data: Uint8Array.of(0x17, 0, 0, 0, 0, 1, 66) };
  expect(pictures.push(odd)).toBe(odd);
  const key = picture(true, 0, 0, 0, 1, 0x65);
  expect(pictures.push(key)).toBe(key);
});

test('on a line each source’s configuration goes out before its pictures, and whoever joins at a key frame has what it needs', () => {
  const pictures = new PicturesWithTheirSets('line');
  const key = picture(true, 0, 0, 0, 1, 0x65);
  expect(pictures.push(header(1))).toEqual(header(1));
  expect(pictures.push(header(2, 2))).toEqual(header(2, 2));
  const short = picture(true, 0, 1, 0x65);
  expect(bytes(pictures.push(short))).toEqual([0, 2, 0x67, 2, 0, 2, 0x68, 2, 0, 1, 0x65]);
  pictures.push(header(1));
  const once = pictures.push(key)!;
  expect(bytes(once)!.slice(0, 6)).toEqual([0, 0, 0, 2, 0x67, 1]);
  // What carries them already gets them once.
  expect(pictures.push(once)).toBe(once);
});
