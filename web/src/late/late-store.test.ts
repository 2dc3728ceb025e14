/** What a stage made without a line, kept and sent, on files and requests of the test's. */
import { latePath, UPLOAD_COMPLETE, UPLOAD_OFFSET } from '@lantern/contract';
import { LateStore, type LateFolder, type LateState } from './late-store';

const SHOW = '6f1f3c54-0d0e-4a1a-9df7-0f6f7e7b0c10';
const bytesOf = (text: string) => new TextEncoder().encode(text).buffer as ArrayBuffer;
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

let files: Map<string, string>;
let open: Set<string>;
/** Files that another page has open. */
let elsewhere: Set<string>;
let full: boolean;
/** What the server has, by path; or the status that it answers with instead. */
let server: Map<string, string | number>;
let requests: string[];
let told: LateState[];
let waits: number[];
/** Called before each wait is over. */
let meanwhile: () => void;
let store: LateStore;

const folder: LateFolder = {
  names: () => Promise.resolve([...files.keys()]),
  open: (name) => {
    if (open.has(name) || elsewhere.has(name)) return Promise.resolve(null);
    if (!files.has(name)) files.set(name, '');
    open.add(name);
    return Promise.resolve({
      get size() {
        return files.get(name)!.length;
      },
      append: (bytes) => {
        if (full) throw new Error('full');
        files.set(name, files.get(name)! + textOf(bytes));
      },
      read: (at, length) => new Uint8Array(bytesOf(files.get(name)!.slice(at, at + Math.min(length, 6)))),
      close: () => open.delete(name),
    });
  },
  rename: (from, to) => {
    files.set(to, files.get(from)!);
    files.delete(from);
    return Promise.resolve();
  },
  remove: (name) => Promise.resolve(void files.delete(name)),
};

function answer(path: string, init: RequestInit): Response {
  const there = server.get(path) ?? 404;
  if (typeof there === 'number') return new Response(null, { status: there });
  const headers = init.headers as Record<string, string> | undefined;
  requests.push(`${init.method} ${headers?.[UPLOAD_OFFSET] ?? ''}${headers?.[UPLOAD_COMPLETE] === '?1' ? ' complete' : ''}`.trim());
  const now = init.method === 'PATCH' ? there + textOf(init.body as Uint8Array) : there;
  server.set(path, now);
  return new Response(null, { status: 204, headers: { [UPLOAD_OFFSET]: String(now.length) } });
}

beforeEach(() => {
  files = new Map();
  open = new Set();
  elsewhere = new Set();
  full = false;
  server = new Map();
  requests = [];
  told = [];
  waits = [];
  meanwhile = () => undefined;
  store = new LateStore({
    folder,
    fetch: (path, init) => Promise.resolve(answer(String(path), init!)),
    tell: (state) => told.push(state),
    wait: (ms) => {
      waits.push(ms);
      meanwhile();
      return Promise.resolve();
    },
    now: () => 0,
    random: () => 'abc',
  });
});

const settled = async () => {
  for (let turn = 0; turn < 400; turn++) await Promise.resolve();
};

test('what was kept is sent from where the server has it, in parts, and is gone here once it is there', async () => {
  server.set(latePath(SHOW, 4), '0123456789');
  // Two of its bytes had reached the server after all.
  await store.keep(SHOW, 4, 8, bytesOf('89abcd'));
  await store.keep(SHOW, 4, 14, bytesOf('efghij'));
  await store.end(SHOW, 4);
  await settled();
  expect(server.get(latePath(SHOW, 4))).toBe('0123456789abcdefghij');
  expect(requests).toEqual(['HEAD', 'PATCH 10', 'PATCH 16 complete']);
  expect([...files.keys()]).toEqual([]);
  expect(told.at(-1)).toEqual({ waitingBytes: 0, trouble: '' });
});

