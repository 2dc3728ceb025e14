// A line that takes less than the stage sends: how soon the picture goes out with less, and whether a channel waits for a picture meanwhile. What is drawn is a
// made-up camera's picture that moves all over, so that there is something to send.
import { test, type Browser, type Page } from '@playwright/test';
import type { AirView } from '@lantern/contract';
import type { Host } from '../e2e/support/host';
import { lampOf, openStage } from '../e2e/support/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { evening } from './measured/evening';

/** Less than what is sent, and more than the least. */
const TAKES_KBPS = 800;
const THIN_FOR_MS = 45_000;
const GONE_FOR_MS = 180_000;

/** Noise, which cannot be sent with little. */
function noise(): void {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [1280, 720];
  const context = canvas.getContext('2d', { alpha: false })!;
  setInterval(() => {
    for (let at = 0; at < 12; at++) {
      context.fillStyle = `hsl(${Math.random() * 360} 60% ${20 + Math.random() * 60}%)`;
      context.fillRect(Math.random() * 1280, Math.random() * 720, 70, 50);
    }
  }, 40);
  const real = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
  navigator.mediaDevices.getUserMedia = async (what = {}) => {
    const stream = await real({ audio: what.audio ?? false, ...(what.video && !what.audio && { video: what.video }) });
    return new MediaStream([...(what.video ? canvas.captureStream(25).getVideoTracks() : []), ...stream.getAudioTracks()]);
  };
}

/** A browser of the host's whose camera moves all over. */
async function noisyStage(browser: Browser, host: Host): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, permissions: ['camera', 'microphone'] });
  await host.lendTo(context);
  const page = await context.newPage();
  page.on('dialog', (dialog) => void dialog.accept());
  await page.addInitScript(noise);
  return page;
}

async function goOnAir(page: Page, stageUrl: string): Promise<void> {
  await openStage(page, stageUrl);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await lampOf(page, 'Reelmoor').filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
  await page.keyboard.press('Space');
}

test('a line that takes less than is sent', async ({ browser }) => {
  test.setTimeout(300_000);
  await evening(async ({ product, host, show, longestWait }) => {
    const page = await noisyStage(browser, host);
    let takesKbps = Infinity;
    let freeAt = 0;
    let bytes = 0;
    await page.routeWebSocket(/\/api\/stage\//, (client) => {
      const server = client.connectToServer();
      client.onMessage((message) => {
        bytes += message.length;
        const now = Date.now();
        freeAt = Math.max(now, freeAt) + (message.length * 8) / takesKbps;
        if (freeAt <= now) server.send(message);
        else setTimeout(() => server.send(message), freeAt - now);
      });
      server.onMessage((message) => client.send(message));
    });
    await goOnAir(page, `${product.url}/shows/${show.id}/stage`);
    await page.waitForTimeout(8_000);
    const kbps = async (forMs: number) => {
      const before = bytes;
      await page.waitForTimeout(forMs);
      return Math.round(((bytes - before) * 8) / forMs);
    };
    let since = Date.now();
    const sentBefore = await kbps(12_000);
    const waitBefore = longestWait(since);
    since = Date.now();
    takesKbps = TAKES_KBPS;
    let cards = 0;
    const watch = setInterval(
      () => void host.must<AirView>('GET', `/api/shows/${show.id}/air`).then(({ source }) => (cards += source === 'break card' ? 1 : 0)),
      500,
    );
    await page.getByText('Your line gives about').waitFor({ timeout: 60_000 });
    const said = Date.now() - since;
    await page.waitForTimeout(Math.max(0, THIN_FOR_MS - 10_000 - said));
    const sentThin = await kbps(10_000);
    const waitThin = longestWait(since);
    const behindMs = Math.max(0, freeAt - Date.now());
    clearInterval(watch);
    takesKbps = Infinity;
    const lifted = Date.now();
    let on: string | null = null;
    for (let steady = 0; steady < 6 && Date.now() - lifted < 90_000; await page.waitForTimeout(500)) {
      on = (await host.must<AirView>('GET', `/api/shows/${show.id}/air`)).source;
      steady = on === 'stage' ? steady + 1 : 0;
    }
    const back = Date.now() - lifted;
    const words = await page.getByText('Your line gives about').innerText();
    console.table([
      { what: 'sent before, and its longest wait for a picture', figure: `${sentBefore} kbit/s, ${waitBefore} ms` },
      { what: `the line takes ${TAKES_KBPS} kbit/s: said after`, figure: `${(said / 1_000).toFixed(1)} s` },
      { what: 'longest wait for a picture in those 45 s; times that the card was seen', figure: `${waitThin} ms, ${cards}` },
      { what: 'sent after that; still waiting on the line', figure: `${sentThin} kbit/s, ${(behindMs / 1_000).toFixed(1)} s` },
      { what: 'the line takes all again: viewers see the stage without a break for three seconds, after', figure: `${(back / 1_000).toFixed(1)} s, ${on}` },
      { what: 'said', figure: words },
    ]);
  });
});

