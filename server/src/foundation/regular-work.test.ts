import { Logger } from '@nestjs/common';
import { RegularWork } from './regular-work';

beforeEach(() => jest.useFakeTimers({ doNotFake: ['nextTick', 'queueMicrotask'] }));
afterEach(() => jest.useRealTimers());

test('is done every so often until it is stopped, never twice at once, and what is asked for meanwhile comes after', async () => {
  const began: number[] = [];
  let finish = () => {};
  const work = new RegularWork('test', 1_000, () => {
    began.push(began.length);
    return new Promise((done) => (finish = done));
  });
  work.start();
  work.start(); // twice does no harm
  await jest.advanceTimersByTimeAsync(3_500);
  expect(began).toHaveLength(1); // still at its first
  const asked = work.now();
  await jest.advanceTimersByTimeAsync(10);
  expect(began).toHaveLength(1);
  finish();
  await jest.advanceTimersByTimeAsync(10);
  expect(began).toHaveLength(2);
  finish();
  await asked;
  await jest.advanceTimersByTimeAsync(1_000);
  expect(began).toHaveLength(3);
  finish();
  work.stop();
  await jest.advanceTimersByTimeAsync(5_000);
  expect(began).toHaveLength(3);
});

test('goes on after something went wrong', async () => {
  const told = jest.spyOn(Logger.prototype, 'warn').mockImplementation(() => undefined);
  let tries = 0;
  const work = new RegularWork('test', 1_000, async () => {
    if (++tries === 1) throw new Error('no answer');
  });
  await work.now();
  await work.now();
  expect(tries).toBe(2);
  expect(told).toHaveBeenCalledWith('no answer');
  told.mockRestore();
});
