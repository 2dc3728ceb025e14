import { Ducking, notCleared } from './clips';

test('music makes way at the first word, stays away between words, and comes back after the last', () => {
  const ducking = new Ducking();
  expect(ducking.hear(-60, 0)).toBe(false);
  expect(ducking.hear(-25, 80)).toBe(true);
  // Between two words, and while a voice falls.
  expect(ducking.hear(-70, 600)).toBe(true);
  expect(ducking.hear(-42, 900)).toBe(true);
  expect(ducking.hear(-70, 1_700)).toBe(true);
  expect(ducking.hear(-70, 1_900)).toBe(false);
  // What would have gone on as speech does not begin it: a room is not silent.
  expect(ducking.hear(-42, 2_000)).toBe(false);
});

test('a work is open as long as nobody has said whose it is', () => {
  expect(
    notCleared([
      { name: 'Tune', rights: ' ' },
      { name: 'Film', rights: 'Our own' },
    ]).map(({ name }) => name),
  ).toEqual(['Tune']);
});
