import fc from 'fast-check';
import { ProgrammeStart, ProgrammeReader } from './programme';
import { flvHeader, FlvReader, FlvSyntaxError, flvTagBytes, isKeyFrame, isSequenceHeader, type FlvTag } from './tags';

const videoHeader: FlvTag = { kind: 'video', timestampMs: 0, data: Uint8Array.of(0x17, 0, 0, 0, 0, 1) };
const audioHeader: FlvTag = { kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 0, 0x11, 0x90) };
const key = (timestampMs: number): FlvTag => ({ kind: 'video', timestampMs, data: Uint8Array.of(0x17, 1, 0, 0, 0, 9) });
const between = (timestampMs: number): FlvTag => ({ kind: 'video', timestampMs, data: Uint8Array.of(0x27, 1, 0, 0, 0, 9) });
const sound = (timestampMs: number): FlvTag => ({ kind: 'audio', timestampMs, data: Uint8Array.of(0xaf, 1, 7) });

const anyTag = fc.record({
  kind: fc.constantFrom<FlvTag['kind']>('audio', 'video', 'script'),
  timestampMs: fc.nat({ max: 2 ** 32 - 1 }),
  data: fc.uint8Array({ minLength: 0, maxLength: 300 }),
});

test('tags are read as they were written, however the bytes are cut', () => {
  fc.assert(
    fc.property(fc.array(anyTag, { maxLength: 20 }), fc.integer({ min: 1, max: 97 }), (tags, step) => {
      const bytes = Buffer.concat([flvHeader(), ...tags.map((tag) => flvTagBytes(tag))]);
      const reader = new FlvReader();
      const read: FlvTag[] = [];
      for (let at = 0; at < bytes.length; at += step) read.push(...reader.push(bytes.subarray(at, at + step)));
      expect(read.map(({ kind, timestampMs, data }) => [kind, timestampMs, [...data]])).toEqual(
        tags.map(({ kind, timestampMs, data }) => [kind, timestampMs, [...data]]),
      );
    }),
    { numRuns: 150, seed: 3 },
  );
});

test('what is not FLV is said to be so, with its place', () => {
  expect(() => new FlvReader().push(Buffer.from('<html>not a stream</html>'))).toThrow(FlvSyntaxError);
  const wrongTag = Buffer.concat([flvHeader(), Buffer.from([3, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0])]);
  expect(() => new FlvReader().push(wrongTag)).toThrow('tag type 3 at byte 13');
  expect(() => flvTagBytes(key(2 ** 32))).toThrow(RangeError);
});

test('headers and key frames are told apart', () => {
  expect([isSequenceHeader(videoHeader), isKeyFrame(videoHeader)]).toEqual([true, false]);
  expect([isSequenceHeader(key(0)), isKeyFrame(key(0))]).toEqual([false, true]);
  expect(isKeyFrame(between(0))).toBe(false);
  expect(isSequenceHeader(audioHeader)).toBe(true);
});

test('a reader that joins late begins with all since the last key frame, and waits for none that is not long past', () => {
  const start = new ProgrammeStart();
  const joined = () => new FlvReader().push(Buffer.concat(new ProgrammeReader(start).join() ?? [])).map(({ kind, timestampMs }) => `${kind} ${timestampMs}`);
  for (const tag of [videoHeader, audioHeader, between(10), sound(11)]) start.note(tag);
  expect(new ProgrammeReader(start).join()).toBeNull();
  for (const tag of [key(66), sound(70), between(100)]) start.note(tag);
  expect(joined()).toEqual(['video 66', 'audio 66', 'video 66', 'audio 70', 'video 100']);
  const reader = new ProgrammeReader(start);
  reader.join();
  expect(reader.bytesFor(between(133))).toHaveLength(1);
  start.note(key(166));
  expect(joined()).toEqual(['video 166', 'audio 166', 'video 166']);
  // Of what was made by another configuration, and of more than anybody holds, nothing is given.
  start.note(videoHeader);
  expect(joined()).toEqual([]);
  start.note(key(200));
  for (let at = 1; at <= 40; at++) start.note({ ...between(200 + at), data: new Uint8Array(50_000).fill(0x27) });
  expect(joined()).toEqual([]);
});

test('a reader that joins late gets a whole stream from the next key frame', () => {
  const start = new ProgrammeStart();
  for (const tag of [videoHeader, audioHeader]) start.note(tag);
  const reader = new ProgrammeReader(start);
  expect(reader.bytesFor(between(40))).toBeNull();
  expect(reader.bytesFor(sound(41))).toBeNull();
  const bytes = Buffer.concat([...reader.bytesFor(key(66))!, ...reader.bytesFor(sound(70))!]);
  const read = new FlvReader().push(bytes);
  expect(read.map(({ kind, timestampMs }) => [kind, timestampMs])).toEqual([
    ['video', 66],
    ['audio', 66],
    ['video', 66],
    ['audio', 70],
  ]);
  expect(isSequenceHeader(read[0]!) && isSequenceHeader(read[1]!) && isKeyFrame(read[2]!)).toBe(true);
});
