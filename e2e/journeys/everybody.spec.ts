import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ChannelView, ShowView } from '@lantern/contract';
import { soonestStart } from '../support/host';
import { barriers, expect, openStage, test } from '../support/test';

/** Every page that there is, as the router names it. */
function pagesOfTheRouter(): string[] {
  const source = readFileSync(join(__dirname, '..', '..', 'web', 'src', 'frame', 'router.tsx'), 'utf8');
  const paths = [...source.matchAll(/path: '([^']+)'/g)].map(([, path]) => path!);
  return paths.filter((path) => path !== '*').map((path) => (path.startsWith('/') ? path : `/channels/:id/${path}`));
}

test('no page has barriers that can be found automatically, contrast among them', async ({ page, product, host, context }) => {
  test.setTimeout(300_000);
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
  await host.must('POST', '/api/outside-lines', { name: 'Hall camera' });
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
    '/channels/outside-lines': [['/channels/outside-lines', 'Outside lines']],
    '/channels/link/:linkId': [[`/channels/link/${linkId}`, /./]],
    '/shows/new': [['/shows/new', 'New show']],
    '/shows/:id': [[`/shows/${show.id}`, 'Dusk Report']],
    '/shows/:id/report': [[`/shows/${over.id}/report`, /./]],
    '/shows/:id/cut': [[`/shows/${over.id}/cut`, 'Cut']],
    '/shows/:id/notes': [[`/shows/${show.id}/notes`, 'Dusk Report']],
    '/shows/:id/picture': [[`/shows/${show.id}/picture`, /./]],
    '/artwork': [['/artwork', /./]],
    '/contacts': [['/contacts', /./]],
    '/scenes': [['/scenes', 'Scenes']],
    '/scenes/:id': [['/scenes/together', 'Scenes']],
    '/looks': [['/looks', 'Looks']],
    '/looks/:id': [['/looks/new', 'Looks']],
    '/shows/:id/scenes': [[`/shows/${show.id}/scenes`, 'Scenes of this show']],
    '/shows/:id/scenes/:scene': [[`/shows/${show.id}/scenes/together`, 'Scenes of this show']],
    '/team': [['/team', 'Team']],
    '/door': [['/door', 'A guest pass is needed']],
    '/join': [['/join', 'This pass is not good']],
    '/forgotten': [['/forgotten', 'A new password']],
    '/new-password': [['/new-password', 'Choose a new password']],
    '/mail': [['/mail', /./]],
    '/you': [['/you', /./]],
    // Looked at above and below.
    ...{ '/sign-in': [], '/set-up': [], '/shows/:id/stage': [], '/shows/:id/arrives': [] },
  };
  expect(Object.keys(examples).sort()).toEqual(pagesOfTheRouter().sort());
  const titles: string[] = [];
  const sheet = `/shows/${show.id}`;
  const states: (readonly [path: string, heading: string | RegExp])[] = [
    ['/?view=month', 'Almanac'],
    [`${sheet}?open=what,when,repeat,where,audience,picture,people,picture-from,house,announcements,links`, 'Dusk Report'],
    [`${sheet}?channel=${library.id}`, 'Dusk Report'],
  ];
  // By day and for whoever prefers the dark; as wide as a desk and as a phone.
  for (const [width, colorScheme] of [
    [1280, 'light'],
    [390, 'dark'],
  ] as const) {
    await page.setViewportSize({ width, height: 844 });
    await page.emulateMedia({ colorScheme });
    for (const [path, heading] of [...Object.values(examples).flat(), ...states, [new URL(show.houseUrl).pathname, 'Dusk Report'] as const]) {
      await page.goto(product.url + path);
      await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
      expect.soft(await barriers(page), `${path} at ${width}, ${colorScheme}`).toEqual([]);
      if (width === 1280 && !states.some(([state]) => state === path)) titles.push(await page.title());
    }
  }
  await page.emulateMedia({ colorScheme: 'light' });
  await page.setViewportSize({ width: 1280, height: 800 });
  // Each page is called by what it is about, in the browser's tab and history.
  for (const title of titles) expect(title).toMatch(/^\S.* · (Noble Lantern|Alderfell Sky Club)$/);
  expect(new Set(titles).size).toBeGreaterThanOrEqual(Object.keys(examples).length - 9); // Pages of one channel share its name, as those of looks and of a show's scenes do.
  await page.goto(product.url);
  await expect(page.getByRole('heading', { level: 1, name: 'Almanac' })).toBeVisible();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'To the content' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.locator('main')).toBeFocused();
  // What opens over a page.
  await page.keyboard.press('/');
  await page.getByLabel('What to find').fill('dusk');
  await expect(page.getByRole('link', { name: /^Dusk Report/ }).first()).toBeVisible();
  expect(await barriers(page), 'finding').toEqual([]);
  const draft = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soonestStart(product.now()) + 3 * 86_400_000, [library]));
  await page.goto(`${product.url}/shows/${draft.id}?open=when`);
  await page.getByRole('button', { name: 'Date on a calendar' }).click();
  await expect(page.getByRole('grid')).toBeVisible();
  expect(await barriers(page), 'the calendar of a date').toEqual([]);
  await page.keyboard.press('Escape');
  for (const [press, dialog] of [
    [/^Place on 1 channel/, 'This goes out'],
    [/^Remove the show…/, 'Remove Dusk Report?'],
  ] as const) {
    await page.getByRole('button', { name: press }).click();
    await expect(page.getByRole('dialog', { name: dialog })).toBeVisible();
    expect(await barriers(page), dialog).toEqual([]);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toBeHidden();
  }
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  expect(await barriers(page), 'the stage').toEqual([]);
});

