import type { ChannelView, PlaceResult, ShowSummary, ShowView } from '@lantern/contract';
import { execFileSync } from 'node:child_process';
import { soonestStart } from '../support/host';
import { enlarge, expect, placeOnPage, section, test } from '../support/test';

test('one channel may refuse while the other takes the show; trying again places only what is missing', async ({ page, product, host, context }) => {
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell'), await host.link('townfold', 'tf-alderfell')];
  // Ten minutes ahead is soon enough for Reelmoor and too soon for Townfold.
  const soon = Math.ceil((product.now() + 6 * 60_000) / 300_000) * 300_000;
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soon, channels));
  await host.lendTo(context);
  await page.goto(`${product.url}/shows/${show.id}`);
  await expect(page.getByText('Townfold wants at least 15 min between placing and start.').first()).toBeVisible();
  await placeOnPage(page, 'Place on 2 channels');
  await expect(page.getByText(/Placed on Alderfell Sky Club \(/)).toBeVisible();
  const events = async () => (await host.must<ShowView>('GET', `/api/shows/${show.id}`)).airings.map(({ placing, watchUrl }) => ({ placing, watchUrl }));
  const [first] = await events();
  expect((await events()).map(({ placing }) => placing)).toEqual(['placed', 'none']);

  await page.getByRole('button', { name: 'Move the start to that time' }).first().click();
  await placeOnPage(page, /Place on the missing 1 channel/);
  await expect(page.getByText(/Placed on Alderfell Sky Club \(/).first()).toBeVisible();
  await expect.poll(async () => (await events()).map(({ placing }) => placing)).toEqual(['placed', 'placed']);
  expect((await events())[0]).toEqual(first);

  // A choice that the station does not have is turned down at the channel that objects.
  await section(page, 'What');
  await page.getByLabel('Title').fill('x'.repeat(110));
  await expect(page.getByText('Reelmoor takes titles of 100 characters')).toBeVisible();
  await page.getByRole('button', { name: /Move on 2 channels/ }).click();
  await expect(page.getByText('Reelmoor said: Titles have 100 characters at most.').first()).toBeVisible();
  await expect(page.getByText(/Changed on Alderfell Sky Club \(/)).toBeVisible();
});

test('an answer that is lost never makes a second event', async ({ product, host }) => {
  await host.setUp();
  const channels: ChannelView[] = [await host.link('reelmoor', 'rm-alderfell'), await host.link('townfold', 'tf-alderfell')];
  // The line that Reelmoor makes on the first placing must not be lost as well: one quiet placing first.
  const startsAt = soonestStart(product.now());
  const rehearsal = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt + 2 * 3_600_000, channels.slice(0, 1)));
  await host.must('POST', `/api/shows/${rehearsal.id}/place`);

  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, channels));
  await product.setFault('reelmoor', 'lose-answer');
  await product.setFault('townfold', 'lose-answer');
  const lost = await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
  expect(lost.show.airings.map(({ placing }) => placing)).toEqual(['unsure', 'unsure']);
  expect(lost.results.every(({ words }) => words.includes('nothing is made twice'))).toBe(true);
  await product.setFault('reelmoor', 'none');
  await product.setFault('townfold', 'none');
  const found = await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
  expect(found.show.airings.map(({ placing }) => placing)).toEqual(['placed', 'placed']);
  expect(eventsOn(product.folder)).toEqual({ reelmoor: 2, townfold: 1 });
  await host.must('POST', `/api/shows/${show.id}/place`);
  expect(eventsOn(product.folder)).toEqual({ reelmoor: 2, townfold: 1 });

  const withdrawn = await host.must<PlaceResult>('POST', `/api/shows/${show.id}/withdraw`);
  expect(withdrawn.show.state).toBe('draft');
  const page = await fetch(withdrawn.show.airings[0]!.watchUrl!.replace('localhost', '127.0.0.1') + '/state');
  expect(((await page.json()) as { state: string }).state).toBe('withdrawn');
});

test('a network that says nothing keeps nobody waiting for ever, and takes the show once', async ({ product, host }) => {
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell'), await host.link('townfold', 'tf-alderfell')];
  await host.must('POST', `/api/channels/${channels[0]!.id}/lines`, { name: 'Dome camera' });
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soonestStart(product.now()), channels));
  await product.setFault('townfold', 'silent');
  const began = Date.now();
  const waited = await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
  expect(Date.now() - began).toBeLessThan(30_000);
  expect(waited.show.airings.map(({ placing }) => placing)).toEqual(['placed', 'unsure']);
  expect(waited.results[1]!.words).toBe('Townfold gave no answer: no answer within 8 s. Try again; nothing is made twice.');
  await product.setFault('townfold', 'none');
  const placed = await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
  expect(placed.show.airings.map(({ placing }) => placing)).toEqual(['placed', 'placed']);
  expect(eventsOn(product.folder)).toEqual({ reelmoor: 1, townfold: 1 });
});

test('access that was declined changes nothing, and a profile is told apart from a page', async ({ page, product, host, context }) => {
  await host.setUp();
  await host.lendTo(context);
  await page.goto(`${product.url}/channels`);
  await page.getByRole('button', { name: 'Link an account on Townfold' }).click();
  await page.getByRole('button', { name: 'Decline' }).click();
  await expect(page.getByText('Townfold was not linked: access was declined. Nothing has changed.')).toBeVisible();
  await page.getByRole('button', { name: 'Link an account on Townfold' }).click();
  await page.getByLabel('Your name on Townfold').fill('maren');
  await page.getByLabel('Password').fill('not-hers');
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByText('That name and password do not belong together.')).toBeVisible();
  await page.getByLabel('Your name on Townfold').fill('maren');
  await page.getByLabel('Password').fill('lantern-light');
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByText('a person, not the station')).toBeVisible();
  await page.getByRole('radio', { name: /Maren Tolliver/ }).check();
  await page.getByRole('button', { name: 'Make it a channel' }).click();

  const shows = await host.must<ShowSummary[]>('GET', '/api/shows');
  expect(shows).toEqual([]);
  await page.goto(`${product.url}/shows/new`);
  await page.getByRole('button', { name: 'Begin the sheet' }).click();
  await page.getByRole('checkbox', { name: /Maren Tolliver/ }).check();
  await enlarge(page, /Maren Tolliver/);
  await expect(page.getByText('A profile on Townfold takes nothing in advance')).toBeVisible();
});

test('the same page works at the width of a phone', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  await host.lendTo(context);
  await page.setViewportSize({ width: 360, height: 780 });
  const library = `/channels/${show.airings[0]!.channel.id}`;
  for (const path of [
    '/',
    '/channels',
    library,
    `${library}/lines`,
    `${library}/rules`,
    `${library}/defaults`,
    '/shows/new',
    '/station',
    `/shows/${show.id}`,
    new URL(show.houseUrl).pathname,
  ]) {
    await page.goto(product.url + path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(overflow, `${path} is wider than the phone`).toBeLessThanOrEqual(0);
  }
});

/** How many events stand on each network, counted in the networks' own books. */
function eventsOn(folder: string): Record<string, number> {
  const script = `const D=require('better-sqlite3');const d=new D(process.argv[1],{readonly:true});console.log(JSON.stringify(d.prepare('select network, count(*) n from events group by network').all()))`;
  const rows = JSON.parse(execFileSync(process.execPath, ['-e', script, `${folder}/networks/networks.sqlite`], { encoding: 'utf8' })) as {
    network: string;
    n: number;
  }[];
  return Object.fromEntries(rows.map(({ network, n }) => [network, n]));
}
