import type { FlvTag } from '../flv/tags';
import { isSequenceHeader } from '../flv/tags';
import { CardInHole, HoleFilling, holesOf, stretchesFor, type PartNote } from './holes';

const part = (atMs: number, stretch: number | null, shiftMs = 0, lost = false): PartNote => ({ atMs, stretch, shiftMs, lost });
const head = (of: number): FlvTag => ({ kind: 'video', timestampMs: 0, data: Uint8Array.of(0x17, 0, 0, 0, 0, of) });
const picture = (of: number, timestampMs: number): FlvTag => ({
  kind: 'video',
  timestampMs,
  data: Uint8Array.of(timestampMs % 1000 === 0 ? 0x17 : 0x27, 1, 0, 0, 0, of),
});
const sound = (of: number, timestampMs: number): FlvTag => ({ kind: 'audio', timestampMs, data: Uint8Array.of(0xaf, 1, of) });
/** Ten pictures a second with a key frame each second, and sound beside each, in the stretch's own times. */
const tagsOf = (of: number, seconds: number): FlvTag[] => [
  head(of),
  ...Array.from({ length: seconds * 10 }, (_, at) => [picture(of, at * 100), sound(of, at * 100 + 5)]).flat(),
];
const ofWhom = ({ data }: FlvTag) => data[data.length - 1]!;
const pictures = (tags: readonly FlvTag[]) => tags.filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag));

test('a hole is where the card stood although nobody had chosen it, with what was seen before and after', () => {
  const notes = [part(0, 1, 50), part(8_000, 1, 62), part(20_000, null, 0, true), part(47_000, 2, 41_000), part(60_000, null), part(70_000, 2, 41_010)];
  expect(holesOf(notes)).toEqual([
    { fromMs: 20_000, toMs: 47_000, before: { stretch: 1, shiftMs: 62 }, joinsOn: true, after: { stretch: 2, shiftMs: 41_000 } },
  ]);
});

test('a break that was chosen is never filled, also where the line goes in its middle; what is lost after it begins anew', () => {
  expect(holesOf([part(0, 1), part(5_000, null), part(9_000, 1, 10)])).toEqual([]);
  const [hole, ...others] = holesOf([part(0, 1), part(5_000, null), part(12_000, null, 0, true), part(30_000, 1, 10)]);
  expect(others).toEqual([]);
  expect(hole).toMatchObject({ fromMs: 12_000, toMs: 30_000, joinsOn: false });
});

test('a hole that nothing ended, and one that a line ended', () => {
  expect(holesOf([part(0, 1), part(5_000, null, 0, true)])).toMatchObject([{ fromMs: 5_000, toMs: null, after: null }]);
  expect(holesOf([part(0, 1), part(5_000, null, 0, true), part(9_000, null)])).toMatchObject([{ toMs: 9_000, after: null }]);
});

test('what was prepared by somebody whom the stage was never given to is not taken', () => {
  const notes = [part(0, 1), part(5_000, null, 0, true), { keptOut: 2 }, { keptOut: 4 }, part(60_000, 4, 55_000)];
  const [hole] = holesOf(notes);
  expect(stretchesFor(hole!, notes, [1, 2, 3, 4, 5])).toEqual([1, 3, 4]);
});

test('the stretch that came late joins on to its last picture, and the next begins where it was placed', () => {
  const [hole] = holesOf([part(0, 1, 500), part(4_000, null, 0, true), part(10_000, 2, 7_800)]);
  // Its picture of 2 s was the last that went out, at 2.5 s.
  const filling = new HoleFilling(hole!, { audio: 2_505, video: 2_500 });
  filling.begin(1);
  const first = tagsOf(1, 20).flatMap((tag) => filling.push(tag));
  expect(filling.over).toBe(true);
  filling.begin(2);
  const second = tagsOf(2, 20).flatMap((tag) => filling.push(tag));
  const times = pictures([...first, ...second]).map((tag) => [ofWhom(tag), tag.timestampMs]);
  expect(times[0]).toEqual([1, 2_600]);
  expect(times.filter(([of]) => of === 1).at(-1)).toEqual([1, 7_700]);
  expect(times.filter(([of]) => of === 2)[0]).toEqual([2, 7_800]);
  expect(times.at(-1)).toEqual([2, 9_900]);
  for (let at = 1; at < times.length; at++) expect(times[at]![1]! - times[at - 1]![1]!).toBe(100);
  expect(second.filter(isSequenceHeader).map(ofWhom)).toEqual([2]);
});

test('a stretch that was never seen begins with a key frame where the one before it ends', () => {
  const [hole] = holesOf([part(0, 1), part(3_000, null, 0, true), part(20_000, 3, 15_000)]);
  const filling = new HoleFilling(hole!, { audio: 1_505, video: 1_500 });
  filling.begin(1);
  const first = tagsOf(1, 4).flatMap((tag) => filling.push(tag));
  filling.begin(2);
  const second = tagsOf(2, 60).flatMap((tag) => filling.push(tag));
  expect(pictures(first).at(-1)!.timestampMs).toBe(3_900);
  expect(pictures(second)[0]!.timestampMs).toBe(3_905 + 33);
  expect(pictures(second).at(-1)!.timestampMs).toBeLessThan(15_000);
  expect(pictures(second).at(-1)!.timestampMs).toBeGreaterThan(14_850);
});

test('after a chosen break nothing of its time comes in: the first picture is a key frame well after the press that ended it', () => {
  const [hole] = holesOf([part(0, 1), part(2_000, null), part(5_400, null, 0, true), part(12_000, 1, 0)]);
  const filling = new HoleFilling(hole!, { audio: 5_380, video: 5_390 });
  filling.begin(1);
  const filled = tagsOf(1, 20).flatMap((tag) => filling.push(tag));
  expect(filled[0]).toMatchObject({ kind: 'video', timestampMs: 8_000 });
  expect(isSequenceHeader(filled[0]!)).toBe(true);
  expect(pictures(filled)[0]!.timestampMs).toBe(8_000);
  expect(filled.at(-1)!.timestampMs).toBeLessThan(12_000);
});

test('where nothing came there is nothing, and where it ended early the card comes back with a key frame', () => {
  const [hole] = holesOf([part(0, 1), part(3_000, null, 0, true), part(30_000, 2, 29_000)]);
  const filling = new HoleFilling(hole!, { audio: 2_905, video: 2_900 });
  filling.begin(1);
  expect(tagsOf(1, 2).flatMap((tag) => filling.push(tag))).toEqual([]);

  const card = new CardInHole();
  const shown = tagsOf(9, 20).flatMap((tag) => {
    if (tag.timestampMs === 5_000 && tag.kind === 'video') card.makeWay(9_000);
    return card.push(tag);
  });
  expect(shown.filter(({ timestampMs }) => timestampMs > 4_999 && timestampMs < 11_000)).toEqual([]);
  const again = shown.findIndex(({ timestampMs }) => timestampMs === 11_000);
  expect(isSequenceHeader(shown[again]!)).toBe(true);
  expect(pictures(shown.slice(again))[0]!.timestampMs).toBe(11_000);
});
