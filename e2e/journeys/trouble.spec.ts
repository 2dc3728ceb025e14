import type { ShowView } from '@lantern/contract';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pushTestPicture } from '../support/media';
import { expect, lampOf, openStage, test } from '../support/test';

const watching = (show: ShowView, network: string) => show.airings.find(({ channel }) => channel.network === network)!.watchUrl!;

test('a wrong, a foreign and a spent key are refused at the ingest', async ({ product, host }) => {
  const show = await host.showAtItsStart();
  expect(await pushTestPicture(`${product.rtmpUrl}/reelmoor`, 'made-up-key', 2)).toContain('This key is not known here');
  // A key is good at its own network only. The test reads it as a person signed in there would.
  const townfoldKey = await keyOfGathering(product.networksUrl, watching(show, 'townfold').split('/').at(-1)!);
  expect(await pushTestPicture(`${product.rtmpUrl}/reelmoor`, townfoldKey, 2)).toContain('This key is not known here');
  expect(await pushTestPicture(`${product.rtmpUrl}/townfold`, townfoldKey, 2)).toBe('');
  await host.must('POST', `/api/shows/${show.id}/air`);
  await host.must('POST', `/api/shows/${show.id}/wrap`);
  expect(await pushTestPicture(`${product.rtmpUrl}/townfold`, townfoldKey, 2)).toContain('This key has been used up');
});

test('a channel with a wrong key says so, and the other airs', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  const hall = await host.must<{ id: string }>('POST', '/api/channels/typed-in', {
    name: 'Village hall screen',
    address: `${product.rtmpUrl}/reelmoor`,
    key: 'not-the-right-key',
  });
  const { channelIds, version } = await host.must<ShowView>('GET', `/api/shows/${show.id}`);
  await host.must('PATCH', `/api/shows/${show.id}`, { base: version, changes: { channelIds: [...channelIds, hall.id] } });
  await host.must('POST', `/api/shows/${show.id}/place`);
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await expect(lampOf(page, 'Village hall screen')).toHaveText('fault');
  await expect(page.getByText('Village hall screen broke the connection: This key is not known here.')).toBeVisible();
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
  await expect(lampOf(page, 'Townfold')).toHaveText('lit');
  // The key stands in no answer, no log and no list of processes.
  expect(product.logs).not.toContain('not-the-right-key');
  expect(await page.content()).not.toContain('not-the-right-key');
  expect(processArguments()).not.toContain('not-the-right-key');
});

test('one network down at the start comes back later and does not disturb the other', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  await product.setFault('townfold', 'down');
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
  await expect(lampOf(page, 'Townfold')).toHaveText('fault');
  await expect(page.locator('[data-network="Townfold"]')).toContainText('Trying again');
  await page.waitForTimeout(4_000);
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
  await product.setFault('townfold', 'none');
  await expect(lampOf(page, 'Townfold')).toHaveText('lit', { timeout: 90_000 });
  // A network that drops the picture in mid-show is reached again by itself.
  await product.dropPictures('reelmoor');
  await expect(lampOf(page, 'Reelmoor')).not.toHaveText('lit');
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit', { timeout: 90_000 });
  await expect(lampOf(page, 'Townfold')).toHaveText('lit');
  // A network that takes the connection and stops reading is found out by what it reports.
  await product.setFault('reelmoor', 'stall');
  await expect(lampOf(page, 'Reelmoor')).toHaveText('fault', { timeout: 90_000 });
  await expect(lampOf(page, 'Townfold')).toHaveText('lit');
  await product.setFault('reelmoor', 'none');
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit', { timeout: 90_000 });
});

test('a title is corrected on air with one refusal, and a network that ends the show at its limit is noticed while the other goes on', async ({
  page,
  product,
  host,
  context,
}) => {
  const show = await host.showAtItsStart();
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  for (const network of ['Reelmoor', 'Townfold']) await expect(lampOf(page, network)).toHaveText('lit');
  // Changed behind everybody's back: known only once it is refused.
  await product.operate('limits', { network: 'townfold', limit: 'title', value: '20', inDays: '0', announced: 'no' });
  const sheet = await context.newPage();
  await sheet.goto(`${product.url}/shows/${show.id}`);
  await sheet.getByRole('button', { name: 'What', exact: true }).click();
  await sheet.getByLabel('Title', { exact: true }).fill('Dusk Report, with the comet after all');
  await sheet.getByRole('button', { name: 'Move on 2 channels' }).click();
  await expect(sheet.getByText('Changed on Alderfell Sky Club (Reelmoor).')).toBeVisible();
  await expect(sheet.getByText('Refused: Townfold said: Headlines have 20 characters at most.')).toBeVisible();
  const titleOn = async (network: string) => /<h1>([^<]*)/.exec(await (await fetch(watching(show, network))).text())?.[1];
  expect([await titleOn('reelmoor'), await titleOn('townfold')]).toEqual(['Dusk Report, with the comet after all', show.title]);
  await sheet.close();
  // Eighteen seconds, and it is over there.
  await product.operate('limits', { network: 'townfold', limit: 'longest', value: '0.005', inDays: '0', announced: 'no' });
  await expect(lampOf(page, 'Townfold')).toHaveText('out', { timeout: 60_000 });
  await expect(page.locator('[data-network="Townfold"]').getByRole('button', { name: 'Make another on Townfold' })).toBeVisible();
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
});

