// The public side as a visitor meets it.
import type { PlaceResult, ShowView, StationView } from '@lantern/contract';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { soonestStart, ZONE } from '../support/host';
import { film } from '../support/media';
import { barriers, expect, openStage, section, test } from '../support/test';

test('a visitor on a phone in another zone is reminded, waits, and sees the show begin without touching the page', async ({
  page,
  product,
  host,
  context,
  browser,
}) => {
  await host.setUp();
  await host.must('PUT', '/api/station', { ...(await host.must<StationView>('GET', '/api/station')), zone: ZONE });
  const channels = [await host.link('reelmoor', 'rm-alderfell')];
  const startsAt = soonestStart(product.now());
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, channels));
  const placed = (await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`)).show;
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, timezoneId: 'Asia/Kolkata', locale: 'en-IN' });
  const visitor = await phone.newPage();

  await test.step('comes by the short address and asks to be reminded', async () => {
    await visitor.goto(placed.shortUrl!);
    await expect(visitor).toHaveURL(placed.houseUrl);
    await expect(visitor.getByRole('heading', { name: 'Dusk Report' })).toBeVisible();
    await expect(visitor.getByText(/where the show is made/)).toBeVisible();
    expect(await visitor.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0);
    expect(await barriers(visitor)).toEqual([]);
    await visitor.getByLabel('Be reminded by mail').fill('visitor@people.example');
    await visitor.getByRole('button', { name: 'Remind me' }).click();
    await expect(visitor.getByText('Look into your mail')).toBeVisible();
    await expect.poll(() => product.mails().length, { timeout: 30_000 }).toBe(1);
  });

  await test.step('confirms by the mail, which says the start on her clock, and gets a calendar file', async () => {
    const link = /http\S+\/reminders\/confirm\/\S+/.exec(product.mails()[0]!)![0];
    const confirming = await phone.newPage();
    await confirming.goto(link);
    expect(await barriers(confirming)).toEqual([]);
    await confirming.getByRole('button', { name: 'Yes, remind me' }).click();
    await expect(confirming.getByRole('heading', { name: 'You will be reminded' })).toBeVisible();
    await expect.poll(() => product.mails().length, { timeout: 30_000 }).toBe(2);
    expect(product.mails()[1]).toContain('text/calendar');
    const [download] = await Promise.all([visitor.waitForEvent('download'), visitor.getByRole('link', { name: 'Save it in your calendar' }).click()]);
    expect(readFileSync((await download.path())!, 'utf8')).toContain('SUMMARY:Dusk Report');
    await confirming.close();
  });

  await test.step('waits, and the picture is there by itself', async () => {
    product.travelTo(startsAt + 2_000);
    await host.lendTo(context);
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    await page.getByRole('button', { name: 'Go on air' }).click();
    await expect(visitor.locator('video')).toBeVisible({ timeout: 60_000 });
    await expect.poll(() => visitor.locator('video').evaluate((video: HTMLVideoElement) => video.currentTime), { timeout: 60_000 }).toBeGreaterThan(0.5);
    await expect(visitor.getByText('On now')).toBeVisible();
  });

  await test.step('and afterwards the recording takes its place, still without touching the page', async () => {
    await page.waitForTimeout(3_000);
    await page.getByRole('button', { name: 'Wrap up…' }).click();
    await page.getByRole('button', { name: 'Wrap up everywhere' }).click();
    const recording = visitor.getByLabel('The recording of the show');
    await expect(recording).toBeVisible({ timeout: 60_000 });
    await expect.poll(() => recording.evaluate((video: HTMLVideoElement) => video.duration), { timeout: 30_000 }).toBeGreaterThan(1);
    expect(await barriers(visitor)).toEqual([]);
    await page.getByRole('button', { name: 'Take the replay down' }).click();
    await expect(visitor.getByText('This show is over. Thank you for watching.')).toBeVisible();
  });
  await phone.close();
});

test('the station’s page lists what is for everyone; what is for supporters opens by their code alone', async ({ page, product, host }) => {
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell')];
  const startsAt = soonestStart(product.now());
  for (const [title, houseVisibility, later] of [
    ['For everyone', 'everyone', 0],
    ['For supporters', 'supporters', 3_600_000],
  ] as const) {
    const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt + later, channels, { title, houseVisibility }));
    await host.must('POST', `/api/shows/${show.id}/place`);
  }
  const { pageUrl } = await host.must<StationView>('GET', '/api/station');
  await page.goto(pageUrl);
  await expect(page.getByRole('link', { name: 'For everyone' })).toBeVisible();
  await expect(page.getByText('For supporters')).toBeHidden();
  expect(await barriers(page)).toEqual([]);
  // Every form of the public side, as a browser sends it: the station's own, and the buttons that mails lead to.
  await page.getByLabel('Hear of new shows by mail').fill('juno@people.example');
  await page.getByRole('button', { name: 'Tell me' }).click();
  await expect(page.getByRole('heading', { name: 'Look into your mail' })).toBeVisible();
  const confirm = /http\S+reminders\/confirm\/\S+/.exec(await product.mailTo('juno@people.example'))![0];
  await page.goto(confirm);
  await page.getByRole('button', { name: 'Yes, remind me' }).click();
  await expect(page.getByRole('heading', { name: 'You will hear of new shows' })).toBeVisible();
  await page.goto(confirm.replace('confirm', 'leave'));
  await page.getByRole('button', { name: 'Forget my address' }).click();
  await expect(page.getByRole('heading', { name: 'Your address is forgotten' })).toBeVisible();
  const [hidden] = (await host.must<ShowView[]>('GET', '/api/shows')).filter(({ title }) => title === 'For supporters');
  const { houseUrl } = await host.must<ShowView>('GET', `/api/shows/${hidden!.id}`);
  await page.goto(houseUrl);
  await expect(page.getByRole('heading', { name: 'Nothing here for you yet' })).toBeVisible();
  const { code } = await host.must<{ code: string }>('POST', '/api/station/supporters-code');
  await page.getByLabel('For supporters: your code').fill('wrong-code');
  await page.getByRole('button', { name: 'Open' }).click();
  await expect(page.getByText('This code is not right')).toBeVisible();
  await page.getByLabel('For supporters: your code').fill(code);
  await page.getByRole('button', { name: 'Open' }).click();
  await expect(page.getByRole('heading', { name: 'For supporters' })).toBeVisible();
});

test('a host prepares a trailer and has a network tell of the show; a visitor watches while waiting', async ({ page, product, host, context }) => {
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell'), await host.link('pipwire', 'pw-alderfellsky')];
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soonestStart(product.now()), channels.slice(0, 1)));
  const { houseUrl } = (await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`)).show;
  await host.lendTo(context);
  await page.goto(`${product.url}/shows/${show.id}#house`);

  await test.step('a file that is no film is refused in words; a film is taken and made ready', async () => {
    const take = (name: string, buffer: Buffer) =>
      page
        .getByText(/Choose (a|another) film/)
        .locator('input')
        .setInputFiles({ name, mimeType: 'video/mp4', buffer });
    await take('trailer.mp4', Buffer.from('<!doctype html><p>no film at all'));
    await expect(page.getByText('This file is not a film that can be read.')).toBeVisible();
    await take('trailer.mp4', await film(join(product.folder, 'film.mp4')));
    await expect(page.getByText('00:03 long')).toBeVisible({ timeout: 60_000 });
  });

  await test.step('an announcement is given to a network, is refused with the reason, shortened, and stands there', async () => {
    await section(page, 'Announcements');
    await page.getByRole('button', { name: 'Add an announcement' }).click();
    await page.getByLabel('Who says it').selectOption({ label: '@alderfellsky, handle on Pipwire, by itself' });
    await page.getByLabel('What is said').fill(`${'Look up tonight. '.repeat(20)}{house page}`);
    await expect(page.getByText(/of 270 characters there: shorten it/)).toBeVisible();
    await page.getByRole('button', { name: 'Post now' }).click();
    await expect(page.getByText(/@alderfellsky takes 270\. Shorten it/).first()).toBeVisible();
    await page.getByLabel('What is said').fill('Look up tonight: {house page}');
    await page.getByRole('button', { name: 'Post now' }).click();
    const link = page.getByRole('link', { name: 'See it there' });
    await expect(link).toBeVisible();
    expect(await (await fetch((await link.getAttribute('href'))!)).text()).toContain('Look up tonight');
  });

  await test.step('the visitor watches the trailer and comes back to the countdown', async () => {
    const visitor = await context.newPage();
    await visitor.goto(houseUrl);
    await visitor.getByRole('button', { name: 'Watch the trailer' }).click();
    const trailer = visitor.getByLabel('The trailer');
    await expect.poll(() => trailer.evaluate((video: HTMLVideoElement) => video.currentTime), { timeout: 30_000 }).toBeGreaterThan(0.3);
    // It must not come to its end, which leads back by itself, while barriers are looked for.
    await trailer.evaluate((video: HTMLVideoElement) => video.pause());
    expect(await barriers(visitor)).toEqual([]);
    await visitor.getByRole('button', { name: 'Back to the countdown' }).click();
    await expect(visitor.locator('.count')).toBeVisible();
  });
});
