import { readyPoints, sayReady, UPLINK_NEEDS_KBPS, type ReadyFacts, type StageFacts } from './ready';

const STAGE: StageFacts = { deviceTrouble: '', sound: 'good', heard: true, camera: 'good', uplinkKbps: 20_000 };
const channel = (name: string, more = {}) => ({ name, stands: true, refusal: '', access: true, conditions: [], ...more });
const READY: ReadyFacts = {
  ...{ title: 'Dusk Report', channels: [channel('Alderfell Sky Club (Reelmoor)')], hasPicture: true, hasWaiting: true, houseIsOpen: true },
  ...{ overMs: 0, staleGraphics: 0, uncleared: [], clipsAmiss: [], roomTrouble: '', rehearsed: '2 h ago', stage: STAGE },
};
const open = (facts: Partial<ReadyFacts>) =>
  readyPoints({ ...READY, ...facts })
    .filter(({ state }) => state === 'look')
    .map(({ what, words, at }) => [what, words, at]);
const onStage = (stage: Partial<StageFacts>) => open({ stage: { ...STAGE, ...stage } })[0]?.[1];

test('where all is ready nothing is to be looked at, and it is said so', () => {
  expect(open({})).toEqual([]);
  expect(sayReady(readyPoints(READY))).toBe('All is ready, as far as can be known here.');
});

test('each thing that is not ready says why, and leads to where it is put right', () => {
  expect(open({ channels: [channel('The hall', { stands: false, refusal: 'the title is too long' })] })).toEqual([
    ['Who publishes where', 'Does not stand on The hall (the title is too long).', 'where'],
  ]);
  expect(open({ channels: [] })[0]).toEqual(['Who publishes where', 'On no channel yet.', 'where']);
  expect(open({ channels: [channel('The hall', { access: false })] })[0]).toEqual(['Access', 'Has run out for The hall: link again.', '/channels']);
  expect(open({ hasPicture: false })).toEqual([['Title and picture', 'No thumbnail yet.', 'picture']]);
  expect(open({ overMs: 95_000 })[0]![1]).toBe('2 min over the planned end, or over a fixed time.');
  expect(open({ staleGraphics: 2 })[0]![1]).toBe('2 were made for another evening.');
  expect(open({ uncleared: ['Tune'] })[0]).toEqual(['Clips and rights', 'Nobody has said whose these are: Tune.', 'clips']);
  // What cannot be played comes before whose it is.
  expect(open({ uncleared: ['Tune'], clipsAmiss: ['Film'] })[0]![1]).toBe('Cannot be played: Film.');
  expect(open({ roomTrouble: 'The disk is all but full.' })[0]![2]).toBeNull();
  expect(open({ rehearsed: null })[0]![2]).toBe('rehearsal');
});

test('a stage tells of devices, sound, light and line; what is not known is neither good nor bad', () => {
  expect(onStage({ deviceTrouble: 'No camera.' })).toBe('No camera.');
  expect(onStage({ heard: false, sound: 'silent' })).toBe('Nothing is heard: say something.');
  // A pause between two words is no silence.
  expect(onStage({ sound: 'silent' })).toBeUndefined();
  expect(onStage({ sound: 'too loud' })).toContain('turn the microphone down');
  expect(onStage({ camera: 'backlit' })).toContain('behind you');
  expect(onStage({ camera: null })).toBeUndefined();
  expect(onStage({ uplinkKbps: UPLINK_NEEDS_KBPS - 1 })).toContain('Too slow: 2.8 Mbit/s');
  expect(onStage({ uplinkKbps: UPLINK_NEEDS_KBPS + 1 })).toContain('Just enough');
  const unknown = readyPoints({ ...READY, stage: { ...STAGE, uplinkKbps: null, camera: null } }).filter(({ state }) => state === 'unknown');
  expect(unknown.map(({ what }) => what)).toEqual(['Light', 'Your line']);
  const failed = readyPoints({ ...READY, stage: { ...STAGE, uplinkKbps: 'could not be measured' } }).find(({ what }) => what === 'Your line');
  expect(failed).toMatchObject({ state: 'unknown', words: expect.stringContaining('could not be measured') });
});

test('in one line, no more than three by name', () => {
  const points = readyPoints({ ...READY, channels: [], hasPicture: false, overMs: 60_000, rehearsed: null, stage: null });
  expect(sayReady(points)).toBe('4 things to look at: who publishes where, title and picture, running order and 1 more.');
});
