import { FIRST_SCENES, hasSomething, microphoneGoesOut, sceneAfterTake, sceneFor, sceneOf, type Scene, type Seat, scenesOfShow, withVoice } from './scene';

const only =
  (...seats: Seat[]) =>
  (seat: Seat) =>
    seats.includes(seat);
const after = (taken: string, before: string | null, ...filled: Seat[]) => sceneAfterTake(FIRST_SCENES, taken, before, only(...filled));

test('microphones are shut on cards and while a clip fills the picture whatever their own switch says, and open on no other scene against it', () => {
  for (const scene of FIRST_SCENES) {
    expect(microphoneGoesOut(scene, true)).toBe(scene.layout !== 'card' && scene.id !== 'clip');
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
  expect(sceneFor(FIRST_SCENES, 'share')).toBe('share');
  const beside = {
    ...sceneOf(FIRST_SCENES, 'beside')!,
    id: 'with-share',
    seats: [
      { seat: 'host' as const, view: null },
      { seat: 'share' as const, view: null },
    ],
  };
  expect(sceneFor([beside, ...FIRST_SCENES], 'share')).toBe('share');
  expect(sceneFor([beside], 'share')).toBe('with-share');
  expect(
    sceneFor(
      FIRST_SCENES.filter(({ id }) => id !== 'share'),
      'share',
    ),
  ).toBeNull();
});

test('a show has the station’s scenes in their order, its own in the place of those of the same name, and keeps what the station took out', () => {
  const own = { ...sceneOf(FIRST_SCENES, 'host')!, name: 'Welcome, from the dome' };
  const gone = { ...own, id: 'gone', name: 'Taken out since' };
  const all = scenesOfShow(FIRST_SCENES, [gone, own]);
  expect(all.map(({ id }) => id)).toEqual([...FIRST_SCENES.map(({ id }) => id), 'gone']);
  expect(sceneOf(all, 'host')!.name).toBe('Welcome, from the dome');
  expect(scenesOfShow(FIRST_SCENES, [])).toEqual(FIRST_SCENES);
});

test('in the seat that follows the voice stands whoever speaks, and not once more beside themselves; in silence of all it takes no room', () => {
  const scene: Scene = { ...sceneOf(FIRST_SCENES, 'share')!, seats: (['voice', 'host', 'guest 1', 'share'] as const).map((seat) => ({ seat, view: null })) };
  const seats = (who: 'host' | 'guest 1' | 'guest 2' | null) => withVoice(scene, who).seats.map(({ seat }) => seat);
  expect(seats('guest 1')).toEqual(['guest 1', 'host', 'share']);
  expect(seats('guest 2')).toEqual(['guest 2', 'host', 'guest 1', 'share']);
  expect(seats(null)).toEqual(['host', 'guest 1', 'share']);
  const other = sceneOf(FIRST_SCENES, 'together')!;
  expect(withVoice(other, 'guest 1')).toBe(other);
});
