import { NetworkHealth } from './network-health';

let now = 0;
let health: NetworkHealth;
beforeEach(() => {
  now = 1_000_000;
  health = new NetworkHealth(() => now);
});
const silences = (count: number) => {
  for (let at = 0; at < count; at++) health.silent('townfold');
};

test('a network that misses one answer is asked on; one that misses four is left alone, and the others are not', () => {
  silences(3);
  expect(health.mayAsk('townfold')).toBe(true);
  silences(1);
  expect([health.mayAsk('townfold'), health.mayAsk('reelmoor')]).toEqual([false, true]);
});

test('after a rest one request looks, and no second one beside it; in vain, it rests for longer', () => {
  silences(4);
  now += 5_000;
  expect([health.mayAsk('townfold'), health.mayAsk('townfold')]).toEqual([true, false]);
  health.silent('townfold');
  now += 5_000;
  expect(health.mayAsk('townfold')).toBe(false);
  now += 5_000;
  expect(health.mayAsk('townfold')).toBe(true);
});

test('never does it rest for more than a minute, and an answer to anybody ends it', () => {
  silences(40);
  now += 60_000;
  expect(health.mayAsk('townfold')).toBe(true);
  health.heard('townfold');
  expect([health.mayAsk('townfold'), health.mayAsk('townfold')]).toEqual([true, true]);
});
