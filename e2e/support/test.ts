// The test function of all journeys: each gets a product and a host of its own.
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
  await expect(page.getByRole('button', { name: /Go on air|Resume|Wrap up…/ }).first()).toBeEnabled({ timeout: 90_000 });
}

/** Reads the summary and places the show, as a host does. `press`: the button on the sheet. */
export async function placeOnPage(page: Page, press: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: press }).click();
  const summary = page.getByRole('dialog', { name: 'This goes out' });
  await summary.getByRole('button', { name: /^Place (it|all|on)/ }).click();
  await expect(summary).toBeHidden();
}

/** Waits until everything typed is kept. */
export async function kept(page: Page): Promise<void> {
  await expect(page.locator('.keeping-line')).toHaveText(/^Kept/);
}

export { expect };
