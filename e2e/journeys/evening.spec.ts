// What goes wrong on an evening: a slip of the hand, a line that goes silent, a second stage, a session that runs out.
import type { PlaceResult, ShowView } from '@lantern/contract';
import { OWNER, soonestStart } from '../support/host';
import { expect, kept, lampOf, openStage, section, stageReady, test } from '../support/test';

const HOUR_MS = 3_600_000;

test('a stage on air: it is not left unasked, says when nothing is known, and no other begins to send by itself', async ({
  page,
  product,
  host,
  context,
  browser,
}) => {
  const show = await host.showAtItsStart();
  await host.lendTo(context);
  const stageUrl = `${product.url}/shows/${show.id}/stage`;
  let silent = false;
  await page.routeWebSocket(/\/api\/stage\//, (client) => {
    const server = client.connectToServer();
    client.onMessage((message) => silent || server.send(message));
    server.onMessage((message) => silent || client.send(message));
  });
  // As a host comes to it, so that “Back” leads within the pages.
  await page.goto(`${product.url}/shows/${show.id}`);
  await page.getByRole('link', { name: 'Open the stage' }).click();
  await stageReady(page);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');

  await test.step('leaving is asked about, the sheet opens beside it, and planning pages lead back', async () => {
    await page.evaluate(() => history.back());
    await expect(page.getByRole('dialog', { name: 'Leave the stage?' })).toBeVisible();
    await page.getByRole('button', { name: 'Stay on the stage' }).click();
    const [sheet] = await Promise.all([context.waitForEvent('page'), page.getByRole('link', { name: /Show sheet/ }).click()]);
    await expect(sheet.getByLabel('On air')).toContainText('Dusk Report');
    await expect(sheet.getByRole('link', { name: 'Back to the stage' })).toBeVisible();
    // The words can still be put right there, and the channels be told.
    await section(sheet, 'What');
    await sheet.getByLabel('Title').fill('Dusk Report, with a comet');
    await kept(sheet);
    await sheet.getByRole('button', { name: /Move on 2 channels/ }).click();
    await expect(sheet.getByText(/Changed on Alderfell Sky Club \(Reelmoor\)/)).toBeVisible();
    await expect(sheet.getByText('The event is gone', { exact: false })).toHaveCount(0);
    await sheet.close();
    await page.bringToFront();
  });

  await test.step('a line that goes silent: nothing is amber, and every lamp says since when it is not known', async () => {
    silent = true;
    await expect(page.getByText(/Not known since \d\d:\d\d:\d\d/).first()).toBeVisible({ timeout: 10_000 });
    await expect(page.locator('.programme.lit')).toHaveCount(0);
    await page.keyboard.press('Space');
    silent = false;
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit', { timeout: 60_000 });
    // The take that was made meanwhile is not lost.
    await expect.poll(async () => (await host.must<{ programme: string }>('GET', `/api/shows/${show.id}/air`)).programme).toBe('host');
  });

  await test.step('another stage looks on until somebody takes the stage there, and the first is told', async () => {
    const other = new (host.constructor as new (of: typeof product) => typeof host)(product);
    await other.must('POST', '/api/session', { email: OWNER.email, password: OWNER.password });
    const elsewhere = await browser.newContext({ permissions: ['camera', 'microphone'] });
    await other.lendTo(elsewhere);
    const second = await elsewhere.newPage();
    second.on('dialog', (dialog) => void dialog.accept());
    await second.goto(stageUrl);
    await expect(second.getByText('has the stage')).toBeVisible();
    await expect(second.locator('.programme.lit')).toHaveCount(0);
    await expect(second.getByRole('button', { name: /^Take Space/ })).toBeDisabled();
    // Whoever looks on helps: what is pressed there is done where the show is made, and both see it.
    const graphic = { id: 'call', kind: 'call', text: 'Send us what you saw', more: '', hidesAfterS: null, cue: null, lookedAtFor: null };
    const { version } = await host.must<ShowView>('GET', `/api/shows/${show.id}`);
    await host.must('PATCH', `/api/shows/${show.id}`, { base: version, changes: { graphics: [graphic] } });
    await second.getByRole('button', { name: 'Show “Send us what you saw”' }).click();
    await expect(page.getByText('Maren Tolliver shows “Send us what you saw”.')).toBeVisible();
    await expect(page.getByRole('region', { name: 'Graphics' })).toContainText('is shown');
    await expect(second.getByRole('region', { name: 'Graphics' })).toContainText('is shown');
    await second.getByRole('button', { name: 'Closing card' }).click();
    await expect(page.getByText('chose “Closing card” as next')).toBeVisible();
    await page.keyboard.press('Space');
    await second.getByRole('button', { name: 'Hide ⇧ G' }).click();
    await expect(page.getByText('Programme Closing card')).toBeVisible();
    await expect(page.getByRole('region', { name: 'Graphics' })).not.toContainText('is shown');
    await page.keyboard.press('Space');
    await expect(page.getByText('Programme Welcome')).toBeVisible();
    // A reload of the first one puts nobody else's camera on air.
    await page.reload();
    await expect(second.getByText('has the stage')).toBeVisible();
    await expect(page.getByText('Programme Welcome')).toBeVisible();
    await second.getByRole('button', { name: 'Take the stage' }).click();
    await second.getByRole('dialog', { name: 'Take the stage from Maren Tolliver?' }).getByRole('button', { name: 'Send from here' }).click();
    await expect(page.getByText('has the stage now: your camera and your microphone go out no more')).toBeVisible();
    await expect(second.getByText('Programme Welcome')).toBeVisible();
    // Back, and there once more, each time by a word of both: asked for, and offered.
    await page.getByRole('button', { name: 'Take the stage' }).click();
    await page.getByRole('button', { name: 'Ask for it' }).click();
    await expect(page.getByText('You have asked Maren Tolliver for the stage')).toBeVisible();
    await second.getByRole('button', { name: 'Hand it over' }).click();
    await expect(second.getByText('has the stage now: your camera and your microphone go out no more')).toBeVisible({ timeout: 60_000 });
    await expect(page.getByText('Programme Welcome')).toBeVisible();
    await page.getByRole('button', { name: 'Hand the stage to Maren Tolliver' }).click();
    await second.getByRole('button', { name: 'Not now' }).click();
    await expect(page.getByText('does not take the stage')).toBeVisible();
    await page.getByRole('button', { name: 'Hand the stage to Maren Tolliver' }).click();
    await second.getByRole('button', { name: 'Take it over' }).click();
    await expect(page.getByText('has the stage now: your camera and your microphone go out no more')).toBeVisible({ timeout: 60_000 });
    await elsewhere.close();
    await expect(page.getByText('and its line is broken. Until it is back')).toBeVisible();
    await page.getByRole('button', { name: 'Take the stage' }).click();
    await page.getByRole('button', { name: 'Send from here' }).click();
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit', { timeout: 60_000 });
  });

  await test.step('from a phone one sees, mutes, takes the card and wraps up', async () => {
    const phone = await context.newPage();
    await phone.setViewportSize({ width: 390, height: 780 });
    await phone.goto(stageUrl);
    await expect(phone.getByText('Maren Tolliver sends from the stage. Their microphone is on.')).toBeVisible();
    await phone.getByRole('button', { name: 'Mute the microphone' }).click();
    await expect(phone.getByText('Their microphone is off.')).toBeVisible();
    await phone.getByRole('button', { name: 'Take the holding card' }).click();
    await expect(page.getByText('Programme Holding card')).toBeVisible();
    expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    // Signed out meanwhile, the password is asked for on the spot, and the show can be ended.
    await host.must('DELETE', '/api/sessions');
    await expect(phone.getByRole('dialog', { name: 'Sign in again' })).toBeVisible();
    await phone.getByLabel('Password').fill(OWNER.password);
    await phone.getByRole('button', { name: 'Sign in' }).click();
    await phone.getByRole('button', { name: 'Wrap up…' }).click();
    await phone.getByRole('button', { name: 'Wrap up everywhere' }).click();
    await expect(phone.getByText('Ended on Reelmoor.').first()).toBeVisible();
  });
});

