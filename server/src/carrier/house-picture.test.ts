// The house page's picture as the air process serves it, over a real socket.
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { HousePicture } from './house-picture';

let folder = '';
let server: Server;
let open: string | null = 'dusk';

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-picture-'));
  writeFileSync(join(folder, 'live.m3u8'), '#EXTM3U\n#EXTINF:0.5,\n1-000001.ts\n');
  writeFileSync(join(folder, '1-000001.ts'), 'picture');
  writeFileSync(join(folder, 'secret.txt'), 'not for viewers');
  const picture = new HousePicture({ openFolder: (slug) => (slug === open ? folder : null) });
  server = createServer((request, response) => {
    if (!picture.answer(request, response)) response.writeHead(418).end();
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
  rmSync(folder, { recursive: true, force: true });
});

const get = (path: string, init?: RequestInit) => fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`, init);

test('playlist and parts are had by any page, the playlist always as it is now', async () => {
  const playlist = await get('/live/dusk/live.m3u8?again=1');
  expect([playlist.status, await playlist.text(), playlist.headers.get('cache-control')]).toEqual([200, '#EXTM3U\n#EXTINF:0.5,\n1-000001.ts\n', 'no-store']);
  expect([playlist.headers.get('access-control-allow-origin'), playlist.headers.get('content-type')]).toEqual(['*', 'application/vnd.apple.mpegurl']);
  const part = await get('/live/dusk/1-000001.ts');
  expect([await part.text(), part.headers.get('content-type'), part.headers.get('cache-control')]).toEqual(['picture', 'video/mp2t', 'public, max-age=60']);
  expect((await get('/live/dusk/live.m3u8', { method: 'HEAD' })).status).toBe(200);
  expect((await get('/live/dusk/live.m3u8', { method: 'POST' })).status).toBe(405);
});

test('what is not there, not a part, or of a show that is not for everybody, is not given', async () => {
  for (const path of ['/live/dusk/1-000009.ts', '/live/other/live.m3u8']) expect((await get(path)).status).toBe(404);
  for (const path of ['/live/dusk/secret.txt', '/live/dusk/..%2Flive.m3u8', '/live/../live.m3u8', '/elsewhere']) expect((await get(path)).status).toBe(418);
  // A part that comes later is found then.
  expect((await get('/live/dusk/1-000002.ts')).status).toBe(404);
  writeFileSync(join(folder, '1-000002.ts'), 'next');
  expect(await (await get('/live/dusk/1-000002.ts')).text()).toBe('next');
  open = null;
  expect((await get('/live/dusk/1-000001.ts')).status).toBe(404);
});

test('a playlist that is just being written over is waited for, and is never given empty', async () => {
  open = 'dusk';
  writeFileSync(join(folder, 'live.m3u8'), '');
  const waited = get('/live/dusk/live.m3u8');
  setTimeout(() => writeFileSync(join(folder, 'live.m3u8'), '#EXTM3U\n#EXTINF:0.5,\n1-000002.ts\n'), 30);
  expect([(await waited).status, await (await waited).text()]).toEqual([200, expect.stringContaining('1-000002.ts')]);
  writeFileSync(join(folder, 'live.m3u8'), '');
  expect((await get('/live/dusk/live.m3u8')).status).toBe(404);
});
