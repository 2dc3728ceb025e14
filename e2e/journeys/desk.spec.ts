// How much work planning is: the first show and next week’s, counted as a host would count it, also by keyboard alone and with large letters.
import type { PlaceResult, ShowSummary, ShowView } from '@lantern/contract';
import { DAY_MS, instant, occurrenceOn, wallTimeOf } from '@lantern/core';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { ZONE, type Host } from '../support/host';
import type { Product } from '../support/product';
import { expect, kept, test } from '../support/test';

const evening = (product: Product, days: number) => occurrenceOn(wallTimeOf(instant(product.now() + days * DAY_MS), ZONE).date, '20:30', ZONE).startsAt;
const linkThree = async (host: Host) => [
  await host.link('reelmoor', 'rm-alderfell'),
  await host.link('townfold', 'tf-alderfell'),
  await host.link('guildhand', 'gh-alderfell'),
];
const picture = async () => ({
  name: 'dusk.png',
  mimeType: 'image/png',
  buffer: await sharp({ create: { width: 1920, height: 1080, channels: 3, background: '#1c4a52' } })
    .png()
    .toBuffer(),
});

interface Count {
  pages: string[];
  clicks: number;
  /** How far down one has to go, of the height of the window. */
  screens: number;
}

/** Counts pages, presses and scrolling from now on. */
async function counting(page: Page): Promise<() => Promise<Count>> {
  await page.evaluate(() => {
    const count = { pages: [location.pathname], clicks: 0, down: 0 };
    Object.assign(window, { count });
    addEventListener('click', ({ detail }) => detail > 0 && count.clicks++, true);
    addEventListener('scroll', () => (count.down = Math.max(count.down, scrollY)));
    const push = history.pushState.bind(history);
    const replace = history.replaceState.bind(history);
    const note = (go: typeof push): typeof push =>
      function (...args) {
        go(...args);
        if (count.pages.at(-1) !== location.pathname) count.pages.push(location.pathname);
      };
    history.pushState = note(push);
    history.replaceState = note(replace);
  });
  return () =>
    page.evaluate(() => {
      const { pages, clicks, down } = (window as unknown as { count: { pages: string[]; clicks: number; down: number } }).count;
      return { pages, clicks, screens: down / innerHeight };
    });
}