test('going on air too early is asked about and can be taken back; a stage goes without a camera, in a low window, and says where it cannot run', async ({
  page,
  product,
  host,
  context,
  browser,
}) => {
  await host.setUp();
  const channel = await host.link('townfold', 'tf-alderfell');
  const startsAt = soonestStart(product.now() + 5 * HOUR_MS);
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, [channel]));
  const { show: placed } = await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  const early = page.getByRole('dialog', { name: 'Go on air already?' });
  await expect(early).toContainText('in 5 h');
  await expect(early).toContainText(/Public there from \d\d:\d\d/);
  await early.getByRole('button', { name: 'Wait' }).click();
  expect((await host.must<ShowView>('GET', `/api/shows/${show.id}`)).state).toBe('placed');
  await page.getByRole('button', { name: 'Go on air' }).click();
  await early.getByRole('button', { name: 'Go on air now' }).click();
  await expect(lampOf(page, 'Townfold')).toHaveText('warm');
  await page.getByRole('button', { name: 'Wrap up…' }).click();
  const wrap = page.getByRole('dialog', { name: 'Wrap up before it has begun?' });
  await expect(wrap).toContainText('does not take place');
  await wrap.getByRole('button', { name: /take going on air back/ }).click();
  await expect(page.getByRole('button', { name: 'Go on air' })).toBeVisible();
  const after = await host.must<ShowView>('GET', `/api/shows/${show.id}`);
  expect(after).toMatchObject({ state: 'placed', onAirSince: null });
  // The event that stood before stands as it did.
  expect(after.airings[0]).toMatchObject({ placing: 'placed', watchUrl: placed.airings[0]!.watchUrl });
  expect(await (await fetch(`${placed.airings[0]!.watchUrl}/state`)).json()).toMatchObject({ state: 'planned' });

  await test.step('without a camera, in a window of 1280 by 640 and at twice the size, one can go on air', async () => {
    await context.addInitScript(() => {
      const { mediaDevices } = navigator;
      const real = mediaDevices.getUserMedia.bind(mediaDevices);
      mediaDevices.getUserMedia = (wanted) => (wanted?.video ? Promise.reject(new DOMException('Requested device not found', 'NotFoundError')) : real(wanted));
    });
    await page.setViewportSize({ width: 1280, height: 640 });
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    await expect(page.getByRole('button', { name: 'Go on air' })).toBeInViewport({ ratio: 1 });
    await expect(page.getByRole('button', { name: /^Take/ })).toBeInViewport({ ratio: 1 });
    await expect(lampOf(page, 'Townfold')).toBeInViewport({ ratio: 1 });
    // Twice the size in the same window leaves half of its width and height.
    await page.addInitScript(() => Object.defineProperty(window, 'outerWidth', { value: 1280 }));
    await page.setViewportSize({ width: 640, height: 400 });
    await openStage(page, page.url());
    await expect(page.getByRole('button', { name: 'Go on air' })).toBeInViewport({ ratio: 1 });
    await expect(page.getByRole('button', { name: /^Take/ })).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  });

  await test.step('a browser that cannot run a stage is told so where one signs in, and on the sheet', async () => {
    const other = await browser.newContext();
    await other.addInitScript(() => Reflect.deleteProperty(window, 'MediaStreamTrackProcessor'));
    const poor = await other.newPage();
    await poor.goto(product.url);
    await expect(poor.getByText('This browser cannot run a stage')).toBeVisible();
    await poor.getByLabel('Email address').fill(OWNER.email);
    await poor.getByLabel('Password').fill(OWNER.password);
    await poor.getByRole('button', { name: 'Sign in' }).click();
    await expect(poor.getByRole('heading', { name: 'Almanac' })).toBeVisible();
    await poor.goto(`${product.url}/shows/${show.id}`);
    await expect(poor.getByText('This browser cannot run a stage')).toBeVisible();
    await other.close();
  });

  await test.step('at its time it goes on air by itself, from the tab in which that was said, also after a reload', async () => {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.getByRole('button', { name: /^By itself at/ }).click();
    await page
      .getByRole('dialog', { name: 'Go on air by itself?' })
      .getByRole('button', { name: /^By itself at/ })
      .click();
    await expect(page.getByText(/^By itself at \d\d:\d\d GMT · Maren Tolliver$/)).toBeVisible();
    await page.reload();
    await expect(page.getByRole('button', { name: 'Leave it to a press' })).toBeVisible();
    product.travelTo(startsAt + 500);
    await expect(lampOf(page, 'Townfold')).toHaveText('lit', { timeout: 20_000 });
    expect(await host.must<object>('GET', `/api/shows/${show.id}/air`)).toMatchObject({ showState: 'onAir', source: 'stage' });
  });
});

