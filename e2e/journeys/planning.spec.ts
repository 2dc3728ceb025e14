// Planning as a host does it: one sheet for four channels, a series, moving in the almanac, and what others
// changed on the channels.
import type { FoundEvent, PlaceResult, SaveResult, ShowSummary, ShowView } from '@lantern/contract';
import { DAY_MS, instant, occurrenceOn, wallTimeOf } from '@lantern/core';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { ZONE, type Host } from '../support/host';
import type { Product } from '../support/product';
import { enlarge, expect, kept, placeOnPage, section, standing, test } from '../support/test';

const CHANNELS = [
  ['reelmoor', 'rm-alderfell'],
  ['townfold', 'tf-alderfell'],
  ['guildhand', 'gh-alderfell'],
  ['pipwire', 'pw-alderfellsky'],
] as const;

const linkAll = async (host: Host) => {
  const channels = [];
  for (const [network, account] of CHANNELS) channels.push(await host.link(network, account));
  return channels;
};
/** Half past eight in the evening, so many days ahead. */
const evening = (product: Product, days: number) => occurrenceOn(wallTimeOf(instant(product.now() + days * DAY_MS), ZONE).date, '20:30', ZONE).startsAt;
const picture = () =>
  sharp({ create: { width: 1920, height: 1080, channels: 3, background: '#1c4a52' } })
    .png()
    .toBuffer();
const read = (host: Host, id: string) => host.must<ShowView>('GET', `/api/shows/${id}`);
const eventOf = (show: ShowView, network: string) => show.airings.find(({ channel }) => channel.network === network)!;

/** Edits an event on a network’s own pages. */
async function editThere(product: Product, network: string, event: string, change: Record<string, string>): Promise<void> {
  const reply = await fetch(`${product.networksUrl}/operator/events`, {
    method: 'POST',
    redirect: 'manual',
    body: new URLSearchParams({ network, event, ...change }),
  });
  expect(reply.status).toBe(303);
}
const idThere = (watchUrl: string) => new URL(watchUrl).pathname.split('/').at(-1)!;

