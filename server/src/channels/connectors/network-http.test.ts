import { createServer, type RequestListener, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { AccessEnded, NetworkRefusal, NetworkSilence } from './connector';
import { ask, bodyOrError } from './network-http';

let server: Server;
let answer: RequestListener;

beforeAll((done) => {
  server = createServer((request, response) => answer(request, response)).listen(0, '127.0.0.1', done);
});
afterAll((done) => {
  server.closeAllConnections();
  server.close(done);
});

/** A short limit only where its running out is the point: a busy machine may take long over an honest answer. */
async function outcome(listener: RequestListener, timeoutMs = 20_000): Promise<unknown> {
  answer = listener;
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
  try {
    return bodyOrError(await ask(url, 'token', { timeoutMs }));
  } catch (error) {
    return error;
  }
}
const reply =
  (status: number, body: string): RequestListener =>
  (_request, response) =>
    response.writeHead(status).end(body);

test('a good answer is its body, and no content is nothing', async () => {
  expect(await outcome(reply(200, '{"a":1}'))).toEqual({ a: 1 });
  expect(await outcome(reply(204, ''))).toBeNull();
});

test.each<[string, RequestListener, typeof NetworkSilence | typeof AccessEnded, string]>([
  ['a page instead of data', reply(200, '<html>hello</html>'), NetworkSilence, 'could not be read'],
  ['half an answer', (_q, response) => response.writeHead(200, { 'content-length': 100 }).write('{"a"', () => response.destroy()), NetworkSilence, 'reached'],
  ['a hang-up', (request) => request.socket.destroy(), NetworkSilence, 'could not be reached'],
  ['too many requests', reply(429, '{}'), NetworkSilence, 'busy'],
  ['its own mistake', reply(500, '{}'), NetworkSilence, 'in trouble'],
  ['a redirect to elsewhere', (_q, response) => response.writeHead(302, { location: 'http://127.0.0.1:1/' }).end(), NetworkSilence, 'reached'],
  ['access withdrawn', reply(401, '{}'), AccessEnded, 'withdrawn'],
])('%s', async (_name, listener, kind, words) => {
  const error = await outcome(listener);
  expect(error).toBeInstanceOf(kind);
  expect((error as Error).message).toContain(words);
});

test('nothing at all', async () => {
  const error = await outcome(() => undefined, 300);
  expect(error).toBeInstanceOf(NetworkSilence);
  expect((error as Error).message).toContain('no answer within 0.3 s');
});

test('a refusal keeps the network’s reason, in either network’s shape', async () => {
  const reelmoor = await outcome(reply(422, '{"error":{"reason":"title","text":"Titles have 100 characters at most."}}'));
  const townfold = await outcome(reply(422, '{"refused":"headline","because":"Headlines have 120 characters at most."}'));
  expect(reelmoor).toBeInstanceOf(NetworkRefusal);
  expect(reelmoor).toMatchObject({ reason: 'title', words: 'Titles have 100 characters at most.' });
  expect(townfold).toMatchObject({ reason: 'headline', words: 'Headlines have 120 characters at most.' });
  expect(await outcome(reply(400, '[]'))).toMatchObject({ words: 'It gave no reason.' });
});
