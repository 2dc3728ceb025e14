/** @jest-environment jsdom */
// When a clip takes its scene and when it gives it back, without any picture.
import { FIRST_SCENES, hasSomething, type Scene, type SceneId } from '@lantern/core';
import { serverNow } from '../app/clock';
import type { ToCompositor } from '../programme/compositor-messages';
import { ClipsHere } from './clips-here';
import { EMPTY_STAGE, isFilled, playsPicture, type StageClip, type StageState } from './stage-store';

const BESIDE: Scene = { ...FIRST_SCENES[1]!, id: 'with-clip', seats: ['host', 'clip'].map((seat) => ({ seat: seat as 'host', view: null })) };
const film = (id: string, more: Partial<StageClip> = {}): StageClip => ({
  ...{ id, cue: null, then: 'back', kind: 'film', name: id, url: `/${id}`, fromMs: 0, untilMs: null, lengthMs: 10_000, rights: 'Ours' },
  ...more,
});

let state: StageState;
let told: ToCompositor[];
let taken: [SceneId, string | null][];
let nexts: number;
let clips: ClipsHere;

function stage(programme: SceneId, all: StageClip[]): ClipsHere {
  state = { ...EMPTY_STAGE, scenes: [...FIRST_SCENES, BESIDE], programme, air: null };
  [told, taken, nexts] = [[], [], 0];
  const made = new ClipsHere('show', {
    get: () => state,
    set: (change) => void (state = { ...state, ...change }),
    tell: (message) => void told.push(message),
    sound: { startClip: () => undefined, endClip: () => undefined, clip: { take: () => undefined } } as never,
    take: (scene, cue) => {
      taken.push([scene, cue]);
      made.sceneTaken(scene);
      state = { ...state, programme: scene };
    },
    takeNext: () => void (nexts += 1),
    elseTo: () => 'host',
    isEmpty: (scene) =>
      !hasSomething(
        state.scenes.find(({ id }) => id === scene)!,
        isFilled({ shares: false, plays: playsPicture(state), lineOnStage: null, guests: [] }),
      ),
    seatChanged: () => undefined,
  });
  made.setClips(all);
  return made;
}
const begins = (id: string) => clips.hear(id, { state: 'playing', startedAt: performance.timeOrigin + performance.now() });
const ends = (id: string, whole = true) => clips.hear(id, { state: 'over', whole });

beforeEach(() => sessionStorage.clear());
afterEach(() => clips.close());

test('a film takes its scene with its first picture, not before, and goes back to the scene before', () => {
  clips = stage('together', [film('a'), film('b')]);
  clips.play();
  expect(taken).toEqual([]);
  begins('a');
  expect([taken, state.clip?.id, state.nextClip]).toEqual([[['clip', null]], 'a', 'b']);
  ends('a');
  expect([taken.at(-1), state.clip, state.clipWords]).toEqual([['together', null], null, '']);
});

test('what follows may be what stands next; a film that breaks off goes back and says so', () => {
  clips = stage('host', [film('a', { then: 'next' })]);
  clips.play();
  begins('a');
  ends('a');
  expect([nexts, taken]).toEqual([1, [['clip', null]]]);
  clips = stage('host', [film('a', { then: 'next' })]);
  clips.play();
  begins('a');
  ends('a', false);
  expect([nexts, taken.at(-1), state.clipWords]).toEqual([0, ['host', null], expect.stringContaining('broke off')]);
});

test('a second press within a moment is the same press; one film after the other goes back to where the first began', () => {
  clips = stage('together', [film('a'), film('b')]);
  clips.play();
  clips.play();
  expect(told.filter(({ type }) => type === 'play').map((message) => (message as { clip: { id: string } | null }).clip?.id ?? null)).toEqual([null, 'a']);
  begins('a');
  jest.spyOn(performance, 'now').mockReturnValue(performance.now() + 1_000);
  clips.play();
  jest.restoreAllMocks();
  begins('b');
  ends('b');
  expect(taken.at(-1)).toEqual(['together', null]);
});

test('on a scene with others it plays beside them, and they stay', () => {
  clips = stage('with-clip', [film('a')]);
  clips.play();
  begins('a');
  ends('a');
  expect([taken, state.clip]).toEqual([[], null]);
});

test('a film that opens a cue begins the cue with its picture, and the cue goes on with its own scene; where it does not come the cue begins all the same', () => {
  clips = stage('holding', [film('a', { cue: 'opening' })]);
  clips.play('a', { cue: 'opening', scene: 'host' });
  begins('a');
  ends('a');
  expect(taken).toEqual([
    ['clip', 'opening'],
    ['host', null],
  ]);
  clips = stage('holding', [film('a', { cue: 'opening' })]);
  clips.play('a', { cue: 'opening', scene: 'host' });
  clips.hear('a', { state: 'failed' });
  expect([taken, state.clipWords]).toEqual([[['host', 'opening']], expect.stringContaining('could not be played')]);
});

test('a take away from it ends it and brings nothing back; a tune takes no scene at all', () => {
  clips = stage('host', [film('a'), film('tune', { kind: 'sound' })]);
  clips.play();
  begins('a');
  clips.sceneTaken('together');
  expect([state.clip, taken]).toEqual([null, [['clip', null]]]);
  clips = stage('host', [film('tune', { kind: 'sound' })]);
  clips.play();
  begins('tune');
  clips.sceneTaken('together');
  expect([state.clip?.id, taken]).toEqual(['tune', []]);
});

test('a stage that comes back in its middle takes it up where it is by now; at its end it leaves the empty scene', () => {
  clips = stage('together', [film('a')]);
  clips.play();
  begins('a');
  const known = sessionStorage.getItem('lantern-clip-show')!;
  clips = stage('clip', [film('a')]);
  sessionStorage.setItem('lantern-clip-show', JSON.stringify({ ...(JSON.parse(known) as object), since: serverNow() - 4_000 }));
  clips.comeBack();
  const again = told.findLast(({ type }) => type === 'play') as { clip: { fromMs: number } };
  expect(Math.abs(again.clip.fromMs - 4_000)).toBeLessThan(200);
  begins('a');
  ends('a');
  expect(taken).toEqual([['together', null]]);
  clips = stage('clip', [film('a')]);
  sessionStorage.setItem('lantern-clip-show', JSON.stringify({ ...(JSON.parse(known) as object), since: serverNow() - 60_000 }));
  clips.comeBack();
  expect(taken).toEqual([['together', null]]);
});

test('what is in the library no more is not played, and it is said; no scene of the station shows clips, and that is said too', () => {
  clips = stage('host', [film('a', { kind: null })]);
  clips.play();
  expect([told.some(({ type }) => type === 'play'), state.clipWords]).toEqual([false, expect.stringContaining('not in the library')]);
  clips = stage('host', [film('a')]);
  state = { ...state, scenes: state.scenes.filter(({ id }) => id !== 'clip' && id !== 'with-clip') };
  clips.play();
  begins('a');
  expect([state.clip, taken, state.clipWords]).toEqual([null, [], expect.stringContaining('No scene of your station shows clips')]);
});
