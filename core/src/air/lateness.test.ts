import { instant } from '../time/instant';
import { BehindMeasured, livePlaylistOf, PRINT_BYTES, sayBehind, whenOut, whereOneBegins } from './lateness';

const playlist = (lines: string[], target = 1) => ['#EXTM3U', '#EXT-X-VERSION:3', `#EXT-X-TARGETDURATION:${target}`, ...lines, ''].join('\n');
const parts = (...seconds: number[]) => seconds.flatMap((each, at) => [`#EXTINF:${each.toFixed(3)},`, `${at}.ts`]);

test('a live playlist is read; what is over, or none, is not', () => {
  expect(livePlaylistOf(playlist(['#EXT-X-DISCONTINUITY', ...parts(1, 0.96)]))).toEqual({
    targetS: 1,
    parts: [
      { uri: '0.ts', seconds: 1 },
      { uri: '1.ts', seconds: 0.96 },
    ],
  });
  for (const text of [playlist([...parts(1), '#EXT-X-ENDLIST']), playlist([]), '<html>', '#EXTM3U\n#EXTINF:1,\n0.ts']) expect(livePlaylistOf(text)).toBeNull();
});

test.each<[string, number[], number, string, number]>([
  ['three targets before the end', [1, 1, 1, 1, 1], 1, '2.ts', 0],
  ['within a part', [2, 2, 2], 1, '1.ts', 1],
  ['all that there is, where it is less', [1, 1], 2, '0.ts', 0],
])('one begins %s', (_, seconds, target, uri, intoS) => {
  expect(whereOneBegins(livePlaylistOf(playlist(parts(...seconds), target))!)).toEqual({ uri, intoS });
});

const print = (of: number, noise = 0) => Uint8Array.from({ length: PRINT_BYTES }, (_, at) => ((at * of) % 251) / 2 + (at % 2 ? noise : 0));

test('a picture is found again, also where a network has encoded it anew', () => {
  const out = [3, 5, 7, 11].map((of, index) => ({ at: 1_000 * index, grey: print(of) }));
  expect(whenOut(print(7), out)).toBe(2_000);
  expect(whenOut(print(5, 4), out)).toBe(1_000);
  // Of two that are all but alike nobody knows which it was.
  expect(whenOut(print(5, 4), [...out, { at: 9_000, grey: print(5, 1) }])).toBeNull();
  expect(whenOut(print(13), out)).toBeNull();
});

test('pictures that stand still tell nothing, and nor does nothing', () => {
  const still = [0, 1, 2, 3].map((at) => ({ at: 1_000 * at, grey: print(5, 0) }));
  expect(whenOut(print(5), still)).toBeNull();
  expect(whenOut(print(5), [])).toBeNull();
  expect(whenOut(print(5).subarray(1), [{ at: 1, grey: print(5) }])).toBeNull();
  // Only a few digits of a countdown differ.
  const counting = [0, 1, 2].map((at) => ({ at, grey: print(5).map((byte, place) => (place >= 1_000 && place < 1_005 ? 40 * at + 10 : byte)) }));
  expect(whenOut(counting[1]!.grey, counting)).toBe(1);
  // Two key frames may fall into one second of it.
  expect(whenOut(print(7), [...counting, { at: 5_000, grey: print(7) }, { at: 6_000, grey: print(7) }])).toBe(5_500);
});

test('the median of the last counts, for ten minutes; then what the network says', () => {
  const behind = new BehindMeasured();
  expect(behind.at(instant(0), null)).toBeNull();
  expect(sayBehind(behind.at(instant(0), 18_000)!, 'Guildhand')).toBe('Seen about 18 s late, as Guildhand says.');
  for (const [at, ms] of [
    [1_000, 6_800],
    [61_000, 7_100],
    [121_000, 44_000],
    [181_000, 200_000],
    [241_000, -3],
  ] as const)
    behind.add(instant(at), ms);
  expect(behind.at(instant(122_000), 4_000)).toEqual({ ms: 7_100, at: 121_000 });
  expect(sayBehind(behind.at(instant(122_000), 4_000)!, 'Reelmoor')).toBe('Seen 7 s late.');
  expect(behind.at(instant(121_000 + 11 * 60_000), 4_000)).toEqual({ ms: 4_000, at: null });
});