test('what is typed is never lost: a server that is gone, a session that has run out, a page that is left; and what is removed comes back', async ({
  page,
  product,
  host,
  context,
}) => {
  await host.setUp();
  const channel = await host.link('reelmoor', 'rm-alderfell');
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soonestStart(product.now() + 48 * HOUR_MS), [channel]));
  await host.lendTo(context);
  await page.goto(`${product.url}/shows/${show.id}`);
  const title = () => host.must<ShowView>('GET', `/api/shows/${show.id}`).then((each) => each.title);

  await section(page, 'What');
  await expect(page.getByLabel('Title')).toHaveValue('Dusk Report');

  await test.step('a session that has run out', async () => {
    await host.must('DELETE', '/api/sessions');
    await page.getByLabel('Title').fill('Typed after the session was over');
    await expect(page.getByRole('dialog', { name: 'Sign in again' })).toBeVisible();
    await page.getByLabel('Password').fill(OWNER.password);
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await kept(page);
    await host.must('POST', '/api/session', { email: OWNER.email, password: OWNER.password });
    expect(await title()).toBe('Typed after the session was over');
  });

  await test.step('a server that is gone for a while', async () => {
    await product.killServer();
    await page.getByLabel('Title').fill('Typed while nobody heard it');
    await expect(page.getByText('It is tried again by itself')).toBeVisible();
    // Leaving asks; the browser holds a copy.
    await page.getByRole('link', { name: 'Almanac' }).click();
    await expect(page.getByRole('dialog', { name: 'Leave with words that are not kept?' })).toBeVisible();
    await page.getByRole('button', { name: 'Stay on the sheet' }).click();
    await product.startServer();
    await kept(page);
    expect(await title()).toBe('Typed while nobody heard it');
    await product.killServer();
    await page.getByLabel('Title').fill('Typed before the page was closed');
    await expect(page.getByText('It is tried again by itself')).toBeVisible();
    await page.getByRole('link', { name: 'Almanac' }).click();
    await page.getByRole('button', { name: 'Leave', exact: true }).click();
    await product.startServer();
    await page.goto(`${product.url}/shows/${show.id}`);
    await kept(page);
    await expect.poll(title).toBe('Typed before the page was closed');
  });

  await test.step('a show that is removed', async () => {
    await page.getByRole('button', { name: 'Remove the show…' }).click();
    await page.getByRole('button', { name: 'Remove it' }).click();
    await expect(page.getByText('is removed. For a day it can be brought back')).toBeVisible();
    expect((await host.ask('GET', `/api/shows/${show.id}`)).status).toBe(404);
    // Also by whoever has closed the notice, or comes again later.
    await page.goto(`${product.url}/station`);
    await page.getByRole('button', { name: 'Bring it back' }).click();
    await expect(page.getByRole('heading', { name: 'Typed before the page was closed' })).toBeVisible();
  });

  await test.step('the person’s own page: where one is signed in, and another password', async () => {
    await page.goto(`${product.url}/you`);
    await expect(page.getByText('· this one')).toBeVisible();
    await page.getByLabel('Your present password').fill(OWNER.password);
    await page.getByLabel('The new one').fill('alderfellskyclub');
    await page.getByRole('button', { name: 'Change the password' }).click();
    await expect(page.getByText('among the first that anybody would try')).toBeVisible();
    await page.getByLabel('The new one').fill('four words of my own');
    await page.getByRole('button', { name: 'Change the password' }).click();
    await expect(page.getByText('Your password is changed.')).toBeVisible();
    // The other browser is signed out by it.
    expect((await host.ask('GET', '/api/me')).status).toBe(401);
  });
});
