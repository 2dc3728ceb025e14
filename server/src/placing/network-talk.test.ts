import fc from 'fast-check';
import { PlainError } from '../foundation/errors';
import { NetworkTalk } from './network-talk';

const SEED = 20261126;

test('a second press is refused while the first is answered, also behind something that nobody pressed', async () => {
  const talk = new NetworkTalk();
  let answer: () => void = () => undefined;
  const looking = talk.inTurn('show', null, () => new Promise<void>((resolve) => (answer = resolve)));
  const first = talk.press('show', async () => 'placed');
  await expect(talk.press('show', async () => 'twice')).rejects.toBeInstanceOf(PlainError);
  expect(await talk.press('another', async () => 'at once')).toBe('at once');
  answer();
  await looking;
  expect(await first).toBe('placed');
  expect(await talk.press('show', async () => 'again')).toBe('again');
});

test('what fails gives its turn back', async () => {
  const talk = new NetworkTalk();
  await expect(talk.press('show', () => Promise.reject(new Error('no answer')))).rejects.toThrow('no answer');
  expect(await talk.press('show', async () => 1)).toBe(1);
});

test(`what concerns the same airing, or the whole show, never goes on at the same time, and all of it is done in its turn (seed ${SEED})`, async () => {
  const step = fc.record({ show: fc.constantFrom('a', 'b'), airing: fc.constantFrom(null, 'x', 'y'), ticks: fc.nat({ max: 5 }), fails: fc.boolean() });
  await fc.assert(
    fc.asyncProperty(fc.array(step, { maxLength: 25 }), async (steps) => {
      const talk = new NetworkTalk();
      const going: (typeof steps)[number][] = [];
      const begun: number[] = [];
      const clashes: string[] = [];
      await Promise.all(
        steps.map((each, at) =>
          talk
            .inTurn(each.show, each.airing, async () => {
              begun.push(at);
              for (const other of going) {
                if (other.show === each.show && (other.airing === null || each.airing === null || other.airing === each.airing)) clashes.push(`${at}`);
              }
              going.push(each);
              for (let tick = 0; tick < each.ticks; tick++) await Promise.resolve();
              going.splice(going.indexOf(each), 1);
              if (each.fails) throw new Error('no answer');
            })
            .catch(() => undefined),
        ),
      );
      expect(clashes).toEqual([]);
      expect([...begun].sort((a, b) => a - b)).toEqual(steps.map((_, at) => at));
      // In the order in which they came, where they meet.
      for (const show of ['a', 'b']) {
        const whole = begun.filter((at) => steps[at]!.show === show && steps[at]!.airing === null);
        expect(whole).toEqual([...whole].sort((a, b) => a - b));
      }
    }),
    { seed: SEED, numRuns: 200 },
  );
});