test('the weekly show is planned on four channels with one override each, repeats, and is placed with proof', async ({ page, product, host, context }) => {
  await host.setUp();
  await linkAll(host);
  await host.lendTo(context);
  const startsAt = evening(product, 4);
  await page.goto(`${product.url}/shows/new`);
  await page.getByLabel('What is it called?').fill('Dusk Report');
  await page.getByRole('button', { name: 'Begin the sheet' }).click();

  await test.step('what and when, kept as one types', async () => {
    await page.getByLabel('Zone').selectOption(ZONE);
    const { date, time } = wallTimeOf(instant(startsAt), ZONE);
    await page.getByLabel('Date', { exact: true }).fill(date);
    await page.getByLabel('Time', { exact: true }).fill(time);
    await page.getByLabel('Minutes').fill('40');
    await page.getByLabel('Episode').fill('41');
    await page.getByLabel('Text').fill('Episode {episode}: what to look for tonight. {start in Nowhere}');
    for (const name of [/library channel/, /page on Townfold/, /organisation on Guildhand/, /handle on Pipwire/])
      await page.getByRole('checkbox', { name }).check();
    await expect(page.getByText('Nothing here is called {start in Nowhere}').first()).toBeVisible();
    await page.getByRole('button', { name: 'Take it out' }).first().click();
    await expect(page.getByLabel('Text', { exact: true })).toHaveValue('Episode {episode}: what to look for tonight.');
    await page.getByLabel('Picture of the show').setInputFiles({ name: 'dusk.png', mimeType: 'image/png', buffer: await picture() });
    await page.getByLabel('What it shows').fill('The dome at dusk.');
    await kept(page);
  });

  await test.step('one override each, one of them taken back and done again', async () => {
    for (const network of ['Reelmoor', 'Townfold', 'Guildhand']) {
      const card = await enlarge(page, new RegExp(network));
      await card.getByRole('button', { name: 'Write it differently here' }).click();
      await card.getByLabel(/^Title on/).fill(`Dusk Report for ${network}`);
      await expect(card.getByText('Differs from the common title')).toBeVisible();
      await card.getByRole('button', { name: 'Close' }).click();
    }
    const post = await enlarge(page, /Pipwire/);
    await post.getByRole('button', { name: 'Write it differently here' }).click();
    await post.getByLabel(/^Text on/).fill('Tonight from the fell: {watch link}');
    await kept(page);
    const town = await enlarge(page, /Townfold/);
    await town.getByRole('button', { name: 'Return to the common text' }).click();
    await expect(town.getByText('Differs')).toBeHidden();
    await kept(page);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await expect(town.getByText('Differs from the common title')).toBeVisible();
    await kept(page);
  });

  await test.step('it is made a series, with its next dates and a small calendar', async () => {
    await section(page, 'Repeats');
    await page.getByRole('button', { name: 'Make it a series…' }).click();
    await expect(page.getByText(/^Every \w+day$/)).toBeVisible();
    await page.getByLabel('Until when').selectOption('count');
    await page.getByLabel('How many times').fill('0');
    await expect(page.getByText('Say how often, from once')).toBeVisible();
    await page.getByLabel('How many times').fill('3');
    await page.getByLabel('Place each date by itself').uncheck();
    await expect(page.getByRole('img', { name: /dates on a calendar/ })).toBeVisible();
    await page.getByRole('button', { name: 'Make it a series', exact: true }).click();
    await expect(page.getByText('2 dates made.')).toBeVisible();
  });

  await test.step('the summary names who, where, when and what will be locked; afterwards each network proves it', async () => {
    await page.getByRole('button', { name: 'Place on 4 channels' }).click();
    const summary = page.getByRole('dialog', { name: 'This goes out' });
    await expect(summary.getByText('Dusk Report for Guildhand')).toBeVisible();
    await expect(summary.getByText('Cannot be changed there afterwards: start time, visibility.')).toBeVisible();
    await expect(summary.getByText('the show begins there when you go on air')).toBeVisible();
    await summary.getByRole('button', { name: 'Place all 4' }).click();
    for (const network of ['Reelmoor', 'Townfold', 'Guildhand']) await expect(page.getByText(`Read back: “Dusk Report for ${network}”`)).toBeVisible();
  });

  const shows = await host.must<ShowSummary[]>('GET', '/api/shows');
  expect(shows.map(({ state, airings }) => [state, airings.length])).toEqual([
    ['placed', 4],
    ['draft', 4],
    ['draft', 4],
  ]);
  const there = await fetch(eventOf(await read(host, shows[0]!.id), 'reelmoor').watchUrl!.replace('localhost', '127.0.0.1'));
  expect(await there.text()).toContain('Episode 41: what to look for tonight.');
});

