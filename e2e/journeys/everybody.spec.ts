import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, openStage, test } from '../support/test';

/** What an automatic look finds against WCAG 2.2 AA, by rule and place. */
async function barriers(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze();
  return violations.flatMap(({ id, nodes }) => nodes.map(({ target }) => `${id}: ${target.join(' ')}`));
}

/** Every page that there is, as the router names it. */
function pagesOfTheRouter(): string[] {
  const source = readFileSync(join(__dirname, '..', '..', 'web', 'src', 'frame', 'router.tsx'), 'utf8');
  const paths = [...source.matchAll(/path: '([^']+)'/g)].map(([, path]) => path!);
  return paths.filter((path) => path !== '*').map((path) => (path.startsWith('/') ? path : `/channels/:id/${path}`));
}

test('no page has barriers that can be found automatically, contrast among them', async ({ page, product, host, context }) => {
  await page.goto(`${product.url}/set-up`);
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  expect(await barriers(page), 'before there is a station').toEqual([]);
  const show = await host.showAtItsStart();
  const over = await host.overShow();
  await page.goto(`${product.url}/sign-in`);
  await expect(page.getByRole('heading', { name: 'Come in' })).toBeVisible();
  expect(await barriers(page)).toEqual([]);
  await host.lendTo(context);
  const library = show.airings.find(({ channel }) => channel.network === 'reelmoor')!.channel;
  const linkId = await host.beginLink('pipwire');
  const examples: Record<string, (readonly [path: string, heading: string | RegExp])[]> = {
    '/': [
      ['/', 'Almanac'],
      ['/?view=list', 'Almanac'],
    ],
    '/station': [['/station', 'Station']],
    '/channels': [['/channels', 'Channels']],
    '/channels/:id': [[`/channels/${library.id}`, library.name]],
    ...Object.fromEntries(['lines', 'rules', 'defaults'].map((part) => [`/channels/:id/${part}`, [[`/channels/${library.id}/${part}`, library.name]]])),
    '/channels/record': [['/channels/record', 'What was done with channels and keys']],
    '/channels/link/:linkId': [[`/channels/link/${linkId}`, /./]],
    '/shows/new': [['/shows/new', 'New show']],
    '/shows/:id': [[`/shows/${show.id}`, 'Dusk Report']],
    '/shows/:id/report': [[`/shows/${over.id}/report`, /./]],
    '/shows/:id/picture': [[`/shows/${show.id}/picture`, /./]],
    '/artwork': [['/artwork', /./]],
    '/contacts': [['/contacts', /./]],
    '/mail': [['/mail', /./]],
    '/you': [['/you', /./]],
    // Looked at above and below.
    ...{ '/sign-in': [], '/set-up': [], '/shows/:id/stage': [] },
  };
  expect(Object.keys(examples).sort()).toEqual(pagesOfTheRouter().sort());
  const titles: string[] = [];
  for (const [path, heading] of [...Object.values(examples).flat(), [new URL(show.houseUrl).pathname, 'Dusk Report'] as const]) {
    await page.goto(product.url + path);
    await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
    expect(await barriers(page), path).toEqual([]);
    titles.push(await page.title());
  }
  // Each page is called by what it is about, in the browser's tab and history.
  for (const title of titles) expect(title).toMatch(/^\S.* · (Noble Lantern|Alderfell Sky Club)$/);
  expect(new Set(titles).size).toBeGreaterThanOrEqual(Object.keys(examples).length - 7); // Pages of one channel share its name.
  await page.goto(product.url);
  await expect(page.getByRole('heading', { level: 1, name: 'Almanac' })).toBeVisible();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'To the content' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.locator('main')).toBeFocused();
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  expect(await barriers(page), 'the stage').toEqual([]);
});

test('the stage is run by keyboard alone', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.keyboard.press('?');
  await expect(page.getByRole('heading', { name: 'Keys on the stage' })).toBeVisible();
  await page.keyboard.press('Space'); // not a take while the help is open
  await page.keyboard.press('Escape');
  await expect(page.getByText('Programme Holding card')).toBeVisible();
  await page.locator('body').press('Space');
  await expect(page.getByText('Microphone open')).toBeVisible();
  await page.keyboard.press('m');
  await expect(page.getByText('Microphone off')).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByText('Microphones are shut on the holding card')).toBeVisible();
  await page.getByRole('button', { name: 'Go on air' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Wrap up…' })).toBeVisible();
});
