// A line that takes less than the stage sends: how soon the picture goes out with less, and whether a channel waits for a picture meanwhile. What is drawn is a
// made-up camera's picture that moves all over, so that there is something to send.
import { test } from '@playwright/test';
import type { AirView } from '@lantern/contract';
import { lampOf, openStage } from '../e2e/support/test';
import { evening } from './measured/evening';

/** Less than what is sent, and more than the least. */
const TAKES_KBPS = 800;
const THIN_FOR_MS = 45_000;

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

test('a line that takes less than is sent', async ({ browser }) => {
  test.setTimeout(300_000);
  await evening(async ({ product, host, show, longestWait }) => {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, permissions: ['camera', 'microphone'] });
    await host.lendTo(context);
    const page = await context.newPage();
    page.on('dialog', (dialog) => void dialog.accept());
    await page.addInitScript(noise);
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
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    await page.getByRole('button', { name: 'Go on air' }).click();
    await lampOf(page, 'Reelmoor').filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
    await page.keyboard.press('Space');
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