test('a date is moved across the clock change by dragging, with live objections and undo, and by keys', async ({ page, product, host, context }) => {
  await host.setUp();
  const channels = await linkAll(host);
  const friday = Date.parse('2027-03-26T20:30:00Z'); // Dublin’s clocks go forward in the night to the 28th.
  product.travelTo(Date.parse('2027-03-24T12:00:00Z'));
  await host.must('POST', '/api/session', { email: 'maren@alderfell.example', password: 'lantern-light' });
  await host.must('PUT', '/api/station', { ...(await host.must<object>('GET', '/api/station')), zone: ZONE });
  const first = await host.must<ShowView>('POST', '/api/shows', host.draftOf(friday, [channels[0]!, channels[1]!]));
  await host.must('POST', `/api/shows/${first.id}/series`, {
    ...{ pattern: { every: 'week', interval: 1, on: ['FR'] }, from: '2027-03-26', ends: { kind: 'count', count: 3 }, also: [], dropped: [] },
    placesByItself: false,
  });
  await host.lendTo(context);
  await page.goto(`${product.url}/?view=lanes&hours=all`);
  const lanes = page.getByRole('application', { name: 'Shows in time' });
  const box = await standing(lanes);
  // A week fills the width, beginning today.
  const from = Date.parse('2027-03-24T00:00:00Z');
  const x = (at: number) => box.x + ((at - from) / (7 * DAY_MS)) * box.width;
  const lane = (await page.locator('.lane-names li').filter({ hasText: 'library channel' }).boundingBox())!;
  const y = lane.y + 18;
  const wall = async () => wallTimeOf(instant((await read(host, first.id)).startsAt), ZONE);

  await page.mouse.move(x(friday) + 3, y);
  await page.mouse.down();
  await page.mouse.move(x(friday + DAY_MS), y, { steps: 4 });
  await page.mouse.move(x(friday + 2 * DAY_MS) + 1, y, { steps: 4 });
  await expect(page.locator('.lanes-said')).toContainText('Sunday, 28 March 2027');
  await page.mouse.up();
  await expect(page.locator('.moving-bar')).toContainText('Dusk Report moved to Sunday, 28 March 2027');
  // Two days later by the clock, which is 47 hours.
  expect(await wall()).toEqual({ date: '2027-03-28', time: '20:30' });
  expect((await read(host, first.id)).startsAt - friday).toBe(47 * 3_600_000);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.moving-bar')).toContainText('is back where it was');
  expect(await wall()).toEqual({ date: '2027-03-26', time: '20:30' });

  // By keys: a day later and another one, then back step by step.
  await lanes.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowLeft');
  for (const date of ['2027-03-27', '2027-03-28']) {
    await page.keyboard.press('Alt+Shift+ArrowRight');
    await page.keyboard.press('Enter');
    await expect.poll(wall).toEqual({ date, time: '20:30' });
    await expect(page.locator('.moving-bar')).toContainText(date === '2027-03-27' ? 'Saturday, 27 March' : 'Sunday, 28 March');
  }
  await page.keyboard.press('Control+z');
  await expect(page.locator('.moving-bar')).toContainText('is back where it was');
  expect(await wall()).toEqual({ date: '2027-03-27', time: '20:30' });
  await page.getByRole('button', { name: 'Undo the move before: Dusk Report' }).click();
  await expect.poll(wall).toEqual({ date: '2027-03-26', time: '20:30' });
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeHidden();

  // Two days later, said before it is done.
  await lanes.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowLeft');
  for (let press = 0; press < 2; press++) await page.keyboard.press('Alt+Shift+ArrowRight');
  await expect(page.locator('.lanes-said')).toContainText('Sunday, 28 March 2027');
  await page.keyboard.press('Enter');
  await expect(page.locator('.moving-bar')).toContainText('Dusk Report moved to');
  expect(await wall()).toEqual({ date: '2027-03-28', time: '20:30' });
  // The other dates kept theirs; the sheet says that this one differs and offers the rest.
  const dates = await host.must<ShowSummary[]>('GET', '/api/shows');
  expect(dates.filter(({ id }) => id !== first.id).map(({ startsAt }) => wallTimeOf(instant(startsAt), ZONE))).toEqual([
    { date: '2027-04-02', time: '20:30' },
    { date: '2027-04-09', time: '20:30' },
  ]);
  await page.keyboard.press('Enter');
  await expect(page.getByText(/This date differs from the others/)).toBeVisible();
});

