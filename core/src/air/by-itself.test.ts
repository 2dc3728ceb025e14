import { instant, MINUTE_MS } from '../time/instant';
import { beginsByItself } from './by-itself';

const START = instant(Date.UTC(2026, 10, 26, 20, 30));

test('a show begins by itself from its minute on, and long after it is left to people', () => {
  const at = (ms: number) => beginsByItself(START, instant(START + ms));
  expect([at(-1), at(0), at(9 * MINUTE_MS)]).toEqual(['not yet', 'now', 'now']);
  expect(at(11 * MINUTE_MS)).toBe('too late');
});