test('what is still being written is not sent, and what the server turned out to have is forgotten', async () => {
  server.set(latePath(SHOW, 4), '01234567');
  await store.keep(SHOW, 4, 8, bytesOf('89'));
  store.send();
  await settled();
  expect(requests).toEqual([]);
  await store.drop(SHOW, 4);
  expect(files.size).toBe(0);
});

test('a recorder that had no number gets one, and goes on into the same file', async () => {
  await store.keep(SHOW, 'next', 0, bytesOf('head '));
  await store.name(SHOW, 7);
  await store.keep(SHOW, 7, 5, bytesOf('more'));
  expect([...files]).toEqual([[`${SHOW}.7.0`, 'head more']]);
  server.set(latePath(SHOW, 7), '');
  await store.end(SHOW, 7);
  await settled();
  expect(server.get(latePath(SHOW, 7))).toBe('head more');
});

test('while a part is still being received, or the server is gone, it is tried again; a page that comes later sends what is left', async () => {
  files.set(`${SHOW}.4.2`, 'cd');
  server.set(latePath(SHOW, 4), 409);
  let tries = 0;
  meanwhile = () => {
    tries += 1;
    server.set(latePath(SHOW, 4), tries < 3 ? 503 : 'ab');
  };
  store.send();
  await settled();
  expect(tries).toBe(3);
  expect(server.get(latePath(SHOW, 4))).toBe('abcd');
  expect(files.size).toBe(0);
});

test('who may not send it keeps it, and is told; another page’s file is left to that page', async () => {
  files.set(`${SHOW}.4.2`, 'cd');
  files.set(`${SHOW}.5.0`, 'xy');
  elsewhere.add(`${SHOW}.5.0`);
  server.set(latePath(SHOW, 4), 403);
  server.set(latePath(SHOW, 5), '');
  store.send();
  await settled();
  expect(told.at(-1)).toEqual({ waitingBytes: 2, trouble: 'nobody may send it' });
  expect([...files.keys()]).toEqual([`${SHOW}.4.2`, `${SHOW}.5.0`]);
  server.set(latePath(SHOW, 4), 'ab');
  store.send();
  await settled();
  expect(server.get(latePath(SHOW, 4))).toBe('abcd');
  expect(told.at(-1)!.trouble).toBe('');
});

test('a browser that keeps no more says so, and sends what it has', async () => {
  server.set(latePath(SHOW, 4), 'ab');
  await store.keep(SHOW, 4, 2, bytesOf('cd'));
  full = true;
  await store.keep(SHOW, 4, 4, bytesOf('ef'));
  full = false;
  await store.keep(SHOW, 4, 6, bytesOf('gh'));
  expect(told.at(-1)!.trouble).toBe('the browser keeps no more');
  await store.end(SHOW, 4);
  await settled();
  expect(server.get(latePath(SHOW, 4))).toBe('abcd');
});

test('what belongs to a show that was removed, or joins on to nothing, is given up', async () => {
  files.set(`${SHOW}.4.2`, 'cd');
  files.set(`${SHOW}.next-abc.0`, 'cd');
  files.set(`${SHOW}.6.9`, 'cd');
  server.set(latePath(SHOW, 6), 'a server that lost some'.slice(0, 5));
  store.send();
  await settled();
  expect(files.size).toBe(0);
  expect(told.at(-1)!.trouble).toBe('a part does not join on');
});

test('a server without room is said to be that, and has it all once there is some', async () => {
  files.set(`${SHOW}.4.2`, 'cd');
  server.set(latePath(SHOW, 4), 507);
  const said: string[] = [];
  meanwhile = () => {
    said.push(told.at(-1)!.trouble);
    server.set(latePath(SHOW, 4), 'ab');
  };
  store.send();
  await settled();
  expect([said, told.at(-1)]).toEqual([['the server has no room'], { waitingBytes: 0, trouble: '' }]);
  expect(server.get(latePath(SHOW, 4))).toBe('abcd');
});