test('what somebody changed on a channel is found, and settled by the side one chooses; an event that vanished is said', async ({
  page,
  product,
  host,
  context,
}) => {
  await host.setUp();
  const channels = await linkAll(host);
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(evening(product, 5), channels.slice(0, 3)));
  const placed = (await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`)).show;
  const library = idThere(eventOf(placed, 'reelmoor').watchUrl!);
  const town = idThere(eventOf(placed, 'townfold').watchUrl!);
  await editThere(product, 'reelmoor', library, { title: 'Dusk Report!!', text: 'Somebody wrote this there.' });
  await editThere(product, 'townfold', town, { minutesLater: '30' });
  await host.lendTo(context);
  await page.goto(`${product.url}/shows/${show.id}`);
  const onLibrary = page.getByRole('article', { name: /Reelmoor/ });
  const onTown = page.getByRole('article', { name: /Townfold/ });
  await expect(onLibrary.getByText('Changed on Reelmoor')).toBeVisible();
  await expect(onLibrary).toContainText('there Dusk Report!!');
  await onLibrary.getByRole('button', { name: 'Keep ours: Text' }).click();
  await expect(onLibrary.getByRole('button', { name: 'Keep ours: Text' })).toBeHidden();
  await onLibrary.getByRole('button', { name: 'Take theirs: Title' }).click();
  await expect(onLibrary.getByText('Differs from the common title')).toBeVisible();
  await expect(onLibrary.getByText('Changed on Reelmoor')).toBeHidden();
  // Their start moves the show here; the others then have to be told, and one of them does not take it.
  await onTown.getByRole('button', { name: 'Take theirs: Start' }).click();
  await expect(page.getByText(/not been told of the start/)).toBeVisible();
  await page.getByRole('button', { name: /Move on 2 channels/ }).click();
  await expect(page.getByText(/Guildhand does not move a show that stands there: it stays at /).first()).toBeVisible();
  await page.getByRole('button', { name: 'Withdraw and place again there…' }).click();
  await page.getByRole('button', { name: 'Withdraw and place again', exact: true }).click();
  await expect(page.getByText(/Read back: “Dusk Report”/)).toBeVisible();
  const settled = await read(host, show.id);
  expect(settled.startsAt).toBe(show.startsAt + 30 * 60_000);
  expect(settled.airings.map(({ placing, untold, drift }) => [placing, untold, drift?.differences ?? []])).toEqual(
    settled.airings.map(() => ['placed', [], []]),
  );

  await editThere(product, 'townfold', town, { what: 'forget' });
  await page.getByRole('button', { name: 'Look at the channels now' }).click();
  await expect(onTown.getByText('The event is gone from Townfold')).toBeVisible();
  await onTown.getByRole('button', { name: 'Let go of it' }).click();
  await placeOnPage(page, /Place on the missing 1 channel/);
  await expect(page.getByText(/Placed on Alderfell Sky Club \(/)).toBeVisible();
  expect((await read(host, show.id)).airings.every(({ placing }) => placing === 'placed')).toBe(true);
});

test('withdrawing everywhere with one network failing is finished later, and nothing is asked for twice', async ({ page, product, host, context }) => {
  await host.setUp();
  const channels = await linkAll(host);
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(evening(product, 5), channels));
  await host.must('POST', `/api/shows/${show.id}/place`);
  await product.setFault('townfold', 'down');
  await host.lendTo(context);
  await page.goto(`${product.url}/shows/${show.id}`);
  await page.getByRole('button', { name: 'Withdraw…' }).click();
  await expect(page.getByRole('dialog')).toContainText('Townfold');
  await page.getByRole('button', { name: 'Withdraw everywhere' }).click();
  await expect(page.getByText(/Townfold gave no answer/).first()).toBeVisible({ timeout: 90_000 });
  expect((await read(host, show.id)).airings.map(({ placing }) => placing).sort()).toEqual(['placed', 'withdrawn', 'withdrawn', 'withdrawn']);
  expect((await read(host, show.id)).state).toBe('placed');
  await product.setFault('townfold', 'none');
  await page.getByRole('button', { name: 'Finish withdrawing…' }).click();
  await expect(page.getByRole('dialog').getByRole('checkbox')).toHaveCount(1);
  await page.getByRole('button', { name: 'Withdraw everywhere' }).click();
  // It is a draft again, and can be placed anew.
  await expect(page.getByRole('button', { name: 'Place on 4 channels' })).toBeVisible();
  expect((await read(host, show.id)).state).toBe('draft');
});

test('two people at one sheet see each other’s changes, and neither overwrites the other', async ({ page, product, host, context, browser }) => {
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell')];
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(evening(product, 5), channels));
  await host.lendTo(context);
  const otherContext = await browser.newContext();
  await host.lendTo(otherContext);
  const other: Page = await otherContext.newPage();
  for (const each of [page, other]) await each.goto(`${product.url}/shows/${show.id}`);
  for (const each of [page, other]) await section(each, 'What');
  await page.getByLabel('Title').fill('Dusk Report, by Maren');
  await kept(page);
  await expect(other.getByLabel('Title')).toHaveValue('Dusk Report, by Maren', { timeout: 15_000 });
  // In the same field at the same time: the second to be kept is told, and may insist. Nothing comes in before they have typed.
  const sheet = `**/api/shows/${show.id}`;
  await other.route(sheet, (route) => (route.request().method() === 'GET' ? route.abort() : route.continue()));
  await other.getByLabel('Text', { exact: true }).focus();
  await host.must<SaveResult>('PATCH', `/api/shows/${show.id}`, { base: (await read(host, show.id)).version, changes: { description: 'Theirs.' } });
  await other.getByLabel('Text', { exact: true }).fill('Mine.');
  await expect(other.getByText(/changed the text while you typed: “Theirs\.”/)).toBeVisible();
  await other.unroute(sheet);
  await other.getByRole('button', { name: 'Put mine in its place' }).click();
  await expect.poll(async () => (await read(host, show.id)).description).toBe('Mine.');
  await otherContext.close();
});

test('an event that exists on the channel already becomes the show’s own', async ({ product, host }) => {
  await host.setUp();
  const [library] = await linkAll(host);
  const made = await host.must<ShowView>('POST', '/api/shows', host.draftOf(evening(product, 6), [library!], { title: 'Made there' }));
  const placed = (await host.must<PlaceResult>('POST', `/api/shows/${made.id}/place`)).show;
  const event = idThere(placed.airings[0]!.watchUrl!);
  const mine = await host.must<ShowView>('POST', '/api/shows/new', { title: 'Empty sheet' });
  const found = async (channelId: string) => host.must<FoundEvent[]>('GET', `/api/shows/${mine.id}/found?channel=${channelId}`);
  expect(await found(library!.id)).toEqual([]); // another show stands for it
  expect((await host.ask<{ words: string }>('POST', `/api/shows/${mine.id}/attach`, { channelId: library!.id, remoteId: event })).body.words).toContain(
    'Another show of yours',
  );
  // Unlinking lets go of what stands there; linked again, it is an event of somebody else’s making.
  await host.must('POST', `/api/channels/${library!.id}/unlink`);
  const again = await host.link('reelmoor', 'rm-alderfell');
  expect(await found(again.id)).toMatchObject([{ remoteId: event, title: 'Made there', startsAt: placed.startsAt }]);
  const attached = await host.must<ShowView>('POST', `/api/shows/${mine.id}/attach`, { channelId: again.id, remoteId: event });
  expect(attached).toMatchObject({ state: 'placed', title: 'Made there', startsAt: placed.startsAt, lengthMs: placed.lengthMs });
  expect(attached.airings[0]).toMatchObject({ placing: 'placed', untold: [], drift: { gone: false, differences: [] } });
  // From now on it is changed from here.
  await host.must('PATCH', `/api/shows/${mine.id}`, { base: attached.version, changes: { title: 'Changed here' } });
  const { results } = await host.must<PlaceResult>('POST', `/api/shows/${mine.id}/tell`);
  expect(results).toMatchObject([{ done: true }]);
});

test('what is too far ahead is placed by itself once it comes into reach, and a refusal then stands in the almanac', async ({
  page,
  product,
  host,
  context,
}) => {
  test.setTimeout(240_000);
  await host.setUp();
  const town = await host.link('townfold', 'tf-alderfell');
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(evening(product, 20), [town]));
  const late = await host.must<ShowView>('POST', '/api/shows', host.draftOf(evening(product, 21), [town], { title: 'Members’ Evening' }));
  for (const { id } of [show, late]) {
    const { results, show: after } = await host.must<PlaceResult>('POST', `/api/shows/${id}/place`);
    expect(results[0]).toMatchObject({ done: true, words: expect.stringContaining('It is placed there by itself from') });
    expect(after.airings[0]!.placing).toBe('awaits reach');
  }
  await host.must('PATCH', `/api/shows/${late.id}`, { base: (await read(host, late.id)).version, changes: { title: 'x'.repeat(130) } });
  product.travelTo(product.now() + 12 * DAY_MS);
  await expect.poll(async () => (await read(host, show.id)).airings[0]!.placing, { timeout: 150_000, intervals: [3_000] }).toBe('placed');
  await expect.poll(async () => (await read(host, late.id)).airings[0]!.placing, { timeout: 30_000 }).toBe('refused');
  await host.lendTo(context);
  await page.goto(`${product.url}/?view=list`);
  await expect(page.getByText('Alderfell Sky Club (Townfold): refused')).toBeVisible();
});

test('a running order is planned, found to be over, shortened, put in another order by keys, kept, shown on the stage, and there again next time', async ({
  page,
  product,
  host,
  context,
}) => {
  await host.setUp();
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(evening(product, 5), [], { lengthMin: 40 }));
  await host.lendTo(context);
  await page.goto(`${product.url}/shows/${show.id}`);
  await section(page, 'Running order');
  await page.getByRole('button', { name: 'Begin with four cues' }).click();
  const order = page.locator('#running-order');
  const names = () => order.getByLabel(/^Name of cue/).evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value));
  expect(await names()).toEqual(['Opening', 'Main part', 'Questions', 'Closing']);
  await expect(order.getByText('On time.')).toBeVisible();
  // Typed in any common way, and judged while it is typed.
  await order.getByLabel('Length of Questions').fill('10 min');
  await expect(order.getByText(/8:00 over at the end, .* Shorten “Main part” by 8:00\./)).toBeVisible();
  await order.getByRole('button', { name: 'Shorten so' }).click();
  await expect(order.getByText('On time.')).toBeVisible();
  await expect(order.getByLabel('Length of Main part')).toHaveValue('26:00');
  await order.getByLabel('Closing begins at').fill('half past');
  await order.getByLabel('Closing begins at').press('Enter');
  await expect(order.getByText('“half past” is no time that can be understood.')).toBeVisible();
  await order.getByLabel('Closing begins at').fill('');
  await order.getByLabel('Closing begins at').press('Enter');
  const grip = order.getByRole('button', { name: 'Move Questions' });
  await grip.press('ArrowUp');
  await expect(grip).toBeFocused();
  expect(await names()).toEqual(['Opening', 'Questions', 'Main part', 'Closing']);
  await kept(page);
  await page.reload();
  await section(page, 'Running order');
  await expect(order.getByLabel(/^Name of cue/)).toHaveCount(4);
  expect(await names()).toEqual(['Opening', 'Questions', 'Main part', 'Closing']);
  await order.getByRole('button', { name: 'Add more of Questions' }).click();
  await order.getByLabel(/^Notes of Questions/).fill('Read the three on the card first.');
  // What is laid over the picture, with a cue of its own.
  await section(page, 'On the picture');
  await page.getByRole('button', { name: 'Add a call' }).click();
  await page.getByLabel('What viewers are to do of graphic 1').fill('Send us your times');
  await page.getByLabel('Where, as {house page} of Send us your times').fill('{house page}');
  await page.getByLabel('Cue with which Send us your times is next').selectOption({ label: 'With “Questions”' });
  await kept(page);
  // On the stage it is there by the clock, with the notes of what is due.
  product.travelTo(show.startsAt + 3 * 60_000);
  await page.goto(`${product.url}/shows/${show.id}/stage`);
  const due = page.getByRole('region', { name: 'Running order' });
  await expect(due).toContainText(/By the plan: Questions, [89]:\d\d left; then Main part at 20:42\./);
  await expect(due).toContainText('Read the three on the card first.');
  await page.goto(`${product.url}/shows/${show.id}`);
  await page.getByRole('button', { name: 'Do it again next time' }).click();
  await expect(page).not.toHaveURL(new RegExp(show.id));
  await expect(page.getByText('4 cues, on time.')).toBeVisible();
  // It was made for the evening before, and says so until somebody has looked at it.
  await expect(page.getByText('1 prepared, 1 of another evening.')).toBeVisible();
  await section(page, 'On the picture');
  await page.getByRole('button', { name: 'Still right' }).click();
  await expect(page.getByText(/^Made for/)).toBeHidden();
});
