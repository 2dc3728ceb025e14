// Whether the programme ever stops, and what it costs that it does not: a tab that dies, a planning server that is started anew, an air
// process that is killed, 20,000 reminders beside a show. Prints a table; passes whatever the figures are, since machines differ.
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import type { AirView, OutboxView, OutsideLineView, RevealedKey, ShowView } from '@lantern/contract';
import type { Page } from '@playwright/test';
import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { Captures } from '../e2e/support/captures';
import { Host, OWNER } from '../e2e/support/host';
import { Product } from '../e2e/support/product';
import { lampOf, openStage, test } from '../e2e/support/test';

const PEOPLE = 20_000;
const AWAY_MS = 90_000;
const table: { what: string; figure: string; aim: string }[] = [];
const note = (what: string, figure: string, aim: string) => table.push({ what, figure, aim });
const ms = (value: number) => `${Math.round(value)} ms`;

interface Evening {
  product: Product;
  host: Host;
  show: ShowView;
  captures: Captures;
  air: () => Promise<AirView>;
  /** The longest wait for a picture on any stand-in since `since`, and the most connections on one. */
  gaps: (since: number) => { longestMs: number; connections: number };
}

async function evening(page: Page, only?: 'Reelmoor'): Promise<Evening> {
  const captures = new Captures();
  const product = await Product.start(captures.env);
  leftOver.push(product);
  const host = new Host(product);
  const show = await host.showAtItsStart();
  await host.lendTo(page.context());
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.waitForTimeout(4_000); // The card is made meanwhile.
  if (only) {
    await page.getByRole('button', { name: 'Some channels only…' }).click();
    await page
      .getByRole('dialog')
      .getByRole('checkbox', { name: new RegExp(only) })
      .check();
    await page.getByRole('button', { name: 'Go on air there' }).click();
  } else await page.getByRole('button', { name: 'Go on air', exact: true }).click();
  for (const network of only ? [only] : ['Reelmoor', 'Townfold']) await lampOf(page, network).filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
  await page.keyboard.press('Space');
  await page.waitForTimeout(5_000);
  const gaps = (since: number) => {
    const all = captures.gaps(since);
    return { longestMs: Math.max(...all.map(({ longestMs }) => longestMs)), connections: Math.max(...all.map(({ connections }) => connections)) };
  };
  return { product, host, show, captures, air: () => host.must<AirView>('GET', `/api/shows/${show.id}/air`), gaps };
}

async function until(look: () => Promise<boolean>): Promise<number> {
  const began = performance.now();
  while (!(await look().catch(() => false))) await new Promise((next) => setTimeout(next, 25));
  return performance.now() - began;
}

test('a tab that dies for 90 seconds', async ({ page }) => {
  const { air, gaps } = await evening(page);
  const since = Date.now();
  await page.goto('about:blank');
  await page.waitForTimeout(AWAY_MS);
  await page.goBack();
  await page.getByRole('button', { name: 'Wrap up…' }).waitFor();
  const backMs = await until(async () => (await air()).source === 'stage');
  await page.waitForTimeout(3_000);
  const { longestMs, connections } = gaps(since);
  note('the stage’s tab gone for 90 s: longest wait for a picture on any stand-in', ms(longestMs), 'under 500 ms');
  note('connections made to each stand-in', String(connections), '1');
  note('the stage is open again: on air after', `${(backMs / 1000).toFixed(1)} s`, 'under 3 s');
});

test('half an hour without a stage, by the clock', async ({ page }) => {
  const { product, air, gaps } = await evening(page);
  const since = Date.now();
  await page.goto('about:blank');
  await page.waitForTimeout(20_000);
  product.travelTo(product.now() + 30 * 60_000);
  await page.waitForTimeout(20_000);
  await page.goBack();
  await page.getByRole('button', { name: 'Wrap up…' }).waitFor();
  const backMs = await until(async () => (await air()).source === 'stage');
  await page.waitForTimeout(3_000);
  const { longestMs, connections } = gaps(since);
  note(
    'the same for half an hour, the clock moved: longest wait, connections, back after',
    `${ms(longestMs)}, ${connections}, ${(backMs / 1000).toFixed(1)} s`,
    'as above',
  );
});

