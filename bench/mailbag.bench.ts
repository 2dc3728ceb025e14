// Two hundred messages a second over four networks, and as many on the house page as one address may write, on the stage: whether the picture goes on, how soon the newest is in sight, whether any is lost or
// comes twice, and what the page keeps of them. Prints a table; passes whatever the figures are.
import { test } from '@playwright/test';
import type { MessagesView, ShowView } from '@lantern/contract';
import { MINUTE_MS } from '@lantern/core';
import { randomBytes } from 'node:crypto';
import sharp from 'sharp';
import { Captures } from '../e2e/support/captures';
import { Host } from '../e2e/support/host';
import { Product } from '../e2e/support/product';
import { lampOf, openStage } from '../e2e/support/test';

const FLOOD_S = Number(process.env.LANTERN_FLOOD_S ?? 300);
const A_SECOND_EACH = 50;
const QUIET_S = 20;
/** One address may write thirty a minute. */
const HOUSE_EVERY_S = 3;
const key = () => randomBytes(24).toString('base64url');

declare global {
  interface Window {
    seenAfter: number[];
  }
}

test('a flood of messages', async ({ browser }) => {
  test.setTimeout((FLOOD_S + 300) * 1_000);
  const captures = new Captures();
  const product = await Product.start(captures.env);
  try {
    const host = new Host(product);
    await host.setUp();
    const accounts = [
      ['reelmoor', 'rm-alderfell'],
      ['townfold', 'tf-alderfell'],
      ['guildhand', 'gh-alderfell'],
      ['pipwire', 'pw-alderfellsky'],
    ] as const;
    const channels = [];
    for (const [network, account] of accounts) channels.push(await host.link(network, account));
    // Guildhand takes starts on the quarter of an hour, half an hour ahead.
    const startsAt = Math.ceil((product.now() + 31 * MINUTE_MS) / (15 * MINUTE_MS)) * 15 * MINUTE_MS;
    const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, channels, { thumbnailAlternative: 'The dome at dusk.' }));
    const picture = await sharp({ create: { width: 1920, height: 1080, channels: 3, background: '#1c4a52' } })
      .png()
      .toBuffer();
    await host.must('PUT', `/api/shows/${show.id}/thumbnail`, picture);
    await host.must('POST', `/api/shows/${show.id}/place`);
    product.travelTo(startsAt + 2_000);
    const context = await browser.newContext({ viewport: { width: 1280, height: 1_400 }, permissions: ['camera', 'microphone'] });
    await host.lendTo(context);
    const page = await context.newPage();
    page.on('dialog', (dialog) => void dialog.accept());
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    await page.getByRole('button', { name: 'Go on air' }).click();
    for (const network of ['Reelmoor', 'Townfold']) await lampOf(page, network).filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
    await page.keyboard.press('Space');
    await page.waitForTimeout(5_000);
    const { airings, houseUrl } = await host.must<ShowView>('GET', `/api/shows/${show.id}`);
    const events = airings.flatMap(({ channel, watchUrl }) =>
      watchUrl ? [{ network: channel.network, event: new URL(watchUrl).pathname.split('/').at(-1)! }] : [],
    );
    // Each message says when it was written; how long after that the newest one is in sight is noted by the page itself.
    await page.evaluate(() => {
      window.seenAfter = [];
      let newest = 0;
      const look = () => {
        const times = Array.from(document.querySelectorAll('.message')).map(({ textContent }) => Number(/at (\d{13})/.exec(textContent ?? '')?.[1] ?? 0));
        const last = Math.max(0, ...times);
        if (last > newest) window.seenAfter.push(Date.now() - last);
        newest = Math.max(newest, last);
        setTimeout(look, 50);
      };
      look();
    });
    const slug = new URL(houseUrl).pathname.split('/').at(-1)!;
    const visitor = await context.newPage();
    await visitor.goto(houseUrl);
    await visitor.evaluate(() => {
      window.seenAfter = [];
      let newest = 0;
      const look = () => {
        const times = Array.from(document.body.innerText.matchAll(/at (\d{13})/g)).map(([, at]) => Number(at));
        const last = Math.max(0, ...times);
        if (last > newest) window.seenAfter.push(Date.now() - last);
        newest = Math.max(newest, last);
        setTimeout(look, 50);
      };
      look();
    });
    await page.bringToFront();
    const heap = async () => {
      const session = await context.newCDPSession(page);
      await session.send('HeapProfiler.collectGarbage');
      const { usedSize } = await session.send('Runtime.getHeapUsage');
      await session.detach();
      return usedSize / 1e6;
    };
    const rate = (from: number, until: number) => {
      const pictures = captures
        .connections()
        .flatMap(({ event, pictures }) => (event === events[0]!.event || event.includes(events[0]!.event) ? pictures : []));
      return pictures.filter(({ at }) => at >= from && at < until).length / ((until - from) / 1_000);
    };
    let from = Date.now();
    await page.waitForTimeout(QUIET_S * 1_000);
    const quiet = rate(from, Date.now());
    from = Date.now();
    let written = 0;
    let onHouse = 0;
    let heapEarly = 0;
    for (let second = 0; second < FLOOD_S; second++) {
      const begun = Date.now();
      await Promise.all(
        events.map(async ({ network, event }) => {
          await product.operate('messages', { network, event, words: `at ${Date.now()} of ${network} ${second}, number`, count: String(A_SECOND_EACH) });
          written += A_SECOND_EACH;
        }),
      );
      if (second % HOUSE_EVERY_S === 0) {
        const words = `at ${Date.now()} of the house page ${second}`;
        const body = JSON.stringify({ key: key(), writer: key(), name: 'Orla', words });
        const reply = await fetch(`${product.url}/api/house/${slug}/messages`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', origin: product.url },
          body,
        });
        if (!reply.ok) throw new Error(`the house page took nothing: ${reply.status} ${await reply.text()}`);
        written += 1;
        onHouse += 1;
      }
      if (second === Math.min(60, Math.floor(FLOOD_S / 3))) heapEarly = await heap();
      await page.waitForTimeout(Math.max(0, 1_000 - (Date.now() - begun)));
    }
    const until = Date.now();
    const flooded = rate(from, until);
    await page.waitForTimeout(8_000);
    const heapLate = await heap();
    const seenAfter = (await page.evaluate(() => window.seenAfter)).sort((a, b) => a - b);
    const seenOnHouse = (await visitor.evaluate(() => window.seenAfter)).sort((a, b) => a - b);
    // What one network gives late is not lost: it is waited for.
    const all = async () => {
      const words = new Map<string, number>();
      // From the first on, in steps, as a page does that has missed all of it.
      for (let revision = 1, more = true; more;) {
        const view = await host.must<MessagesView>('GET', `/api/shows/${show.id}/messages?since=${revision}`);
        for (const message of view.messages) words.set(message.words, (words.get(message.words) ?? 0) + 1);
        [revision, more] = [view.revision, view.more];
      }
      return words;
    };
    let words = await all();
    while (words.size + 1 < written && Date.now() < until + 90_000) {
      await page.waitForTimeout(3_000);
      words = await all();
    }
    const wholeAfterS = Math.round((Date.now() - until) / 1_000);
    const at = (part: number) => seenAfter[Math.floor((seenAfter.length - 1) * part)] ?? NaN;
    console.table({
      'written, a second': { value: Math.round(written / ((until - from) / 1_000)) },
      'written, kept once, kept more than once': {
        value: `${written}, ${[...words.values()].filter((count) => count === 1).length + 1}, ${[...words.values()].filter((count) => count > 1).length}`,
      },
      'all of it there after the last, s': { value: wholeAfterS },
      'pictures a second at a stand-in: quiet, flooded': { value: `${quiet.toFixed(1)}, ${flooded.toFixed(1)}` },
      'newest in sight after, ms: median, 95 %, longest': { value: `${at(0.5)}, ${at(0.95)}, ${at(1)}` },
      'on the house page: written, in sight there after, ms: median, longest': {
        value: `${onHouse}, ${seenOnHouse[seenOnHouse.length >> 1]}, ${seenOnHouse.at(-1)}`,
      },
      'heap of the page, MB: early, late': { value: `${heapEarly.toFixed(1)}, ${heapLate.toFixed(1)}` },
    });
  } finally {
    await product.stop();
  }
});
