// The test function of all journeys: each gets a product and a host of its own.
import AxeBuilder from '@axe-core/playwright';
import { expect, test as base, type Locator, type Page } from '@playwright/test';
import { Host } from './host';
import { Product } from './product';

export const test = base.extend<{ product: Product; host: Host }>({
  product: async ({}, use, info) => {
    const product = await Product.start();
    await use(product);
    if (info.status !== info.expectedStatus) await info.attach('logs', { body: product.logs, contentType: 'text/plain' });
    await product.stop();
  },
  page: async ({ page }, use) => {
    // A stage on air asks before it is left; who reloads it here means it.
    page.on('dialog', (dialog) => void dialog.accept());
    await use(page);
  },
  host: async ({ product }, use) => {
    await use(new Host(product));
  },
});

/** What an automatic look finds against WCAG 2.2 AA, by rule and place, once nothing fades in or out any more: colours in between are nobody's. */
export async function barriers(page: Page): Promise<string[]> {
  await expect(page.locator('.modal.fade:not(.show)')).toHaveCount(0);
  await page.evaluate(async () => {
    const passing = document.getAnimations().filter(({ effect }) => effect?.getComputedTiming().iterations !== Infinity);
    await Promise.allSettled(passing.map(({ finished }) => finished));
  });
  // What is as it should be is not told: to name each place of it costs more than to look at it.
  const { violations } = await new AxeBuilder({ page })
    .options({ resultTypes: ['violations'] })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  return violations.flatMap(({ id, nodes }) => nodes.map(({ target }) => `${id}: ${target.join(' ')}`));
}

/** The lamp of one channel on the stage. */
export function lampOf(page: Page, network: string): Locator {
  return page.locator(`[data-network="${network}"] .lamp`);
}

/** Opens the stage and waits until it is ready to go on air. */
export async function openStage(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await stageReady(page);
}

/** Waits until the stage has what it needs. */
export async function stageReady(page: Page): Promise<void> {
  await expect(page.getByRole('button', { name: /Go on air|Begin the rehearsal|Resume|Wrap up…/ }).first()).toBeEnabled({ timeout: 90_000 });
}

/** Reads the summary and places the show, as a host does. `press`: the button on the sheet. */
export async function placeOnPage(page: Page, press: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: press }).click();
  const summary = page.getByRole('dialog', { name: 'This goes out' });
  await summary.getByRole('button', { name: /^Place (it|all|on)/ }).click();
  await expect(summary).toBeHidden();
}

/** Opens a section of the sheet, unless it is open. */
export async function section(page: Page, name: string): Promise<void> {
  const press = page.getByRole('button', { name, exact: true });
  await expect(press).toBeVisible();
  if ((await press.getAttribute('aria-expanded')) === 'false') await press.click();
}

/** Shows large how viewers meet the show on one channel. */
export async function enlarge(page: Page, network: RegExp): Promise<Locator> {
  const card = page.getByRole('article', { name: network });
  const press = card.locator('.met-card');
  if ((await press.getAttribute('aria-expanded')) === 'false') await press.click();
  return card;
}

/** Waits until everything typed is kept. */
export async function kept(page: Page): Promise<void> {
  await expect(page.locator('.keeping-line')).toHaveText(/^Kept/);
}

export { expect };

/** Where an element stands, once nothing that is still being fetched moves it any more. */
export async function standing(element: Locator): Promise<{ x: number; y: number; width: number; height: number }> {
  let before = await element.boundingBox();
  for (let same = 0; same < 3;) {
    await element.page().waitForTimeout(150);
    const now = await element.boundingBox();
    same = now && JSON.stringify(now) === JSON.stringify(before) ? same + 1 : 0;
    before = now;
  }
  return before!;
}
