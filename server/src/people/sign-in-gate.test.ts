import { HOUR_MS, MINUTE_MS } from '@lantern/core';
import { SignInGate } from './sign-in-gate';

const MAREN = 'maren@alderfell.example';
let now = 0;
let gate: SignInGate;
beforeEach(() => {
  now = Date.UTC(2026, 10, 24);
  gate = new SignInGate(() => now);
});
const wrong = (times: number, account = MAREN, address = '203.0.113.9') => {
  for (let time = 0; time < times; time++) gate.wrong(account, address);
};

test('slips cost nothing; from the sixth on each wait is twice the last, and is said', () => {
  wrong(5);
  gate.pass(MAREN, '203.0.113.9');
  wrong(1);
  expect(() => gate.pass(MAREN, '203.0.113.9')).toThrow('Wait 2 seconds');
  wrong(1);
  expect(() => gate.pass(MAREN, '203.0.113.9')).toThrow('Wait 4 seconds');
  now += 4_000;
  gate.pass(MAREN, '203.0.113.9');
});

test('whoever guesses from many addresses waits as well, but never shuts the owner out for more than a minute', () => {
  for (let address = 0; address < 2_000; address++) gate.wrong(MAREN, `198.51.100.${address}`);
  expect(() => gate.pass(MAREN, '192.0.2.1')).toThrow('Too many tries');
  now += MINUTE_MS;
  gate.pass(MAREN, '192.0.2.1');
});

test('an address that tries many accounts waits with each of them, though one of them is its own', () => {
  for (let account = 0; account < 30; account++) {
    gate.wrong(`guess-${account}@alderfell.example`, '203.0.113.9');
    gate.right('own@alderfell.example');
  }
  expect(() => gate.pass('own@alderfell.example', '203.0.113.9')).toThrow('Wait 15 minutes');
  gate.pass(MAREN, '192.0.2.1');
});

test('the right password begins anew for the account, and an hour for the address', () => {
  wrong(6);
  gate.right(MAREN);
  gate.pass(MAREN, '192.0.2.1');
  expect(() => gate.pass(MAREN, '203.0.113.9')).toThrow();
  now += HOUR_MS;
  wrong(1);
  gate.pass(MAREN, '203.0.113.9');
});

test('no number of made-up accounts fills the memory', () => {
  for (let account = 0; account < 60_000; account++) gate.wrong(`${account}`, `${account}`);
  expect((gate as unknown as { known: Map<string, unknown> }).known.size).toBe(20_000);
});
