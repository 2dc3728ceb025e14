// How long a request may take to come, over real connections, on a clock of the test's.
import express from 'express';
import { request, type ClientRequest, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { PeopleService } from '../people/people.service';
import { bodies } from './bodies';

let server: Server;
let write: (() => void) | null = null;
const asked: ClientRequest[] = [];

beforeEach(async () => {
  jest.useFakeTimers({ doNotFake: ['nextTick', 'setImmediate', 'clearImmediate', 'setInterval', 'clearInterval', 'queueMicrotask', 'performance', 'Date'] });
  const app = express();
  app.use(...bodies({} as PeopleService));
  // As a stream of changes, or a film on a slow line.
  app.use((_request, response) => {
    response.write('first');
    write = () => void response.write('more');
  });
  server = app.listen(0, '127.0.0.1');
  await new Promise((done) => server.once('listening', done));
});
afterEach(() => {
  jest.useRealTimers();
  for (const each of asked.splice(0)) each.destroy();
  server.close();
});

async function until(condition: () => boolean): Promise<boolean> {
  for (let tries = 0; tries < 20_000 && !condition(); tries++) await new Promise((next) => setImmediate(next));
  return condition();
}

/** A request, and what came of it. */
function ask(method: 'GET' | 'POST', body?: { length: number; sent: string }) {
  const came = { text: '', ended: false };
  const made = request({ port: (server.address() as AddressInfo).port, method, headers: body && { 'content-length': body.length } }, (response) => {
    response.on('data', (bytes) => (came.text += String(bytes)));
    response.on('close', () => (came.ended = true));
  });
  made.on('error', () => (came.ended = true));
  if (body) made.write(body.sent);
  else made.end();
  asked.push(made);
  return came;
}

test('an answer takes as long as it takes: what was asked for without a body is not cut off', async () => {
  const came = ask('GET');
  expect(await until(() => came.text === 'first')).toBe(true);
  jest.advanceTimersByTime(10 * 60_000);
  write!();
  expect(await until(() => came.text === 'firstmore' || came.ended)).toBe(true);
  expect(came).toEqual({ text: 'firstmore', ended: false });
});

test('a body that does not come to its end is waited for no longer than a while', async () => {
  const came = ask('POST', { length: 100, sent: '{"a"' });
  await until(() => jest.getTimerCount() > 0);
  jest.advanceTimersByTime(19_000);
  expect(await until(() => came.ended)).toBe(false);
  jest.advanceTimersByTime(2_000);
  expect(await until(() => came.ended)).toBe(true);
});
