import { createServer, type RequestListener, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { PipwireChanges, PipwireLine, PipwirePost, ReelmoorLineList, TokenReply } from '@lantern/contract/network-http';
import { AccessEnded, NetworkRefusal, NetworkSilence, type ReplyContract } from './connector';
import { ask, bodyOrError, patiently } from './network-http';
import { ReelmoorConnector } from './reelmoor.connector';

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
async function outcome<T = ReelmoorLineList>(
  listener: RequestListener,
  timeoutMs = 20_000,
  contract: ReplyContract<T> = ReelmoorLineList as never,
): Promise<unknown> {
  answer = listener;
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
  try {
    return bodyOrError(await ask(url, 'token', { timeoutMs }), new ReelmoorConnector().readRefusal, contract);
  } catch (error) {
    return error;
  }
}
const reply =
  (status: number, body: string): RequestListener =>
  (_request, response) =>
    response.writeHead(status).end(body);

const LINE = { lineId: 'l1', label: 'Hall', primaryAddress: 'rtmp://127.0.0.1:1935/live', backupAddress: 'rtmps://b.example/live', streamKey: 'topsecret' };
const lines = (...items: unknown[]) => reply(200, JSON.stringify({ items }));

test('a good answer is its body, with whatever a network adds, and no content is nothing', async () => {
  expect(await outcome(lines(LINE, { ...LINE, lineId: 'l2', colour: 'blue' }))).toMatchObject({ items: [{ lineId: 'l1' }, { lineId: 'l2' }] });
  expect(await outcome(reply(204, ''), 20_000, 'nothing')).toBeUndefined();
});

test.each<[string, RequestListener, string]>([
  ['an empty object', reply(200, '{}'), '(items)'],
  ['no body where one was agreed', reply(200, ''), 'else than was agreed'],
  ['a list', reply(200, '[]'), 'else than was agreed'],
  ['null', reply(200, 'null'), 'else than was agreed'],
  ['a field of another kind', lines({ ...LINE, lineId: 7 }), '(items.0.lineId)'],
  ['numbers in a list of objects', lines(1, 2), '(items)'],
  ['a field that is missing', lines(LINE, { ...LINE, streamKey: undefined }), '(items.1.streamKey)'],
  ['an identifier that leads elsewhere', lines({ ...LINE, lineId: '../../oauth/revoke' }), '(items.0.lineId)'],
  ['an identifier that leads up', lines({ ...LINE, lineId: '..' }), '(items.0.lineId)'],
  ['an ingest that is a file', lines({ ...LINE, primaryAddress: 'file:///etc/passwd' }), '(items.0.primaryAddress)'],
  ['a key with a line break', lines({ ...LINE, streamKey: 'a\nb' }), '(items.0.streamKey)'],
  ['more than anybody reads', lines(...Array<object>(2_500).fill(LINE)), '(items)'],
  ['something nested without end', reply(200, `{"items":${'['.repeat(200_000)}${']'.repeat(200_000)}}`), 'could not be read'],
])('what a network never agreed to answer is a silence that names the field: %s', async (_name, listener, words) => {
  const error = await outcome(listener);
  expect(error).toBeInstanceOf(NetworkSilence);
  expect((error as Error).message).toContain(words);
  expect((error as Error).message).not.toContain(LINE.streamKey);
});

test('an address for browsers is one of theirs, a moment is one, and a body where none was agreed is told', async () => {
  const line = { push_to: 'rtmp://127.0.0.1/live', key: 'k' };
  expect(await outcome(reply(200, JSON.stringify(line)), 20_000, PipwireLine)).toMatchObject(line);
  const post = { post: 'p1', say: 'Tonight', link: 'javascript:alert(1)' };
  expect(await outcome(reply(200, JSON.stringify(post)), 20_000, PipwirePost)).toMatchObject({ message: expect.stringContaining('(link)') });
  const change = { id: 'c1', what: 'characters', to: 100, at: 'soon' };
  expect(await outcome(reply(200, JSON.stringify({ changes: [change] })), 20_000, PipwireChanges)).toMatchObject({
    message: expect.stringContaining('(changes.0.at)'),
  });
  expect(await outcome(reply(200, '{"done":true}'), 20_000, 'nothing')).toMatchObject({ message: expect.stringContaining('else than was agreed') });
  expect(await outcome(reply(200, '{"access_token":"x","token_type":"mac","expires_in":1,"refresh_token":"y"}'), 20_000, TokenReply)).toMatchObject({
    message: expect.stringContaining('(token_type)'),
  });
});

test('an answer without an end is given up, not kept', async () => {
  let sent = 0;
  let closed = false;
  const error = await outcome((_request, response) => {
    response.on('close', () => (closed = true));
    response.writeHead(200);
    const more = () => {
      if (closed || sent > 50_000_000) return;
      sent += 64_000;
      response.write('x'.repeat(64_000), () => setImmediate(more));
    };
    more();
  });
  expect(error).toMatchObject({ message: 'its answer was far too long' });
  expect(sent).toBeLessThan(20_000_000);
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

test('a refusal keeps the network’s reason, and one without a reason says so', async () => {
  const refused = await outcome(reply(422, '{"error":{"reason":"title","text":"Titles have 100 characters at most."}}'));
  expect(refused).toBeInstanceOf(NetworkRefusal);
  expect(refused).toMatchObject({ reason: 'title', words: 'Titles have 100 characters at most.', status: 422 });
  expect(await outcome(reply(400, '[]'))).toMatchObject({ words: 'It gave no reason.' });
  expect(await outcome(reply(400, '{"error":{"reason":7}}'))).toMatchObject({ words: 'It gave no reason.' });
});

test('a network that is busy says for how long, in seconds or as a date', async () => {
  const busy =
    (retryAfter: string): RequestListener =>
    (_q, response) =>
      response.writeHead(429, { 'retry-after': retryAfter }).end('{}');
  expect(await outcome(busy('2'))).toMatchObject({ notDone: true, retryAfterMs: 2_000 });
  const inAMinute = (await outcome(busy(new Date(Date.now() + 60_000).toUTCString()))) as NetworkSilence;
  expect(inAMinute.retryAfterMs).toBeGreaterThan(50_000);
  expect(await outcome(busy('soon'))).toMatchObject({ retryAfterMs: null });
});

describe('trying again', () => {
  const waits: number[] = [];
  const pause = async (ms: number) => void waits.push(ms);
  const failing = (failures: number, error: Error) => {
    let calls = 0;
    return { once: async () => (++calls <= failures ? Promise.reject(error) : calls), calls: () => calls };
  };
  beforeEach(() => (waits.length = 0));

  test('a request that may be repeated is, with growing, spread waits, three times at most', async () => {
    const twice = failing(2, new NetworkSilence('it could not be reached'));
    expect(await patiently({ method: 'POST', repeatable: true }, twice.once, pause, () => 0.5)).toBe(3);
    expect(waits).toEqual([250, 500]);
    const forever = failing(9, new NetworkSilence('it could not be reached'));
    await expect(patiently({}, forever.once, pause)).rejects.toThrow('could not be reached');
    expect(forever.calls()).toBe(3);
  });

  test('one that may not be is asked once, unless the network surely did nothing', async () => {
    const lost = failing(1, new NetworkSilence('it could not be reached'));
    await expect(patiently({ method: 'POST' }, lost.once, pause)).rejects.toThrow();
    expect(lost.calls()).toBe(1);
    const busy = failing(1, new NetworkSilence('it is busy', true, 1_500));
    expect(await patiently({ method: 'POST' }, busy.once, pause)).toBe(2);
    expect(waits).toEqual([1_500]);
  });

  test('a no is not asked again, nor is one waited for whom nobody has time', async () => {
    const no = failing(1, new NetworkRefusal('title', 'Too long.', 422));
    await expect(patiently({}, no.once, pause)).rejects.toThrow('Too long.');
    const hours = failing(1, new NetworkSilence('it is busy', true, 3_600_000));
    await expect(patiently({}, hours.once, pause)).rejects.toThrow('busy');
    expect([no.calls(), hours.calls(), waits.length]).toEqual([1, 1, 0]);
  });
});