test('access withdrawn on air takes no picture away, and the lamp asks for the channel to be linked again', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
  await product.operate('access', { network: 'reelmoor', becomes: 'withdrawn' });
  await expect(lampOf(page, 'Reelmoor')).toHaveText('fault');
  await expect(page.getByText('Reelmoor no longer lets the station act for this channel.')).toBeVisible();
  const state = async () => (await (await fetch(`${watching(show, 'reelmoor')}/state`)).json()) as { state: string; playable: boolean };
  await page.waitForTimeout(3_000);
  expect(await state()).toMatchObject({ state: 'public', playable: true });
  await host.link('reelmoor', 'rm-alderfell');
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');

  await test.step('what somebody ends there is said, and made once more by a press', async () => {
    await product.operate('events', { network: 'reelmoor', event: new URL(watching(show, 'reelmoor')).pathname.split('/').at(-1)!, what: 'end' });
    await expect(lampOf(page, 'Reelmoor')).toHaveText('out');
    await expect(page.getByText('Ended on Reelmoor, and not from here.')).toBeVisible();
    await expect(lampOf(page, 'Townfold')).toHaveText('lit');
    await page.getByRole('button', { name: 'Make another on Reelmoor' }).click();
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
    const anew = watching(await host.must<ShowView>('GET', `/api/shows/${show.id}`), 'reelmoor');
    expect(anew).not.toBe(watching(show, 'reelmoor'));
    await expect.poll(async () => (await (await fetch(`${anew}/state`)).json()) as object).toMatchObject({ state: 'public', playable: true });
  });
});

test('the stage reloaded on air comes back to the show and goes on sending', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
  await page.keyboard.press('Space');
  await page.waitForTimeout(4_000);
  await page.reload();
  await expect(page.getByText('Programme Welcome')).toBeVisible();
  const recorded = async () => (await host.must<{ recordedMs: number }>('GET', `/api/shows/${show.id}/air`)).recordedMs;
  const before = await recorded();
  expect(before).toBeGreaterThan(3_000);
  await expect.poll(recorded, { timeout: 90_000 }).toBeGreaterThan(before + 3_000);
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit', { timeout: 90_000 });
  await host.must('POST', `/api/shows/${show.id}/wrap`);
  await expect.poll(async () => (await host.report(show.id)).recording.state).toBe('ready');
  // Both stretches are in the recording: what came before the reload and what came after.
  expect((await host.report(show.id)).recording.lengthMs).toBeGreaterThan(before + 3_000 - 500);
});

/** The key of a gathering, read over Townfold's own interface by a person who signs in there. */
async function keyOfGathering(networksUrl: string, ref: string): Promise<string> {
  const { createHash, randomBytes } = await import('node:crypto');
  const verifier = randomBytes(32).toString('base64url');
  const redirect = 'http://localhost/anywhere';
  const consent = new URL(`${networksUrl}/townfold/oauth/consent`);
  consent.search = new URLSearchParams({
    response_type: 'code',
    client_id: 'noble-lantern',
    redirect_uri: redirect,
    state: 'x',
    code_challenge: createHash('sha256').update(verifier).digest('base64url'),
    code_challenge_method: 'S256',
  }).toString();
  const form = new URLSearchParams({ name: 'maren', password: 'lantern-light', answer: 'allow' });
  const back = await fetch(consent, { method: 'POST', body: form, redirect: 'manual' });
  const code = new URL(back.headers.get('location')!).searchParams.get('code')!;
  const exchange = { client_id: 'noble-lantern', grant_type: 'authorization_code', code, redirect_uri: redirect, code_verifier: verifier };
  const tokens = (await (await fetch(`${networksUrl}/townfold/oauth/token`, { method: 'POST', body: new URLSearchParams(exchange) })).json()) as {
    access_token: string;
  };
  const line = await fetch(`${networksUrl}/townfold/open/gatherings/${ref}/line`, { headers: { authorization: `Bearer ${tokens.access_token}` } });
  return ((await line.json()) as { pass_phrase: string }).pass_phrase;
}

/** What any user of this machine can read about running processes. */
function processArguments(): string {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map((pid) => {
      try {
        return readFileSync(join('/proc', pid, 'cmdline'), 'utf8');
      } catch {
        return '';
      }
    })
    .join('\n');
}