test('an outside line on the stage', async ({ page }) => {
  const product = await Product.start();
  leftOver.push(product);
  const host = new Host(product);
  const show = await host.showAtItsStart();
  await host.lendTo(page.context());
  await host.must('POST', '/api/outside-lines', { name: 'Hall camera' });
  const [line] = await host.must<[OutsideLineView]>('GET', '/api/outside-lines');
  await host.must('POST', '/api/session/password', { password: OWNER.password });
  const { key } = await host.must<RevealedKey>('POST', `/api/outside-lines/${line.id}/reveal`, { purpose: 'show' });
  // Light for two seconds, dark for two: when it turns is known here by the picture that the encoder is given in the same moment.
  const turns: number[] = [];
  const picture = 'color=black:s=1280x720:r=30,drawbox=color=white:t=fill:enable=lt(mod(t\\,4)\\,2)';
  const encoder = spawn(process.env.FFMPEG_PATH ?? ffmpegPackage.path, [
    ...['-v', 'error', '-re', '-f', 'lavfi', '-i', picture, '-f', 'lavfi', '-i', 'sine=sample_rate=48000'],
    ...['-map', '0:v', '-map', '1:a', '-c:v', 'libx264', '-preset', 'ultrafast', '-tune', 'zerolatency', '-pix_fmt', 'yuv420p', '-g', '30', '-c:a', 'aac'],
    ...['-f', 'flv', `${line.address.replace('localhost', '127.0.0.1')}/${key}`],
    ...['-map', '0:v', '-vf', 'scale=1:1', '-pix_fmt', 'gray', '-f', 'rawvideo', '-flush_packets', '1', 'pipe:1'],
  ]);
  let light: boolean | null = null;
  encoder.stdout.on('data', (bytes: Buffer) => {
    const now = bytes.at(-1)! > 127;
    if (light !== null && now !== light) turns.push(Date.now());
    light = now;
  });
  try {
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    await page.getByRole('button', { name: 'Bring it to the stage' }).click();
    await page.getByRole('group', { name: 'What comes next' }).getByRole('button', { name: 'Outside line', exact: true }).click();
    await page.keyboard.press('Space');
    await page.waitForTimeout(4_000);
    const seen = await page.getByLabel('Programme', { exact: true }).evaluate(async (video: HTMLVideoElement) => {
      const context = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!;
      const found: number[] = [];
      let before: boolean | null = null;
      const until = Date.now() + 40_000;
      while (Date.now() < until) {
        await new Promise<unknown>((next) => video.requestVideoFrameCallback(next));
        context.drawImage(video, 0, 0, 1, 1);
        const now = context.getImageData(0, 0, 1, 1).data[0]! > 127;
        if (before !== null && now !== before) found.push(Date.now());
        before = now;
      }
      return found;
    });
    const late = seen.map((at) => at - Math.max(...turns.filter((turn) => turn <= at))).sort((a, b) => a - b);
    note(
      `a picture given to an encoder, seen on the stage (${late.length} times): median, longest`,
      `${ms(late[Math.floor(late.length / 2)]!)}, ${ms(late.at(-1)!)}`,
      'under 1 s',
    );
  } finally {
    encoder.kill('SIGKILL');
  }
});

test('the planning server is started anew, the air process is killed', async ({ page }) => {
  const { product, air, gaps, captures } = await evening(page);
  let since = Date.now();
  await product.killServer();
  await page.waitForTimeout(2_000);
  await product.startServer();
  await page.waitForTimeout(5_000);
  note('the planning server killed and started in mid-show: longest wait for a picture', ms(gaps(since).longestMs), 'under 500 ms');
  await page.waitForTimeout(3_000);
  since = Date.now();
  await product.killAir();
  await product.startAir();
  const again = () => captures.connections().filter(({ pictures }) => pictures.some(({ at }) => at > since + 500));
  await until(async () => new Set(again().map(({ event }) => event)).size === 2);
  const firsts = again().map(({ pictures }) => pictures.find(({ at }) => at > since + 500)!.at - since);
  note('the air process killed: a picture again on both stand-ins after', `${(Math.max(...firsts) / 1000).toFixed(1)} s`, 'under 5 s');
  note(
    'and the stage’s own picture after',
    `${((await until(async () => (await air()).source === 'stage')) / 1000 + Math.max(...firsts) / 1000).toFixed(1)} s`,
    '',
  );
});