test('no dialog has barriers that can be found automatically, and each gives the focus back', async ({ page, product, host, context }) => {
  test.setTimeout(180_000);
  const show = await host.showAtItsStart();
  const [library] = show.airings.map(({ channel }) => channel) as [(typeof show.airings)[number]['channel']];
  const hall = await host.must<ChannelView>('POST', '/api/channels/typed-in', { name: 'Hall', address: 'rtmp://127.0.0.1:9/hall', key: 'hall-key-1' });
  const later = await host.must<ShowView>(
    'POST',
    '/api/shows',
    host.draftOf(soonestStart(product.now()) + 2 * 86_400_000, [library], { title: 'Members’ Evening' }),
  );
  await host.must('POST', `/api/shows/${later.id}/place`);
  await host.lendTo(context);
  /** Opens each by its button, looks, and leaves by Escape. */
  const look = async (path: string, presses: readonly RegExp[]) => {
    await page.goto(product.url + path);
    for (const press of presses) {
      const button = page.getByRole('button', { name: press }).first();
      await button.click();
      await expect(page.getByRole('dialog')).toBeVisible();
      expect.soft(await barriers(page), `${path}: ${press}`).toEqual([]);
      await page.keyboard.press('Escape');
      await expect(page.getByRole('dialog')).toBeHidden();
      await expect(button).toBeFocused();
    }
  };
  await look('/channels', [/^Type in/]);
  await look(`/channels/${library.id}`, [/^Unlink…/]);
  await look(`/channels/${hall.id}`, [/^Take off…/]);
  await look(`/channels/${hall.id}/lines`, [/^Add a line/, /^Rotate the key…/, /^Name it, or note/, /^Show the key/]);
  await look(`/shows/${later.id}`, [/^Withdraw…/]);
  const draft = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soonestStart(product.now()) + 4 * 86_400_000, [library]));
  await look(`/shows/${draft.id}?channel=${library.id}`, [/^It exists there already…/, /^Remove the show…/]);
  await look(`/shows/${later.id}/stage`, [/^All keys/, /^By itself at/]);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await page.getByRole('button', { name: 'Wrap up…' }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  expect.soft(await barriers(page), 'wrapping up').toEqual([]);
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
  await expect(page.getByText('Microphones are shut on this scene')).toBeVisible();
  await page.getByRole('button', { name: 'Go on air' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Wrap up…' })).toBeVisible();
  // The button that was pressed is gone; the focus is where the work goes on, and never nowhere.
  await expect(page.getByRole('button', { name: /^Take/ })).toBeFocused();
  await page.getByRole('button', { name: 'Wrap up…' }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Wrap up everywhere' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Ended on Reelmoor.').first()).toBeVisible();
  await expect(page.locator('main')).toBeFocused();
});
