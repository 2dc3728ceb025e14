// Tokens against a network that counts what it is asked: renewed once however many ask, and their end
// noticed.
import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { defaultsFor, instant, rulesFor, USUAL_TIMES } from '@lantern/core';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import type { Clock } from '../foundation/clock';
import { openDatabase } from '../database/database';
import type { Settings } from '../foundation/settings';
import { Vault } from '../foundation/vault';
import { Station } from '../people/people.entities';
import { ReelmoorChannelList } from '@lantern/contract/network-http';
import { ChannelRows } from './channel-rows';
import { ChannelAccessService, wordsOfNetworkError } from './access.service';
import { Channel } from './channel.entities';
import { AccessEnded, NetworkSilence } from './connectors/connector';
import { Bus } from '../foundation/bus';

const NOW = instant(Date.UTC(2026, 10, 24, 18));
const folder = mkdtempSync(join(tmpdir(), 'lantern-access-'));
let server: Server;
let database: DataSource;
let vault: Vault;
let access: ChannelAccessService;
let channel: Channel;
/** What the network does: which access token is good, and what its token endpoint answers. */
const network = {
  good: 'access-0',
  granted: 0,
  revoked: 0,
  tokens: 'grant' as 'grant' | 'refuse' | 'fail' | 'odd',
  refusals: 0,
  waitsFor: 0,
  enough: () => undefined as void,
};

async function form(request: IncomingMessage): Promise<Record<string, string>> {
  let text = '';
  for await (const bytes of request) text += String(bytes);
  return JSON.parse(text) as Record<string, string>;
}

beforeAll(async () => {
  server = createServer((request, response) => {
    const reply = (status: number, body: object) => response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
    if (request.url === '/reelmoor/oauth/revoke') return void (network.revoked++, reply(200, {}));
    if (request.url === '/reelmoor/oauth/token') {
      return void form(request).then(({ refresh_token }) => {
        if (network.tokens === 'fail') return reply(503, {});
        if (network.tokens === 'odd') return reply(200, { access_token: 'good\r\nx-other: 1', token_type: 'Bearer', expires_in: 'soon' });
        if (network.tokens === 'refuse' || refresh_token !== `refresh-${network.granted}`)
          return reply(400, { error: 'invalid_grant', error_description: 'No.' });
        network.granted++;
        network.good = `access-${network.granted}`;
        const grant = () => reply(200, { access_token: network.good, refresh_token: `refresh-${network.granted}`, token_type: 'Bearer', expires_in: 600 });
        // Granted only once all others who are to ask meanwhile have been refused.
        if (network.refusals >= network.waitsFor) grant();
        else network.enough = grant;
      });
    }
    const authorised = request.headers.authorization === `Bearer ${network.good}`;
    reply(authorised ? 200 : 401, authorised ? { items: [] } : {});
    if (!authorised && ++network.refusals === network.waitsFor) network.enough();
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const networksUrl = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const settings = { dataDir: folder, networksUrl } as Settings;
  database = await openDatabase(settings);
  vault = new Vault(settings);
  access = new ChannelAccessService(new ChannelRows(database), vault, { now: () => NOW } as Clock, new Bus(), settings);
  await database
    .getRepository(Station)
    .insert({ id: 's', name: 'Alderfell Sky Club', zone: 'UTC', cities: [], milestoneTimes: USUAL_TIMES, feedHash: null, slug: 's', supportersHash: null });
});
afterAll(async () => {
  await database.destroy();
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
  rmSync(folder, { recursive: true, force: true });
});
beforeEach(async () => {
  Object.assign(network, { good: 'access-0', granted: 0, revoked: 0, tokens: 'grant', refusals: 0, waitsFor: 0, enough: () => undefined });
  channel = Object.assign(new Channel(), {
    id: 'c',
    stationId: 's',
    network: 'reelmoor',
    kind: 'library channel',
    name: 'Alderfell Sky Club',
    pictureUrl: null,
    remoteId: 'rm',
    sealed: vault.seal({ access: 'access-0', refresh: 'refresh-0', expiresAt: NOW + 600_000 }),
    watchUrl: null,
    access: 'good',
    defaults: defaultsFor(rulesFor('reelmoor', 'library channel')),
    limits: null,
    conditions: [],
    conditionsAt: null,
  } satisfies Channel);
  await database.getRepository(Channel).save(channel);
});

const ask = () => access.of(channel).request('/reelmoor/api/channels', { reply: ReelmoorChannelList });
const kept = () => database.getRepository(Channel).findOneByOrFail({ id: 'c' });

test('a good token is used as it is', async () => {
  await ask();
  expect(network.granted).toBe(0);
});

test('a renewal that is answered with something else than tokens ends nothing, and is tried again', async () => {
  Object.assign(network, { good: 'access-1', tokens: 'odd' });
  await expect(ask()).rejects.toThrow('else than was agreed (access_token)');
  expect(await kept()).toMatchObject({ access: 'good' });
  network.tokens = 'grant';
  await ask();
  expect(network.granted).toBe(1);
});

test('one that the network refuses is renewed once, however many ask at the same moment', async () => {
  Object.assign(network, { good: 'somebody revoked access-0', waitsFor: 4 });
  await Promise.all([ask(), ask(), ask(), ask()]);
  expect(network.granted).toBe(1);
  expect((await kept()).sealed).not.toBe(channel.sealed);
  await ask();
  expect(network.granted).toBe(1);
});

test('one that is about to run out is renewed before it is used', async () => {
  await database.getRepository(Channel).update('c', { sealed: vault.seal({ access: 'access-0', refresh: 'refresh-0', expiresAt: NOW + 30_000 }) });
  await ask();
  expect(network.granted).toBe(1);
});

test('access that cannot be renewed has ended; a token endpoint in trouble ends nothing', async () => {
  network.good = 'none';
  network.tokens = 'fail';
  await expect(ask()).rejects.toBeInstanceOf(NetworkSilence);
  expect((await kept()).access).toBe('good');
  network.tokens = 'refuse';
  const ended = await ask().catch((error: unknown) => error);
  expect(ended).toBeInstanceOf(AccessEnded);
  expect(wordsOfNetworkError(ended, channel, null)).toBe('Reelmoor no longer lets the station act for Alderfell Sky Club. Link the channel again.');
  expect(access.stateOf(await kept())).toBe('ended');
});

test('tokens that another key file sealed are unreadable, and nothing is asked with them', async () => {
  await database.getRepository(Channel).update('c', { sealed: Buffer.alloc(80, 7).toString('base64') });
  expect(access.stateOf(await kept())).toBe('unreadable');
  await expect(ask()).rejects.toBeInstanceOf(AccessEnded);
  expect(network.granted).toBe(0);
});

test('access that is given back is revoked there, and a network that is silent keeps nobody from it', async () => {
  await access.giveBack(channel);
  expect(network.revoked).toBe(1);
  const lonely = new ChannelAccessService(new ChannelRows(database), vault, { now: () => NOW } as Clock, new Bus(), {
    dataDir: folder,
    networksUrl: 'http://127.0.0.1:1',
  } as Settings);
  await lonely.giveBack(channel);
});