test('a first show with picture goes onto three channels in few steps, and next week’s in four clicks', async ({ page, product, host, context }) => {
  await host.setUp();
  await linkThree(host);
  await host.lendTo(context);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(product.url);
  const first = await counting(page);
  await page.getByRole('button', { name: /New show/ }).click();
  await expect(page.getByLabel('What is it called?')).toBeFocused();
  await page.keyboard.type('Dusk Report');
  await page.keyboard.press('Enter');
  // The work goes on where it is.
  await expect(page.getByLabel('Text', { exact: true })).toBeFocused();
  await page.keyboard.type('What to look for tonight from the fell.');
  await page.getByLabel('Date', { exact: true }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('in 5 days');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await page.keyboard.type('8.30 pm');
  await page.keyboard.press('Tab');
  await page.keyboard.type('40');
  for (const name of [/library channel/, /page on Townfold/, /organisation on Guildhand/]) await page.getByRole('checkbox', { name }).click();
  const choosing = page.waitForEvent('filechooser');
  await page.getByText('Drop or paste a picture here').click();
  await (await choosing).setFiles(await picture());
  await page.getByLabel('What it shows').click();
  await page.keyboard.type('The dome at dusk.');
  await page.getByRole('button', { name: /^Place on 3 channels/ }).click();
  await page.getByRole('button', { name: 'Place all 3' }).click();
  await expect(page.getByText('Read back: “Dusk Report”')).toHaveCount(3);
  // The links to share are at hand without another search.
  await page.getByRole('button', { name: /Copy the link to House page/ }).click();
  const { pages, clicks, screens } = await first();
  expect(pages.length, `pages: ${pages.join(', ')}`).toBeLessThanOrEqual(6);
  expect(clicks).toBeLessThanOrEqual(12);
  expect(screens).toBeLessThanOrEqual(2);
  const [made] = await host.must<ShowSummary[]>('GET', '/api/shows');
  expect(made).toMatchObject({ title: 'Dusk Report', state: 'placed', hasPicture: true, lengthMs: 40 * 60_000 });
  expect(wallTimeOf(instant(made!.startsAt), made!.zone)).toEqual({ date: wallTimeOf(instant(product.now() + 5 * DAY_MS), made!.zone).date, time: '20:30' });

  await page.goto(product.url);
  const again = await counting(page);
  await page.getByRole('button', { name: /New show/ }).click();
  await page.getByRole('button', { name: 'Dusk Report again' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Dusk Report' })).toBeVisible();
  // All of it is seen at once: nothing is a form.
  await expect(page.locator('.part.open')).toHaveCount(0);
  const last = await page.locator('.part').last().boundingBox();
  expect(last!.y + last!.height).toBeLessThanOrEqual(800);
  await page.getByRole('button', { name: /^Place on 3 channels/ }).click();
  await page.getByRole('button', { name: 'Place all 3' }).click();
  // One of them takes nothing so far ahead, and is placed by itself.
  await expect(page.locator('.answer .notice.done')).toHaveCount(3);
  expect((await again()).clicks).toBeLessThanOrEqual(4);
});

test('a show is planned and placed by keyboard alone, and the focus is never lost', async ({ page, product, host, context }) => {
  await host.setUp();
  await linkThree(host);
  await host.lendTo(context);
  await page.goto(product.url);
  await expect(page.getByRole('heading', { name: 'Almanac' })).toBeVisible();
  const tabTo = async (name: RegExp, most: number): Promise<number> => {
    for (let stops = 1; stops <= most; stops++) {
      await page.keyboard.press('Tab');
      const said = await page.evaluate(() => {
        const it = document.activeElement as HTMLElement;
        const label = it.id && document.querySelector(`label[for="${it.id}"]`)?.textContent;
        return [label, it.getAttribute('aria-label'), it.closest('label')?.textContent, it.textContent].find((words) => words?.trim()) ?? '';
      });
      if (name.test(said)) return stops;
    }
    throw new Error(`${name} was not reached in ${most} stops`);
  };
  await page.locator('body').press('n');
  await expect(page.getByLabel('What is it called?')).toBeFocused();
  await page.keyboard.type('Dusk Report');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Text', { exact: true })).toBeFocused();
  await page.keyboard.type('What to look for tonight.');
  await tabTo(/^Date$/, 6);
  await page.keyboard.type('in 5 days');
  await tabTo(/^Time$/, 3);
  await page.keyboard.type('20:30');
  for (const name of [/library channel/, /page on Townfold/]) {
    await tabTo(name, 14);
    await page.keyboard.press('Space');
  }
  await kept(page);
  // From anywhere on the sheet one key leads to the next step; Escape leaves it, and the focus is where it was.
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('dialog', { name: 'This goes out' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(page.getByRole('checkbox', { name: /page on Townfold/ })).toBeFocused();
  // From the top of the sheet it is a few stops.
  await page.reload();
  await expect(page.getByRole('heading', { level: 1, name: 'Dusk Report' })).toBeVisible();
  await page.locator('main').focus();
  expect(await tabTo(/^Place on 2 channels/, 40)).toBeLessThanOrEqual(5);
  await page.keyboard.press('Enter');
  await tabTo(/^Place all 2$/, 6);
  await page.keyboard.press('Enter');
  await expect(page.getByText('Read back: “Dusk Report”')).toHaveCount(2);
  await expect(page.locator('.answer')).toBeFocused();
  // Withdrawing, and removing what was withdrawn.
  await tabTo(/^Withdraw…$/, 60);
  await page.keyboard.press('Enter');
  await tabTo(/^Withdraw everywhere$/, 8);
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Withdrawn from/).first()).toBeVisible();
  await expect(page.locator('.answer')).toBeFocused();
  await tabTo(/^Remove the show…$/, 60);
  await page.keyboard.press('Enter');
  await tabTo(/^Remove it$/, 4);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Almanac' })).toBeVisible();
  await expect(page.locator('main')).toBeFocused();
});

test('letters of twice the size leave every page whole', async ({ page, product, host, context }) => {
  await host.setUp();
  const channels = await linkThree(host);
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(evening(product, 5), channels.slice(0, 2)));
  await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
  await host.lendTo(context);
  await page.addInitScript(() => addEventListener('DOMContentLoaded', () => (document.documentElement.style.fontSize = '200%')));
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    for (const path of [
      '/?view=lanes',
      '/?view=month',
      '/?view=list',
      `/shows/${show.id}?open=what,when,where,people`,
      '/shows/new',
      '/channels',
      '/station',
      '/contacts',
      '/artwork',
      '/you',
    ]) {
      await page.goto(product.url + path);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      await page.waitForLoadState('networkidle');
      const cut = await page.evaluate(() => {
        const wider = document.documentElement.scrollWidth - innerWidth;
        const words = Array.from(document.querySelectorAll<HTMLElement>('h1, h2, label, .facts, input:not([type=checkbox]):not([type=radio])')).filter(
          (each) => each.offsetWidth > 0 && each.closest('.visually-hidden') === null,
        );
        const out = Array.from(document.querySelectorAll<HTMLElement>('body *'))
          .filter((each) => each.getBoundingClientRect().right > innerWidth + 1 && !each.closest('.strip, .sheet-title'))
          .map((each) => each.outerHTML.slice(0, 90));
        return {
          wider,
          out: wider > 0 ? out.slice(0, 5) : [],
          narrow: words.filter((each) => each.offsetWidth < 60 && each.offsetHeight > 120).map((each) => each.outerHTML.slice(0, 80)),
        };
      });
      expect(cut, `${path} at ${width}`).toEqual({ wider: expect.any(Number), out: [], narrow: [] });
      expect(cut.wider, `${path} is wider than ${width}`).toBeLessThanOrEqual(0);
    }
  }
  // The sheet's own column is as wide as the page then.
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(`${product.url}/shows/${show.id}`);
  await expect(page.locator('.part').first()).toBeVisible();
  expect((await page.locator('.sheet form').boundingBox())!.width).toBeGreaterThan(600);
});
