import type { FlvTag } from '../flv/tags';
import { rulesFor } from '../channels/rules';
import { sayBeyondLimit, sayOutsideFacts, sayOutsideTrouble } from '../words/outside';
import { beyondLimits, NO_FACTS, otherTroubles, OutsideMeasure, reasonsToNormalise, type OutsideFacts } from './outside-signal';

const good: OutsideFacts = {
  ...{ video: 'H.264', audio: 'AAC', width: 1280, height: 720, framesPerSecond: 30, kbps: 2_480, keyFramesMs: 2_000, soundRate: 48_000, soundChannels: 2 },
};

test('what comes is measured over five seconds', () => {
  const measure = new OutsideMeasure();
  const picture = (at: number): FlvTag => ({
    kind: 'video',
    timestampMs: at * 40,
    data: new Uint8Array(10_000).fill(1).fill(at % 50 === 0 ? 0x17 : 0x27, 0, 1),
  });
  measure.note({ kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 0, 0x11, 0x90) }, 0);
  for (let at = 0; at <= 250; at++) measure.note(picture(at), at * 40);
  expect(measure.facts).toMatchObject({ video: 'H.264', audio: 'AAC', framesPerSecond: 25, keyFramesMs: 2_000, soundRate: 48_000 });
  expect(measure.facts.kbps).toBeGreaterThan(1_950);
  expect(measure.facts.kbps).toBeLessThan(2_050);
});

test('what can go out as it comes is left alone, and so is what is not known yet', () => {
  expect(reasonsToNormalise(good)).toEqual([]);
  expect(reasonsToNormalise(NO_FACTS)).toEqual([]);
  expect(reasonsToNormalise({ ...good, height: 360, width: 640, framesPerSecond: 25 })).toEqual([]);
  expect(otherTroubles(good)).toEqual([]);
});

test.each([
  [{ video: 'H.265' }, 'Its picture is H.265; networks take H.264.'],
  [{ audio: 'MP3' }, 'Its sound is MP3; networks take AAC.'],
  [{ width: 1024, height: 768 }, 'Its picture is 1024×768, which is not 16 to 9.'],
  [{ width: 1920, height: 1080 }, 'Its picture has 1080 lines; 720 go out.'],
  [{ framesPerSecond: 60 }, 'It sends 60 pictures a second; 30 go out.'],
  [{ keyFramesMs: 10_000 }, 'Its key frames are 10.0 s apart, and networks want one every 2 s.'],
  [{ kbps: 12_000 }, 'It sends 12,000 kbit/s, more than networks take.'],
])('%j is made anew, and said', (change: Partial<OutsideFacts>, words) => {
  expect(reasonsToNormalise({ ...good, ...change }).map(sayOutsideTrouble)).toEqual([words]);
});

test('silence and jerks are said, and change nothing', () => {
  expect(otherTroubles({ ...good, audio: null }).map(sayOutsideTrouble)).toEqual(['It sends no sound: viewers hear nothing.']);
  expect(otherTroubles({ ...good, framesPerSecond: 12 })).toHaveLength(1);
  expect(sayOutsideFacts(good)).toBe('1280×720, 30 pictures a second, 2,480 kbit/s, a key frame every 2.0 s, AAC 48 kHz');
});

test('what single channels would not take is said with their limit, and for what is made anew by what goes out', () => {
  const handle = rulesFor('pipwire', 'handle').video;
  const said = (facts: OutsideFacts, normalised = false) =>
    beyondLimits(facts, normalised, handle).map((beyond) => sayBeyondLimit(beyond, '@alderfellsky (Pipwire)'));
  expect(said({ ...good, kbps: 3_900 })).toEqual([
    '@alderfellsky (Pipwire) takes 2,500 kbit/s at most; this has 3,900 kbit/s, and may be cut off. Set the encoder lower.',
  ]);
  expect(said({ ...good, kbps: 9_000, height: 1_080 }, true)).toEqual([]);
  expect(beyondLimits({ ...good, kbps: 900 }, false, rulesFor('reelmoor', 'library channel').video)).toEqual([{ code: 'below', kbps: 900, least: 2_500 }]);
  expect(beyondLimits({ ...good, height: 1_080 }, false, handle)).toContainEqual({ code: 'lines', height: 1_080, most: 720 });
  expect(beyondLimits(NO_FACTS, false, handle)).toEqual([]);
  expect(beyondLimits(good, false, null)).toEqual([]);
});
