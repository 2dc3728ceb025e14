// A guest who comes by a pass, on a phone, in a browser that knows nothing else.
import type { GuestPassLink, GuestView } from '@lantern/contract';
import { expect, type Browser, type BrowserContext, type Locator, type Page } from '@playwright/test';
import type { Host } from './host';

export const PHONE = { viewport: { width: 390, height: 844 } } as const;

/** Goes through the door to the green room. `looks`: called at each step, by its question. */
export async function throughTheDoor(page: Page, looks: (question: string) => Promise<void> = async () => undefined): Promise<void> {
  const step = async (question: string, press: string | RegExp) => {
    await expect(page.getByRole('heading', { name: question })).toBeVisible();
    await looks(question);
    await page.getByRole('button', { name: press }).click();
  };
  await step('Who are you on the picture?', 'That is right');
  await expect(page.getByRole('heading', { name: 'May we use your camera and microphone?' })).toBeVisible();
  await page.getByRole('button', { name: 'Camera and microphone', exact: true }).click();
  await step('May we use your camera and microphone?', 'Go on');
  await expect(page.getByText('We hear you.')).toBeVisible();
  await step('Do you hear, and are you heard?', 'Go on');
  await step('This is how you will look', 'Good');
  await page.getByLabel('I have read this and agree').check();
  await step('Before you come in', 'Into the green room');
  await expect(page.getByRole('heading', { name: 'Not seen or heard' })).toBeVisible();
}

/** A guest with a pass that was handed over, in the green room. `prepare`: what their browser is given before. */
export async function guestInRoom(
  browser: Browser,
  host: Host,
  showId: string,
  name: string,
  prepare: (context: BrowserContext) => Promise<void> = async () => undefined,
): Promise<Page> {
  const url = await passOf(host, showId, name);
  const context = await browser.newContext({ ...PHONE, permissions: ['camera', 'microphone'] });
  await prepare(context);
  const page = await context.newPage();
  await page.goto(url);
  await page.getByRole('button', { name: 'Yes, I come' }).click();
  await page.getByRole('button', { name: 'Come in' }).click();
  await throughTheDoor(page);
  return page;
}

export async function passOf(host: Host, showId: string, name: string): Promise<string> {
  const guests = await host.must<GuestView[]>('POST', `/api/shows/${showId}/guests`, { name });
  const { id } = guests.find((guest) => guest.name === name)!;
  return (await host.must<GuestPassLink>('POST', `/api/shows/${showId}/guests/${id}/pass`, {})).url;
}

/** Which part of a picture is as green as Chromium's own made-up camera, from 0 to 1. */
export function greenPart(picture: Locator): Promise<number> {
  return picture.evaluate((element) => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [64, 36];
    const context = canvas.getContext('2d')!;
    context.drawImage(element as HTMLVideoElement, 0, 0, 64, 36);
    const { data } = context.getImageData(0, 0, 64, 36);
    let green = 0;
    for (let at = 0; at < data.length; at += 4) if (data[at + 1]! > data[at]! + 70 && data[at + 1]! > data[at + 2]! + 70) green++;
    return green / (data.length / 4);
  });
}

/** The place of a guest on the bench. */
export const onBench = (page: Page, name: string): Locator => page.getByRole('region', { name: 'Guests' }).getByRole('listitem').filter({ hasText: name });
