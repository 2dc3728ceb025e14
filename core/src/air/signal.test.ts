import { PICTURE_KBPS } from './uplink-rate';
import { faultsOf, SignalWatch, type SignalFacts } from './signal';

const GOOD: SignalFacts = {
  ...{ camera: 'good', microphone: 'good', loudness: 'good', pictures: { made: 30, missed: 0 }, hidden: false },
  line: { connected: true, confirmedKbps: 2_600, uplink: { pictureKbps: PICTURE_KBPS[0], givesKbps: null, tooSlow: false } },
  channels: [{ id: 'a', name: 'Sky Club', lamp: 'lit', words: 'Public. 12 watching.' }],
};
const line = (change: object) => ({ line: { ...GOOD.line!, ...change } });

/** Twelve made faults, and the way and the kind by which each is to be named. */
const FAULTS: [string, string, Partial<SignalFacts>][] = [
  ['camera', 'lost', { camera: 'lost' }],
  ['camera', 'frozen', { camera: 'frozen' }],
  ['camera', 'very dark', { camera: 'very dark' }],
  ['camera', 'backlit', { camera: 'backlit' }],
  ['sound', 'silent', { microphone: 'silent' }],
  ['sound', 'one-sided', { microphone: 'one-sided' }],
  ['sound', 'humming', { microphone: 'humming' }],
  ['sound', 'clips', { loudness: 'clips' }],
  ['stage', 'few pictures', { pictures: { made: 14, missed: 16 } }],
  ['line', 'broken', line({ connected: false })],
  ['line', 'thin', line({ uplink: { pictureKbps: 900, givesKbps: 1_100, tooSlow: false } })],
  ['channel a', 'fault', { channels: [{ ...GOOD.channels[0]!, lamp: 'fault', words: 'Nothing arrives there.' }] }],
];

test.each(FAULTS)('%s, %s: named within five seconds, by nothing else, and taken back within five', (way, kind, change) => {
  const watch = new SignalWatch();
  const standing = (facts: SignalFacts) => watch.hear(facts).flatMap(({ fault }) => (fault ? [`${fault.way}: ${fault.kind}`] : []));
  for (let second = 0; second < 10; second++) expect(standing(GOOD)).toEqual([]);
  const said = Array.from({ length: 5 }, () => standing({ ...GOOD, ...change }));
  expect(new Set(said.flat())).toEqual(new Set([`${way}: ${kind}`]));
  expect(said.at(-1)).toEqual([`${way}: ${kind}`]);
  const after = Array.from({ length: 5 }, () => standing(GOOD));
  expect(after.at(-1)).toEqual([]);
  // It does not flicker: once taken back it stays so.
  const firstGone = after.findIndex((each) => !each.length);
  expect(after.slice(firstGone).flat()).toEqual([]);
});

test('in half an hour of a good show with its hiccups nothing is said', () => {
  const watch = new SignalWatch();
  const hiccup: Partial<SignalFacts>[] = [
    { pictures: { made: 16, missed: 14 } },
    { microphone: 'silent' },
    { camera: 'very dark' },
    line({ connected: false }),
    {},
  ];
  for (let second = 0; second < 1_800; second++) {
    const facts = second % 20 === 0 ? { ...GOOD, ...hiccup[(second / 20) % hiccup.length] } : GOOD;
    expect(watch.hear(facts).map(({ fault }) => fault)).toEqual(GOOD_WAYS);
  }
});
const GOOD_WAYS = [null, null, null, null, null];

test('what comes and goes every other second stands, instead of flickering', () => {
  const watch = new SignalWatch();
  const dark = { ...GOOD, camera: 'very dark' as const };
  for (let second = 0; second < 4; second++) watch.hear(dark);
  const said = Array.from({ length: 20 }, (_, second) => watch.hear(second % 2 ? dark : GOOD)[0]!.fault?.kind);
  expect(new Set(said)).toEqual(new Set(['very dark']));
});

test('of two faults of a way the heavier is said, with what to do; a hidden tab is told as such', () => {
  const watch = new SignalWatch();
  const sound = watch.hear({ ...GOOD, microphone: 'humming', loudness: 'clips' })[1]!;
  expect(sound.fault).toMatchObject({ kind: 'clips', weight: 'bad', todo: expect.stringContaining('mixer') });
  let stage = watch.hear(GOOD)[2]!;
  for (let second = 0; second < 4; second++) stage = watch.hear({ ...GOOD, pictures: { made: 1, missed: 29 }, hidden: true })[2]!;
  expect(stage).toMatchObject({ measured: '1 picture a second.', fault: { todo: expect.stringContaining('to the front') } });
});

test('what is not used is no fault', () => {
  const watch = new SignalWatch();
  const none: SignalFacts = { camera: null, microphone: null, loudness: null, pictures: null, hidden: true, line: null, channels: [] };
  for (let second = 0; second < 10; second++) expect(watch.hear(none).map(({ fault }) => fault)).toEqual([null, null, null, null]);
  expect(watch.hear(none).map(({ used, measured }) => [used, measured])).toEqual([
    [false, 'No camera is used.'],
    [true, 'Your microphone is shut.'],
    [false, 'Not measured yet.'],
    [false, 'Nothing is sent from here.'],
  ]);
});

test('a machine that does not keep up is offered guests’ pictures smaller, once', () => {
  const todo = (guests: SignalFacts['guests']) => faultsOf({ ...GOOD, pictures: { made: 14, missed: 16 }, guests }).find(({ way }) => way === 'stage')!.todo;
  expect(todo({ seen: 2, smaller: false })).toContain('pictures come smaller');
  for (const guests of [undefined, { seen: 0, smaller: false }, { seen: 2, smaller: true }]) expect(todo(guests)).not.toContain('come smaller');
});
