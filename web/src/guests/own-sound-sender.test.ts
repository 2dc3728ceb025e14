/** What of a guest's own sound waits, sent to a server of the test's. */
import { ownSoundPath, UPLOAD_OFFSET } from '@lantern/contract';
import { OwnSoundSender } from './own-sound-sender';

const PASS = 'a-pass-that-is-long-enough';
/** What the server has of each take, or the status that it answers with instead; `lost`: it takes what is sent, and its answer is lost. */
let server: Map<string, string>;
let status: number;
let lost: boolean;
let asked: string[];
let told: [number, string][];
let meanwhile: () => void;
let sender: OwnSoundSender;

async function answer(path: string, init: RequestInit): Promise<Response> {
  const headers = init.headers as Record<string, string>;
  expect([headers['x-guest-pass'], path.includes(PASS)]).toEqual([PASS, false]);
  asked.push(`${init.method} ${headers[UPLOAD_OFFSET] ?? ''}`.trim());
  if (status) return new Response(null, { status });
  const there = server.get(path) ?? '';
  if (init.method === 'PATCH') {
    if (Number(headers[UPLOAD_OFFSET]) !== there.length) return new Response(null, { status: 409 });
    server.set(path, there + (await (init.body as Blob).text()));
    if (lost) throw new Error('lost');
  }
  return new Response(null, { status: 204, headers: { [UPLOAD_OFFSET]: String((server.get(path) ?? '').length) } });
}

beforeEach(() => {
  [server, status, lost, asked, told, meanwhile] = [new Map(), 0, false, [], [], () => undefined];
  sender = new OwnSoundSender(PASS, {
    fetch: (path, init) => answer(String(path), init!),
    tell: (bytes, trouble) => told.push([bytes, trouble]),
    wait: () => {
      meanwhile();
      return new Promise((done) => setTimeout(done));
    },
  });
});

const add = (beganAt: number, words: string) => sender.add(beganAt, 'audio/webm', new Blob([words]));
const settled = () => new Promise((done) => setTimeout(done, 60));

test('pieces of a take come one after the other, those that wait in one request, and takes do not mix', async () => {
  add(7, 'one ');
  add(7, 'two ');
  add(7, 'three');
  add(9, 'another');
  await settled();
  expect([server.get(ownSoundPath(7)), server.get(ownSoundPath(9))]).toEqual(['one two three', 'another']);
  expect(asked).toEqual(['PATCH 0', 'PATCH 4', 'PATCH 0']);
  expect(told.at(-1)).toEqual([0, '']);
});

test('while the line is gone it waits; where only the answer was lost it goes on from what is there', async () => {
  let tries = 0;
  meanwhile = () => {
    lost = false;
    tries += 1;
    add(7, `and ${tries} `);
  };
  lost = true;
  add(7, 'one ');
  await settled();
  expect(told).toContainEqual([expect.any(Number), 'the line']);
  expect(server.get(ownSoundPath(7))).toBe('one and 1 ');
  expect(asked).toEqual(['PATCH 0', 'PATCH 0', 'HEAD', 'PATCH 4']);
});

test('a server without room is said to be that, and has it once there is some', async () => {
  status = 507;
  meanwhile = () => (status = 0);
  add(7, 'one');
  await settled();
  expect(told.map(([, trouble]) => trouble)).toContain('no room');
  expect([server.get(ownSoundPath(7)), told.at(-1)]).toEqual(['one', [0, '']]);
});

test('a server that takes nothing more is asked no more, before they agree anew', async () => {
  status = 403;
  add(7, 'one');
  await settled();
  expect(add(7, 'two')).toBe(true);
  await settled();
  expect([asked, told.at(-1)]).toEqual([['PATCH 0'], [0, 'not taken']]);
  status = 0;
  sender.drop();
  add(8, 'three');
  await settled();
  expect(server.get(ownSoundPath(8))).toBe('three');
});

test('a take of which the server has lost something ends, and so does one that waits for too long', async () => {
  add(7, 'one ');
  await settled();
  server.set(ownSoundPath(7), 'o');
  add(7, 'two');
  await settled();
  expect(add(7, 'three')).toBe(false);
  expect(add(8, 'another')).toBe(true);
  await settled();
  expect([server.get(ownSoundPath(7)), server.get(ownSoundPath(8))]).toEqual(['o', 'another']);
  status = 503;
  meanwhile = () => undefined;
  const large = new Blob([new Uint8Array(20_000_000)]);
  expect([sender.add(9, 'audio/webm', large), sender.add(9, 'audio/webm', large), add(9, 'more')]).toEqual([true, false, false]);
  sender.drop();
  await settled();
});
