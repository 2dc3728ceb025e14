import { FIRST_SCENES, hasSomething, microphoneGoesOut, sceneAfterTake, sceneForShare, sceneOf, type Seat } from './scene';

const only =
  (...seats: Seat[]) =>
  (seat: Seat) =>
    seats.includes(seat);
const after = (taken: string, before: string | null, ...filled: Seat[]) => sceneAfterTake(FIRST_SCENES, taken, before, only(...filled));

test('microphones are shut on cards whatever their own switch says, and open on no other scene against it', () => {
  for (const scene of FIRST_SCENES) {
    expect(microphoneGoesOut(scene, true)).toBe(scene.layout !== 'card');
    expect(microphoneGoesOut(scene, false)).toBe(false);
  }
});

test('a second take goes back to where the first came from', () => {
  expect(after('host', 'holding', 'host')).toBe('holding');
  expect(after('holding', 'host', 'host')).toBe('host');
  expect(after('share', 'together', 'host', 'share')).toBe('together');
});

test('what is next by itself has something on it', () => {
  // A line that is not there any more, or a scene that was taken out, is not next.
  expect(after('holding', 'line', 'host')).toBe('host');
  expect(after('holding', 'taken-out', 'host')).toBe('host');
  expect(after('holding', null, 'line')).toBe('beside');
  expect(after('host', null, 'host')).toBe('holding');
  expect(after('holding', null)).toBe('holding');
  expect(hasSomething(sceneOf(FIRST_SCENES, 'closing')!, only())).toBe(true);
});

test('a share brings the scene that shows it largest, where the station has one', () => {
  expect(sceneForShare(FIRST_SCENES)).toBe('share');
  const beside = {
    ...sceneOf(FIRST_SCENES, 'beside')!,
    id: 'with-share',
    seats: [
      { seat: 'host' as const, view: null },
      { seat: 'share' as const, view: null },
    ],
  };
  expect(sceneForShare([beside, ...FIRST_SCENES])).toBe('share');
  expect(sceneForShare([beside])).toBe('with-share');
  expect(sceneForShare(FIRST_SCENES.filter(({ id }) => id !== 'share'))).toBeNull();
});
