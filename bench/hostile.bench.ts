// How long everybody else waits while a stranger, or one hostile file, keeps the server busy: the slowest answer of
// /health/live meanwhile. Prints a table; passes whatever the figures are.
import { DAY_MS } from '@lantern/core';
import type { ShowView } from '@lantern/contract';
import { test as base } from '@playwright/test';
import { connect } from 'node:net';
import sharp from 'sharp';
import { Host, soonestStart } from '../e2e/support/host';
import { Product } from '../e2e/support/product';
import { standStill } from './stand-still';

const test = base.extend<{ product: Product; host: Host }>({
  product: async ({}, use) => {
    const product = await Product.start({ LANTERN_CONNECTIONS_PER_ADDRESS: '6000' });
    await use(product);
    await product.stop();
  },
  host: async ({ product }, use) => use(new Host(product)),
});
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
const keys = (count: number) => Object.fromEntries(Array.from({ length: count }, (_, at) => [`k${at}`, at]));

function zoneThatChanges(rule: string): string {
  const zone = ['BEGIN:STANDARD', 'DTSTART:19000101T000000', 'TZOFFSETFROM:+0000', 'TZOFFSETTO:+0100', `RRULE:${rule}`, 'END:STANDARD'];
  const event = ['BEGIN:VEVENT', 'UID:1', 'DTSTART;TZID=X:20270304T203000', 'DURATION:PT1H', 'END:VEVENT'];
  return ['BEGIN:VCALENDAR', 'BEGIN:VTIMEZONE', 'TZID:X', ...zone, 'END:VTIMEZONE', ...event, 'END:VCALENDAR'].join('\r\n');
}
function partsThatMultiply(depth: number): Buffer {
  let inner = '<rect width="10" height="10"/>';
  for (let at = 0; at < depth; at++) inner = `<g id="a${at}">${inner}</g>${`<use href="#a${at}"/>`.repeat(9)}`;
  return Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100" width="100" height="100">${inner}</svg>`);
}

test('what others wait for', async ({ product, host }) => {
  test.setTimeout(600_000);
  const rows: { what: string; 'slowest answer, ms': string; 'took, s': string; answered: string }[] = [];
  await host.setUp();
  const channel = await host.link('reelmoor', 'rm-alderfell');
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soonestStart(product.now() + DAY_MS), [channel]));
  const stationPage = new URL((await host.must<{ pageUrl: string }>('GET', '/api/station')).pageUrl).pathname;
  const port = Number(new URL(product.url).port);

  async function measure(what: string, work: () => Promise<number | string>): Promise<void> {
    const { slowestMs: slowest, tookS: took, answer } = await standStill(`${product.url}/health/live`, work);
    const answered = String(answer);
    rows.push({ what, 'slowest answer, ms': slowest.toFixed(0), 'took, s': took.toFixed(2), answered });
  }
  const stranger = (path: string, body: object) => async () =>
    (await fetch(`${product.url}${path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })).status;
  const own = (method: string, path: string, body: object | Buffer) => async () => (await host.ask(method, path, body)).status;
  const together =
    (count: number, work: (at: number) => Promise<number | string>): (() => Promise<string>) =>
    async () => {
      const all = await Promise.all(Array.from({ length: count }, (_, at) => work(at)));
      return [...new Set(all)].map((answer) => `${all.filter((each) => each === answer).length} × ${answer}`).join(', ');
    };

  await measure('nothing at all, for comparison', async () => (await pause(2_000), '—'));
  await measure('492 kB of unknown keys', stranger('/api/session', keys(38_000)));
  await measure('1.75 MB of unknown keys', stranger('/api/session', keys(130_000)));
  await measure('20 kB of unknown keys', stranger('/api/session', keys(1_400)));
  await measure('60,000 groups of one contact', own('POST', '/api/contacts', { name: 'A', email: 'a@people.example', groups: Object.keys(keys(60_000)) }));
  await measure(
    '1.9 MB of them as a table',
    own('POST', '/api/contacts/table', { text: `Name,Address,Groups\r\nA,a@people.example,${'ggggggggggggggg;'.repeat(120_000)}` }),
  );
  for (const rule of ['FREQ=SECONDLY', 'FREQ=DAILY'])
    await measure(`a zone that changes by ${rule}`, own('POST', '/api/calendar', { text: zoneThatChanges(rule) }));
  await measure(
    'a rule that no month meets',
    own('POST', '/api/calendar', {
      text: [
        'BEGIN:VCALENDAR',
        'BEGIN:VEVENT',
        'UID:1',
        'DTSTART:20270228T203000Z',
        'RRULE:FREQ=MONTHLY;INTERVAL=12;BYMONTHDAY=31',
        'END:VEVENT',
        'END:VCALENDAR',
      ].join('\r\n'),
    }),
  );
  await measure(
    'four drawings of 1.5 kB with parts that multiply, at once',
    together(4, () => own('PUT', `/api/shows/${show.id}/thumbnail`, partsThatMultiply(9))()),
  );
  const strip = await sharp({ create: { width: 6, height: 3_000, channels: 3, background: '#345' } })
    .png()
    .toBuffer();
  await measure('a picture of 6 by 3,000 pixels', own('PUT', `/api/shows/${show.id}/thumbnail`, strip));
  await measure(
    '40 connections that each ask for the station page, its feed and calendar 10 times',
    together(40, async () => {
      let last = 0;
      for (let time = 0; time < 10; time++)
        for (const page of ['', '/feed.atom', '/calendar.ics']) {
          const reply = await fetch(`${product.url}${stationPage}${page}`);
          await reply.arrayBuffer();
          last = reply.status;
        }
      return last;
    }),
  );
  await measure(
    '1,000 refused upgrades that are not hung up',
    together(
      1_000,
      () =>
        new Promise((done) => {
          const socket = connect(port, '127.0.0.1');
          socket.on('error', () => done('hung up'));
          socket.on('close', () => done('hung up'));
          socket.resume();
          socket.write(
            `GET /api/stage/${show.id} HTTP/1.1\r\nHost: localhost\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Key: x3JJHMbDL1EzLkh9GBhXDw==\r\nSec-WebSocket-Version: 13\r\n\r\n`,
          );
          setTimeout(() => (socket.destroy(), done('still open')), 3_000);
        }),
    ),
  );
  await measure(
    '60 connections that announce 2 MB and send nothing more',
    together(
      60,
      () =>
        new Promise((done) => {
          const socket = connect(port, '127.0.0.1');
          socket.once('data', (bytes) => (done(String(bytes).slice(9, 12)), socket.destroy()));
          socket.on('error', () => done('hung up'));
          socket.write('POST /api/calendar HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 2000000\r\n\r\n{');
        }),
    ),
  );
  console.table(rows);
});
