import fc from 'fast-check';
import { ProgrammeInput, ProgrammeSplicer } from './programme';
import { isKeyFrame, isSequenceHeader, type FlvTag } from './tags';

/** Tags that carry the number of their input, so that it can be told whose they are. */
const configuration = (of: number): FlvTag[] => [
  { kind: 'video', timestampMs: 0, data: Uint8Array.of(0x17, 0, 0, 0, 0, of) },
  { kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 0, 0x11, of) },
];
const picture = (of: number, timestampMs: number, key: boolean): FlvTag => ({
  kind: 'video',
  timestampMs,
  data: Uint8Array.of(key ? 0x17 : 0x27, 1, 0, 0, 0, of),
});
const sound = (of: number, timestampMs: number): FlvTag => ({ kind: 'audio', timestampMs, data: Uint8Array.of(0xaf, 1, of) });
const inputOf = ({ data }: FlvTag): number => data[data.length - 1]!;

function expectForward(tags: readonly FlvTag[]): void {
  for (const kind of ['audio', 'video'] as const) {
    const times = tags.filter((tag) => tag.kind === kind).map(({ timestampMs }) => timestampMs);
    expect(times.findIndex((time, at) => at > 0 && time < times[at - 1]!)).toBe(-1);
  }
  const pictures = tags.filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag)).map(({ timestampMs }) => timestampMs);
  expect(new Set(pictures).size).toBe(pictures.length);
}

test('inputs joined end to end begin with configuration and key frame, and time never goes back', () => {
  const sources = fc.array(fc.tuple(fc.nat({ max: 1_000_000 }), fc.integer({ min: 2, max: 40 }), fc.integer({ min: 2, max: 10 })), {
    minLength: 1,
    maxLength: 5,
  });
  fc.assert(
    fc.property(sources, (all) => {
      const splicer = new ProgrammeSplicer();
      const out: FlvTag[] = [];
      all.forEach(([from, pictures, gop], of) => {
        const input = new ProgrammeInput(String(of));
        splicer.select(input);
        const tags = [...configuration(of), sound(of, from), picture(of, from, false)];
        for (let at = 1; at <= pictures; at++) tags.push(picture(of, from + at * 33, at % gop === 1), sound(of, from + at * 33 + 5));
        const joined = tags.flatMap((tag) => splicer.push(input, tag, null));
        expect(isSequenceHeader(joined[0]!)).toBe(true);
        expect(isKeyFrame(joined.find((tag) => tag.kind === 'video' && !isSequenceHeader(tag))!)).toBe(true);
        out.push(...joined);
      });
      expectForward(out);
      const pictures = out.filter((tag) => tag.kind === 'video' && !isSequenceHeader(tag)).map(({ timestampMs }) => timestampMs);
      expect(pictures[0]).toBe(0);
      for (let at = 1; at < pictures.length; at++) expect(pictures[at]! - pictures[at - 1]!).toBeLessThanOrEqual(33 + 38);
    }),
    { numRuns: 150, seed: 11 },
  );
});

