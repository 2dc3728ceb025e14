import { codecOf, pictureSizeOf, soundOf } from './codecs';
import type { FlvTag } from './tags';

const tag = (kind: FlvTag['kind'], hex: string): FlvTag => ({
  kind,
  timestampMs: 0,
  data: Uint8Array.from(hex.match(/../g) ?? [], (byte) => parseInt(byte, 16)),
});

// As an encoder writes them.
test.each([
  ['1280×720, main', '1700000000014d401fffe10019674d401feca02802dd8088000003000800000301e078c18cb001000568ebe3cb20', { width: 1280, height: 720 }],
  [
    '1920×1080, high, cropped from 1088',
    '170000000001640028ffe1001b67640028acd940780227e5c044000003000400000300f03c60c65801000668ebe3cb22c0fdf8f800',
    { width: 1920, height: 1080 },
  ],
  ['640×360, baseline', '17000000000142c01effe100196742c01ed900a02ff970110000030001000003003c0f162e4801000568cb83cb20', { width: 640, height: 360 }],
  ['720×576, high', '17000000000164001fffe100196764001facd940b4126c0440000003004000000f03c60c658001000668ebe3cb22c0fdf8f800', { width: 720, height: 576 }],
])('the size of a picture is read from its configuration: %s', (_, hex, size) => {
  expect(pictureSizeOf(tag('video', hex))).toEqual(size);
});

test('what cannot be read has no size, and reading it ends', () => {
  for (const hex of ['', '17', '1700000000', '1700000000014d401fffe10004674d4000', `17000000000164001fffe100ff67${'00'.repeat(40)}`])
    expect(pictureSizeOf(tag('video', hex))).toBeNull();
});

test('sound and codecs', () => {
  expect(soundOf(tag('audio', 'af001190'))).toEqual({ rate: 48_000, channels: 2 });
  expect(soundOf(tag('audio', 'af001210'))).toEqual({ rate: 44_100, channels: 2 });
  expect(soundOf(tag('audio', 'af00'))).toBeNull();
  expect([
    codecOf(tag('video', '17')),
    codecOf(tag('video', '12')),
    codecOf(tag('audio', 'af')),
    codecOf(tag('audio', '2f')),
    codecOf(tag('video', '')),
  ]).toEqual(['H.264', 'H.263', 'AAC', 'MP3', null]);
});
