import { hasRoom, PictureRate, renditionFor, sayRendition } from './rendition';

const OUT = { height: 720, kbps: 2_500 };

test.each([
  ['nothing is known of what it takes', null, null],
  ['it takes it as it is', { maxHeight: 1080, maxKbps: 6_000 }, null],
  // A limit that a steady picture keeps is not broken by its swings.
  ['it takes just that', { maxHeight: 720, maxKbps: 2_500 }, null],
  ['it takes fewer kbit/s', { maxHeight: 1080, maxKbps: 2_000 }, { height: 540, kbps: 1_700 }],
  ['it takes very few', { maxHeight: 1080, maxKbps: 600 }, { height: 360, kbps: 510 }],
  ['it takes next to none', { maxHeight: 1080, maxKbps: 100 }, { height: 360, kbps: 200 }],
  ['it takes fewer lines', { maxHeight: 480, maxKbps: 6_000 }, { height: 480, kbps: 2_500 }],
])('where %s', (_, takes, made) => {
  expect(renditionFor(OUT, takes)).toEqual(made);
});

test('room is left to everything else', () => {
  expect([hasRoom(0.2, 2), hasRoom(1.2, 2), hasRoom(1.2, 4), hasRoom(9, 4)]).toEqual([true, false, true, false]);
});

test('the host is told what is made and what it costs, or that it cannot be', () => {
  expect(sayRendition({ height: 540, kbps: 1_700, share: null })).toBe('Made smaller for it: 540 lines at 1,700 kbit/s.');
  expect(sayRendition({ height: 540, kbps: 1_700, share: 0.414 })).toContain('for 41 % of a processor core here');
  expect(sayRendition('no room')).toContain('takes less than goes out');
});

test('the highest rate that pictures have had is known, and a pause is none', () => {
  const rate = new PictureRate();
  const send = (fromMs: number, forMs: number, kbps: number) => {
    for (let at = fromMs; at < fromMs + forMs; at += 40) rate.note({ kind: 'video', timestampMs: at, data: new Uint8Array(kbps * 5) });
  };
  send(0, 20_000, 1_000);
  expect(rate.mostKbps).toBeCloseTo(1_000, -2);
  send(20_000, 20_000, 4_000);
  send(100_000, 20_000, 500);
  expect(rate.mostKbps).toBeCloseTo(4_000, -2);
  rate.note({ kind: 'audio', timestampMs: 121_000, data: new Uint8Array(9_000_000) });
  expect(rate.mostKbps).toBeCloseTo(4_000, -2);
});