test('two inputs that talk at once for an hour: the programme keeps wall time, and each change begins whole and unmixed', () => {
  // Two clocks that run apart from the wall's by 200 and 150 millionths, and pieces that come a quarter of a second at a time, unevenly.
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 2 ** 31 - 2 }), (seed) => {
      let state = seed;
      const dice = (most: number) => (state = (state * 48_271) % 2_147_483_647) % most;
      const splicer = new ProgrammeSplicer();
      const inputs = [0, 1].map((of) => ({
        of,
        input: new ProgrammeInput(String(of)),
        pace: of === 0 ? 1.0002 : 0.99985,
        mediaMs: 50_000 * (of + 1),
        untilMs: 50_000 * (of + 1),
        pictures: 0,
      }));
      const out: { tag: FlvTag; now: number }[] = [];
      const hand = (to: (typeof inputs)[number], tag: FlvTag, now: number) => {
        for (const each of splicer.push(to.input, tag, now)) out.push({ tag: each, now });
      };
      for (const each of inputs) for (const tag of configuration(each.of)) hand(each, tag, 0);
      let selected = 0;
      let changeAt = 0;
      for (let now = 0; now < 3_600_000; now += 250) {
        if (now >= changeAt) {
          selected = 1 - selected;
          splicer.select(inputs[selected]!.input);
          changeAt = now + 3_000 + dice(400_000);
        }
        for (const each of inputs) {
          const at = now + dice(120);
          each.untilMs += 250 * each.pace;
          for (; each.mediaMs < each.untilMs; each.mediaMs += 1000 / 30) {
            hand(each, picture(each.of, Math.round(each.mediaMs), each.pictures++ % 30 === 0), at);
            hand(each, sound(each.of, Math.round(each.mediaMs) + 5), at);
          }
        }
      }
      expectForward(out.map(({ tag }) => tag));
      // How far it is from the wall clock: the middle of three seconds, since pictures come some at a time. What follows a change is
      // set right within two seconds, and until then no further away than the pieces are long.
      const changes = out.flatMap(({ tag, now }) => (isSequenceHeader(tag) ? [now] : []));
      let sinceChange = 0;
      let furthest = 0;
      let last: number[] = [];
      for (const { tag, now } of out) {
        if (tag.kind !== 'video' || isSequenceHeader(tag)) continue;
        furthest = Math.max(furthest, Math.abs(now - tag.timestampMs));
        while (changes.length && changes[0]! <= now) sinceChange = changes.shift()!;
        if (now - sinceChange < 2_000) last = [];
        else last.push(now - tag.timestampMs);
        if (last.length < 90) continue;
        expect(Math.abs(last.sort((a, b) => a - b)[45]!)).toBeLessThan(100);
        last = [];
      }
      expect(furthest).toBeLessThan(750);
      let whose = -1;
      for (let at = 0; at < out.length; at++) {
        const of = inputOf(out[at]!.tag);
        if (of === whose) continue;
        const [first, second_, third] = out.slice(at, at + 3).map(({ tag }) => tag);
        expect([isSequenceHeader(first!), isSequenceHeader(second_!), isKeyFrame(third!), inputOf(second_!), inputOf(third!)]).toEqual([
          true,
          true,
          true,
          of,
          of,
        ]);
        whose = of;
      }
    }),
    { numRuns: 3, seed: 5 },
  );
});

test('a late tag of an input that is not on changes nothing: neither picture nor sound of the one that is', () => {
  const splicer = new ProgrammeSplicer();
  const [one, other] = [new ProgrammeInput('one'), new ProgrammeInput('other')];
  splicer.select(one);
  for (const tag of configuration(1)) splicer.push(one, tag, 0);
  for (const tag of configuration(2)) splicer.push(other, tag, 0);
  splicer.push(one, picture(1, 100, true), 0);
  splicer.select(other);
  expect(splicer.push(other, picture(2, 900, true), 33)).toHaveLength(3);
  expect(splicer.push(one, sound(1, 140), 40)).toEqual([]);
  expect(splicer.push(one, configuration(1)[0]!, 40)).toEqual([]);
  expect(splicer.push(one, picture(1, 133, true), 40)).toEqual([]);
  expect(splicer.push(other, sound(2, 910), 45)).toMatchObject([{ kind: 'audio', timestampMs: 43 }]);
});

test('half an hour without anybody is half an hour in the programme', () => {
  const splicer = new ProgrammeSplicer();
  const input = new ProgrammeInput('stage');
  splicer.select(input);
  for (const tag of configuration(1)) splicer.push(input, tag, 0);
  splicer.push(input, picture(1, 0, true), 400);
  const again = new ProgrammeInput('stage once more');
  splicer.select(again);
  for (const tag of configuration(2)) splicer.push(again, tag, 1_800_000);
  expect(splicer.push(again, picture(2, 77, true), 1_800_400).at(-1)).toMatchObject({ timestampMs: 1_800_400 });
  expect(splicer.lengthMs).toBe(1_800_433);
});
