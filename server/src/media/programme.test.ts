// The programme and its readers, with tags as encoders send them and a clock that the test moves.
import { FlvReader, isKeyFrame, isSequenceHeader, ProgrammeInput, type FlvTag } from '@lantern/core';
import { BreakCardLoop } from './break-card-loop';
import { Programme } from './programme';

const heads: FlvTag[] = [
  { kind: 'video', timestampMs: 0, data: Uint8Array.of(0x17, 0, 0, 0, 0, 1) },
  { kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 0, 0x11, 0x90) },
];
const picture = (timestampMs: number, key = false): FlvTag => ({ kind: 'video', timestampMs, data: Uint8Array.of(key ? 0x17 : 0x27, 1, 0, 0, 0, 9) });
const sound = (timestampMs: number): FlvTag => ({ kind: 'audio', timestampMs, data: Uint8Array.of(0xaf, 1, 7) });

function reading(programme: Programme): { tags: () => FlvTag[]; leave: () => void } {
  const parts: Uint8Array[] = [];
  const leave = programme.read((bytes) => void parts.push(bytes));
  return { tags: () => new FlvReader().push(Buffer.concat(parts)), leave };
}

test('a reader that joins late gets a whole stream from the next key frame, and nothing after it has left', () => {
  let now = 0;
  const programme = new Programme(() => now);
  const stage = new ProgrammeInput('stage');
  programme.select(stage);
  const first = reading(programme);
  for (const head of heads) programme.feed(stage, head);
  programme.feed(stage, picture(0, true));
  const late = reading(programme);
  const atOnce: Uint8Array[] = [];
  programme.read((bytes) => void atOnce.push(bytes), 'at once');
  for (now = 33; now <= 1_000; now += 33) programme.feed(stage, picture(now, now % 495 === 0));
  const tags = late.tags();
  expect([isSequenceHeader(tags[0]!), isSequenceHeader(tags[1]!), isKeyFrame(tags[2]!)]).toEqual([true, true, true]);
  expect(tags[2]!.timestampMs).toBe(495);
  // Who is in a hurry gets what has gone out since the last key frame as well.
  expect(new FlvReader().push(Buffer.concat(atOnce))[2]!.timestampMs).toBe(0);
  first.leave();
  const before = first.tags().length;
  programme.feed(stage, picture(1_050));
  expect(first.tags()).toHaveLength(before);
  expect(programme.lengthMs).toBeGreaterThan(1_000);
});

describe('the break card', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  /** 3.2 seconds with a key frame each second, as cards are made. */
  const card = () =>
    new BreakCardLoop([
      ...heads,
      ...Array.from({ length: 96 }, (_, at) => picture(Math.round((at * 1000) / 30), at % 30 === 0)),
      ...Array.from({ length: 150 }, (_, at) => sound(Math.round((at * 64) / 3))),
    ]);

  test('goes round and round in the time of the wall, without a gap, and stops at once', () => {
    const loop = card();
    const sent: FlvTag[] = [];
    loop.start(
      (tag) => sent.push(tag),
      () => Date.now(),
    );
    expect(sent.filter((tag) => isKeyFrame(tag))).toHaveLength(1); // at once
    jest.advanceTimersByTime(60_000);
    loop.stop();
    const count = sent.length;
    jest.advanceTimersByTime(5_000);
    expect(sent).toHaveLength(count);
    const times = sent.filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag)).map(({ timestampMs }) => timestampMs);
    expect(times.length).toBeGreaterThan(1_790);
    expect(Math.max(...times.slice(1).map((time, at) => time - times[at]!))).toBeLessThanOrEqual(34);
    expect(times).toEqual([...times].sort((a, b) => a - b));
  });

  test('what is long past, as after the machine has slept, is left out', () => {
    const loop = card();
    const sent: FlvTag[] = [];
    let slept = 0;
    loop.start(
      (tag) => sent.push(tag),
      () => Date.now() + slept,
    );
    slept = 3_600_000;
    jest.advanceTimersByTime(1_000);
    loop.stop();
    expect(sent.length).toBeLessThan(600);
    expect(sent.at(-1)!.timestampMs).toBeGreaterThan(3_600_000);
  });

  test('music takes the place of its silence, and goes round by itself', () => {
    const tune = [
      { kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 0, 0x12, 0x10) } as const,
      // Five seconds, in frames of 20 ms, each of which tells where it stood.
      ...Array.from({ length: 250 }, (_, at): FlvTag => ({ kind: 'audio', timestampMs: at * 20, data: Uint8Array.of(0xaf, 1, at) })),
    ];
    const loop = new BreakCardLoop([...heads, picture(0, true), picture(33), picture(67), sound(0), sound(21)], tune);
    const sent: FlvTag[] = [];
    loop.start(
      (tag) => sent.push(tag),
      () => Date.now(),
    );
    jest.advanceTimersByTime(11_000);
    loop.stop();
    const heard = sent.filter(({ kind }) => kind === 'audio');
    expect(heard[0]!.data).toEqual(tune[0]!.data);
    expect(heard.slice(1).map(({ timestampMs, data }) => [timestampMs, data[2]])).toEqual(
      Array.from({ length: heard.length - 1 }, (_, at) => [at * 20, at % 250]),
    );
    expect(heard.length).toBeGreaterThan(540);
    expect(sent.filter((tag) => isKeyFrame(tag)).length).toBeGreaterThan(100);
    const times = sent.filter((tag) => !isSequenceHeader(tag)).map(({ timestampMs }) => timestampMs);
    expect(times).toEqual([...times].sort((a, b) => a - b));
  });

  test('what takes no time is no card; music that takes none leaves the card its own sound', () => {
    expect(() => new BreakCardLoop([...heads, picture(0, true), picture(0)])).toThrow('There is no picture');
    const loop = new BreakCardLoop([...heads, picture(0, true), picture(33), sound(5)], [heads[1]!, { ...sound(0), data: Uint8Array.of(0xaf, 1, 99) }]);
    const sent: FlvTag[] = [];
    loop.start(
      (tag) => sent.push(tag),
      () => Date.now(),
    );
    loop.stop();
    jest.advanceTimersByTime(50);
    expect(sent.map(({ data }) => data[2])).not.toContain(99);
  });

  test('a file without a picture is no card', () => {
    expect(() => new BreakCardLoop([...heads, sound(0)])).toThrow('There is no picture');
    expect(() => new BreakCardLoop([])).toThrow('There is no picture');
  });
});