test('20,000 people are reminded beside a show', async ({ page }) => {
  const { product, host, show, gaps } = await evening(page);
  await product.killServer();
  const database = await new DataSource({ type: 'better-sqlite3', database: join(product.folder, 'station', 'lantern.sqlite') }).initialize();
  await database.query(
    `WITH RECURSIVE counted(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM counted WHERE i < ${PEOPLE})
     INSERT INTO registrations (id, showId, email, zone, tokenHash, askedAt, confirmedAt, toldStart, told)
     SELECT 'r' || i, ?, 'visitor' || i || '@people.example', 'Europe/Dublin', 'h' || i, 1, 1, ?, '' FROM counted`,
    [show.id, show.startsAt],
  );
  await database.destroy();
  const since = Date.now();
  const began = Date.now();
  let slowestMs = 0;
  const sent = async () => (await host.must<OutboxView>('GET', '/api/mails')).counts.sent;
  await product.startServer();
  for (;;) {
    await page.waitForTimeout(4_000);
    // What it says of itself is of the last ten to twenty seconds: what was before the reminders is forgotten by then.
    const { standStillMs } = (await (await fetch(`${product.airUrl}/health/ready`)).json()) as { standStillMs: number };
    if (Date.now() - began > 20_000) slowestMs = Math.max(slowestMs, standStillMs);
    if ((await sent()) >= PEOPLE) break;
    if (Date.now() - began > 240_000) throw new Error('not all mails went out');
  }
  const tookS = (Date.now() - began) / 1_000;
  note(`the air process stands still while ${PEOPLE.toLocaleString('en')} are reminded (${tookS.toFixed(0)} s)`, ms(slowestMs), 'under 50 ms');
  note('longest wait for a picture meanwhile', ms(gaps(since).longestMs), 'under 500 ms');
});

test('what the card and a channel cost', async ({ page }) => {
  const { product, host, show } = await evening(page, 'Reelmoor');
  /** Of the air process with all that it has begun: relays with their tunnels, packing, receiving. */
  const share = async (seconds: number) => {
    const before = cpuSeconds(product.airPid);
    await page.waitForTimeout(seconds * 1_000);
    return ((cpuSeconds(product.airPid) - before) / seconds) * 100;
  };
  const one = await share(30);
  await page.getByRole('button', { name: 'Start it on Townfold' }).click();
  await lampOf(page, 'Townfold').filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
  await page.waitForTimeout(5_000);
  const two = await share(30);
  note(
    'the air process and all its children, of a core: one channel and the house page; a further channel (relay and tunnel)',
    `${one.toFixed(1)} %, ${(two - one).toFixed(1)} % more`,
    'at most 1 %',
  );
  await page.keyboard.press('b');
  await page.waitForTimeout(3_000);
  note('the same on two channels while the break card is on, the stage still sending', `${(await share(30)).toFixed(1)} %`, 'card and switch under 1 % more');
  await page.goto('about:blank');
  await page.waitForTimeout(3_000);
  note('the same with the card alone, no stage', `${(await share(20)).toFixed(1)} %`, '');
  await host.must('POST', `/api/shows/${show.id}/wrap`);
});

const leftOver: Product[] = [];
test.afterEach(async () => {
  for (const product of leftOver.splice(0)) await product.stop();
});
test.afterAll(() => {
  if (table.length) console.table(table);
});

/** User and system time of a process and of those that it has begun and not yet ended, from proc(5); a tick is a hundredth of a second. */
function cpuSeconds(pid: number): number {
  const all = readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((name) => {
      try {
        const fields = readFileSync(`/proc/${name}/stat`, 'utf8').split(') ')[1]!.split(' ');
        return [{ pid: Number(name), parent: Number(fields[1]), seconds: (Number(fields[11]) + Number(fields[12])) / 100 }];
      } catch {
        return []; // It has ended meanwhile.
      }
    });
  const of = (wanted: number): number => all.reduce((sum, each) => sum + (each.pid === wanted ? each.seconds : each.parent === wanted ? of(each.pid) : 0), 0);
  return of(pid);
}
