// Pictures that make themselves, as a host without an image program meets them.
import type { PlaceResult, ShowView } from '@lantern/contract';
import { DAY_MS, instant, wallTimeOf } from '@lantern/core';
import { readFileSync } from 'node:fs';
import { soonestStart } from '../support/host';
import { barriers, expect, kept, section, test } from '../support/test';

const SVG = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" width="600" height="600"><rect width="600" height="600" fill="#b98"/><circle cx="300" cy="260" r="120" fill="#432"/></svg>',
);
/** The picture that stands on a network's own page. */
const picture = async (watchUrl: string) => Buffer.from(await (await fetch(`${watchUrl}/picture`)).arrayBuffer()).toString('base64');

test('a host makes a picture from parts, places it, and moves the show: the picture follows everywhere', async ({ page, product, host, context }) => {
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell')];
  const startsAt = soonestStart(product.now()) + DAY_MS;
  const people = [{ name: 'Tomasz Wren', role: 'guest' as const, zone: 'Asia/Kolkata' }];
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, channels, { people }));
  await host.lendTo(context);

  await test.step('sees each choice drawn, is told what cannot be read, and adds the guest’s portrait', async () => {
    await page.goto(`${product.url}/shows/${show.id}`);
    await section(page, 'Thumbnail');
    await page.getByRole('link', { name: 'Make one here' }).click();
    const drawn = page.getByRole('img', { name: 'The picture as it will be' });
    await expect(drawn).toBeVisible();
    await page.getByText('Slip', { exact: true }).click();
    const before = await drawn.getAttribute('src');
    await page.getByLabel('What lies behind').selectOption({ label: 'A drawn sky: day' });
    await expect(drawn).not.toHaveAttribute('src', before!);
    await page.getByLabel('Title').fill('Everything that the observers of the fell have seen in the long nights of the new moon since autumn');
    await expect(page.getByText(/Title: can be read only where the picture is at least \d+ pixels wide/)).toBeVisible();
    await page.getByLabel('Title').fill('');
    await expect(page.getByText(/Title: can be read only/)).toBeHidden();
    await page.getByLabel('One more line').fill('𒀀 with {guests}');
    await expect(page.getByText('No letters here can draw 𒀀')).toBeVisible();
    await page.getByLabel('One more line').fill('with {guests}');
    const portrait = page.getByText('Add a portrait of Tomasz Wren');
    await portrait.locator('input').setInputFiles({ name: 'tomasz.svg', mimeType: 'image/svg+xml', buffer: SVG });
    await expect(portrait).toBeHidden();
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('button', { name: 'Use this picture' }).click();
    await expect(page.getByLabel('What it shows')).toHaveValue(/Dusk Report, .*Tomasz Wren/);
    await expect(page.getByText('Made from the same parts, with room for the countdown.')).toBeVisible();
  });

  const placed = (await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`)).show;
  const { watchUrl } = placed.airings[0]!;
  const first = await picture(watchUrl!);

  await test.step('moves the show a day; the picture is made anew and is sent again', async () => {
    await page.reload();
    await section(page, 'When');
    const next = wallTimeOf(instant(startsAt + DAY_MS), placed.zone).date;
    await page.getByLabel('Date', { exact: true }).fill(next);
    await kept(page);
    await expect
      .poll(async () => (await host.must<ShowView>('GET', `/api/shows/${show.id}`)).thumbnail!.url, { timeout: 30_000 })
      .not.toBe(placed.thumbnail!.url);
    await page.getByRole('button', { name: 'Move on its channel' }).click();
    await expect.poll(() => picture(watchUrl!), { timeout: 30_000 }).not.toBe(first);
  });

  await test.step('the visitor’s page counts down on the waiting picture', async () => {
    const visitor = await context.newPage();
    await visitor.setViewportSize({ width: 390, height: 844 });
    await visitor.goto(placed.houseUrl);
    await expect(visitor.locator('.card-shown .count')).toBeVisible();
    const fits = await visitor.evaluate(() => {
      const [count, screen] = ['.count', '.screen'].map((what) => document.querySelector(what)!.getBoundingClientRect());
      return count!.right <= screen!.left + screen!.width * 0.55 && count!.bottom <= screen!.bottom && count!.top >= screen!.top + screen!.height * 0.6;
    });
    expect(fits).toBe(true);
    await visitor.close();
  });

  await test.step('a picture that lies about its type is refused, and the one before stays', async () => {
    const shown = (await host.must<ShowView>('GET', `/api/shows/${show.id}`)).thumbnail!.url;
    await page
      .getByLabel('Picture of the show')
      .setInputFiles({ name: 'photo.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('<!doctype html><p>no picture') });
    await expect(page.getByText('photo.jpg is not a picture that can be read')).toBeVisible();
    expect((await host.must<ShowView>('GET', `/api/shows/${show.id}`)).thumbnail!.url).toBe(shown);
  });

  await test.step('the library shows where the portrait is used, and asks before it goes', async () => {
    await page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: 'Artwork' }).click();
    await page.getByRole('button', { name: 'Change Tomasz Wren' }).click();
    await expect(page.getByRole('link', { name: /^“Dusk Report” on/ })).toBeVisible();
    await page.getByRole('button', { name: 'Take out of the library' }).click();
    await expect(page.getByText(/It is used by “Dusk Report”/)).toBeVisible();
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('button', { name: 'Take it out all the same' }).click();
    await expect(page.getByRole('button', { name: 'Change Tomasz Wren' })).toBeHidden();
  });

  await test.step('hands a look over as a file; whoever opens it sees what is in it, takes it, and makes a show with it', async () => {
    const palette = { ground: '#fdf3d7', ink: '#12343a', accent: '#a8401f' };
    await host.must('POST', '/api/looks', { name: 'Junior Dome', palette, logoId: null, straps: 'block' });
    await page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: 'Looks' }).click();
    await page.getByRole('link', { name: 'Junior Dome' }).click();
    // As it goes out, at once on all that is made in it.
    for (const name of ['Somebody with their name', 'Holding card', 'A call', 'Closing card'])
      await expect(page.getByRole('img', { name: `${name}, in this look` })).toBeVisible();
    await page.getByLabel('Headings and times').selectOption('nunito');
    await page.getByRole('radio', { name: 'On a slip' }).check();
    await page.getByLabel('Behind cards and people', { exact: true }).last().selectOption('day');
    await expect(page.getByRole('img', { name: 'A waiting picture, in this look' })).toBeVisible();
    const font = readFileSync(require.resolve('@fontsource/fraunces/files/fraunces-latin-700-normal.woff2'));
    await page.getByLabel('Add a font…').setInputFiles({ name: 'page.ttf', mimeType: 'font/ttf', buffer: Buffer.from('<!doctype html>') });
    await expect(page.getByText('This file is not a font that can be read.')).toBeVisible();
    await page.getByLabel('Add a font…').setInputFiles({ name: 'fraunces.woff2', mimeType: 'font/woff2', buffer: font });
    await expect(page.getByText(/Fraunces Bold: Copyright/)).toBeVisible();
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await expect(page.getByRole('status').filter({ hasText: /^Kept$/ })).toBeVisible();
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('button', { name: 'Make it the station’s look' }).click();
    await expect(page.getByText('“Junior Dome” is the station’s look')).toBeVisible();
    const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'As a file, for others' }).click()]);
    expect(file.suggestedFilename()).toBe('Junior Dome.look.zip');
    const opener = page.getByLabel('Open a look pack…');
    await opener.setInputFiles({ name: 'no.look.zip', mimeType: 'application/zip', buffer: Buffer.from('no zip at all') });
    await expect(page.getByText('This file is not a look pack: it is no zip.')).toBeVisible();
    await opener.setInputFiles(await file.path());
    const pack = page.getByRole('group', { name: 'The look pack Junior Dome' });
    await expect(pack).toContainText('Names on a block, cards on a slip, a drawn sky behind them');
    await expect(pack).toContainText(/Headings in Fraunces Bold, in this file: Copyright/);
    await expect(pack).toContainText('this one is kept as “Junior Dome 2”');
    expect(await barriers(page)).toEqual([]);
    await pack.getByRole('button', { name: 'Take it into the library' }).click();
    await page.getByLabel('Use Junior Dome 2 for').selectOption({ index: 1 });
    await expect(page.getByText(/The pictures and the programme of “.*” are made with “Junior Dome 2”/)).toBeVisible();
  });
});

test('a host invites a group of contacts and sees who comes', async ({ page, product, host, context, browser }) => {
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell')];
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soonestStart(product.now()), channels, { houseVisibility: 'invited people' }));
  await host.must('POST', `/api/shows/${show.id}/place`);
  await host.lendTo(context);
  await page.goto(`${product.url}/contacts`);
  await page
    .getByText('Bring in a table')
    .locator('input')
    .setInputFiles({
      name: 'members.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(
        'Name,Address,Groups\nAda Fenn,ada@people.example,Members\nBram Holt,bram@people.example,Members\nCleo Marsh,cleo@school.example,Schools\nNobody,nowhere,\n',
      ),
    });
  await expect(page.getByText('3 added, 0 changed.')).toBeVisible();
  await expect(page.getByText('Line 5: This does not look like an email address.')).toBeVisible();
  expect(await barriers(page)).toEqual([]);

  await page.goto(`${product.url}/shows/${show.id}#house`);
  await page.getByText('From your contacts').click();
  await page.getByLabel('Group').selectOption('Members');
  await page.getByRole('button', { name: 'Invite 2 people' }).click();
  await expect(page.getByText('2 invitations go out.')).toBeVisible();
  await page.goto(`${product.url}/mail`);
  await expect(page.getByText('ada@people.example')).toBeVisible();
  expect(await barriers(page)).toEqual([]);

  const mail = await product.mailTo('ada@people.example');
  const guest = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await guest.goto(/http\S+\?pass=\S+/.exec(mail)![0]);
  await guest.getByRole('button', { name: 'I come' }).click();
  await expect(guest.getByText('Ada Fenn, you are coming.')).toBeVisible();
  await guest.context().close();
  await page.goto(`${product.url}/shows/${show.id}#house`);
  await expect(page.getByRole('listitem').filter({ hasText: 'Ada Fenn' })).toContainText('comes');
});
