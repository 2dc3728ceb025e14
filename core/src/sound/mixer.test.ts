import { FIRST_SCENES, GUEST_SEATS, isGuestSeat, sceneOf } from '../scenes/scene';
import { FIRST_STRIPS, gainOf, goesOut, LEAST_GAIN_DB, Leveller, STRIPS } from './mixer';

const scene = (id: string) => sceneOf(FIRST_SCENES, id)!;
const held = { on: true, held: true };
const free = { on: true, held: false };
const shut = { on: false, held: true };

test('what sounds follows from the scene: microphones are shut on cards, and what is not seen is not heard', () => {
  const heard = (id: string) => STRIPS.filter((strip) => goesOut(strip, free, scene(id), { broughtIn: ['guest 2'] }));
  expect(heard('holding')).toEqual([]);
  // A guest who is in the talk is heard where microphones are open, seen or not.
  expect(heard('host')).toEqual(['microphone', 'guest 2']);
  expect(heard('share')).toEqual(['microphone', 'share', 'guest 2']);
  expect(heard('clip')).toEqual(['clip']);
  expect(heard('beside')).toEqual(['microphone', 'line', 'guest 2']);
});

test('a hand wins over the scene, and shut over open', () => {
  for (const strip of STRIPS.filter((each) => !isGuestSeat(each))) {
    expect(goesOut(strip, held, scene('holding'))).toBe(true);
    expect(goesOut(strip, shut, scene('share'))).toBe(false);
  }
  // A tune is nothing to be seen.
  expect(goesOut('clip', free, scene('host'), { soundAlone: true })).toBe(true);
});

test('nobody who is not brought in is heard, whatever is held open', () => {
  for (const seat of GUEST_SEATS) {
    expect(goesOut(seat, held, scene('together'))).toBe(false);
    expect(goesOut(seat, held, scene('holding'), { broughtIn: [seat] })).toBe(true);
    expect(goesOut(seat, shut, scene('together'), { broughtIn: [seat] })).toBe(false);
  }
});

test('a strip at its least is silent, and at nothing it changes nothing', () => {
  expect([gainOf(FIRST_STRIPS.microphone), gainOf({ gainDb: LEAST_GAIN_DB })]).toEqual([1, 0]);
  expect(gainOf({ gainDb: 6 })).toBeCloseTo(1.995, 3);
});

/** A voice of a steady loudness, levelled for so many seconds. */
function levelled(lufs: number, seconds: number): number[] {
  const leveller = new Leveller();
  return Array.from({ length: seconds * 2 }, () => {
    const now = lufs + leveller.gainDb;
    return leveller.hear({ shortTerm: now, momentary: now }, 0.5);
  });
}

test.each([-24, -20, -11])('a voice of %d LUFS comes to within one LU of the target, and never faster than is unheard', (lufs) => {
  const gains = levelled(lufs, 30);
  expect(Math.abs(lufs + gains.at(-1)! + 16)).toBeLessThanOrEqual(1.01);
  gains.reduce((before, now) => {
    expect(Math.abs(now - before)).toBeLessThanOrEqual(0.36);
    return now;
  }, 0);
});

test('another target is followed from where the programme is, as slowly as any', () => {
  const leveller = new Leveller(-16);
  const hear = () => leveller.hear({ shortTerm: -20 + leveller.gainDb, momentary: -20 + leveller.gainDb }, 0.5);
  for (let tick = 0; tick < 60; tick++) hear();
  const before = leveller.gainDb;
  leveller.targetLufs = -23;
  expect(Math.abs(hear() - before)).toBeLessThanOrEqual(0.36);
  for (let tick = 0; tick < 60; tick++) hear();
  expect(Math.abs(-20 + leveller.gainDb + 23)).toBeLessThanOrEqual(1.01);
});

test('a pause is not made loud, and no voice is raised or lowered without bound', () => {
  const leveller = new Leveller();
  for (let tick = 0; tick < 200; tick++) leveller.hear({ shortTerm: -20, momentary: -60 }, 0.5);
  expect(leveller.gainDb).toBe(0);
  expect([levelled(-40, 120).at(-1), levelled(0, 120).at(-1)]).toEqual([9, -12]);
});