test('a line that is gone for three minutes: what the recording has of them', async ({ browser }) => {
  test.setTimeout(600_000);
  await evening(async ({ product, host, show, longestWait }) => {
    const page = await noisyStage(browser, host);
    let gone = false;
    await page.routeWebSocket(/\/api\/stage\//, (client) => {
      const server = client.connectToServer();
      client.onMessage((message) => gone || server.send(message));
      server.onMessage((message) => gone || client.send(message));
    });
    let sentAt = 0;
    page.on('response', (reply) => {
      if (reply.url().includes('/late/')) sentAt = Date.now();
    });
    await goOnAir(page, `${product.url}/shows/${show.id}/stage`);
    await page.waitForTimeout(15_000);
    gone = true;
    await page.waitForTimeout(GONE_FOR_MS);
    gone = false;
    const back = Date.now();
    const air = () => host.must<AirView>('GET', `/api/shows/${show.id}/air`);
    while ((await air()).source !== 'stage') await page.waitForTimeout(100);
    const seenAgain = Date.now() - back;
    const since = Date.now();
    await page.waitForTimeout(60_000);
    const wait = longestWait(since);
    const [folder] = readdirSync(join(product.folder, 'station', 'recordings'), { withFileTypes: true }).map(({ parentPath, name }) => join(parentPath, name));
    const late = readdirSync(folder!)
      .filter((name) => name.endsWith('.late'))
      .map((name) => statSync(join(folder!, name.replace('late', 'webm'))).size);
    await host.must('POST', `/api/shows/${show.id}/wrap`);
    const wrapped = Date.now();
    while ((await host.report(show.id)).recording.state !== 'ready') await page.waitForTimeout(200);
    const made = Date.now() - wrapped;
    const file = join(mkdtempSync(join(tmpdir(), 'lantern-bench-')), 'recording.mp4');
    writeFileSync(file, await (await page.request.get(`${product.url}/api/shows/${show.id}/recording.mp4`)).body());
    const times = execFileSync('ffprobe', ['-v', 'error', '-select_streams', 'v', '-show_entries', 'packet=pts_time', '-of', 'csv=p=0', file], {
      encoding: 'utf8',
      maxBuffer: 1 << 26,
    });
    const pictures = times
      .split('\n')
      .map(parseFloat)
      .filter(Number.isFinite)
      .sort((a, b) => a - b);
    const steps = pictures.slice(1).map((at, index) => at - pictures[index]!);
    console.table([
      { what: 'the line is back: viewers see the stage after', figure: `${(seenAgain / 1_000).toFixed(1)} s` },
      {
        what: 'all that was missing is there after',
        figure: `${((sentAt - back) / 1_000).toFixed(1)} s, in stretches of ${late.map((size) => (size / 1e6).toFixed(1)).join(', ')} MB`,
      },
      { what: 'longest wait for a picture on the channels while it was sent', figure: `${wait} ms` },
      { what: 'wrapped up: the recording is made after', figure: `${(made / 1_000).toFixed(1)} s` },
      {
        what: 'the recording: length, pictures a second, longest step between two',
        figure: `${(pictures.at(-1)! - pictures[0]!).toFixed(1)} s, ${(pictures.length / (pictures.at(-1)! - pictures[0]!)).toFixed(2)}, ${Math.round(1_000 * Math.max(...steps))} ms`,
      },
    ]);
  });
});
