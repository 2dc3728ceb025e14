import type { ChannelView, PlaceResult, RevealedEncoderSet, ShowView } from '@lantern/contract';
import { MINUTE_MS } from '@lantern/core';
import sharp from 'sharp';
import { Host, OWNER, soonestStart } from '../support/host';
import { pushTestPicture } from '../support/media';
import { keysOfNetworks } from '../support/secrets';
import { expect, lampOf, openStage, placeOnPage, section, test } from '../support/test';

const DAY_MS = 86_400_000;

test('two accounts on one network and a service typed in; one may not broadcast until its conditions are met', async ({ page, product, host, context }) => {
  await host.setUp();
  await host.lendTo(context);
  await page.goto(`${product.url}/channels`);
  await Host.linkByPages(page, 'Reelmoor', /Alderfell Sky Club/);
  await expect(page.getByRole('listitem').filter({ hasText: 'Alderfell Sky Club' })).toContainText('May broadcast.');

  // The second account of the network may not broadcast: that is the first thing to be seen of it.
  await Host.linkByPages(page, 'Reelmoor', /Junior Dome/);
  await expect(page.getByRole('heading', { name: 'May it broadcast?' })).toBeVisible();
  await expect(page.getByText('Verify a phone number in the account’s settings on Reelmoor')).toBeVisible();
  await page.getByRole('button', { name: 'Ask Reelmoor now' }).click();
  await expect(page.getByText(/Asked for\. Reelmoor allows it from/)).toBeVisible();

  const [junior] = (await host.must<ChannelView[]>('GET', '/api/channels')).filter(({ name }) => name === 'Junior Dome');
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(soonestStart(product.now() + 2 * DAY_MS), [junior!]));
  const refused = await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
  expect(refused.results[0]).toMatchObject({ done: false, words: 'This channel may not broadcast on Reelmoor yet. Its page here says what is missing.' });

  await product.operate('accounts', { account: 'rm-junior', phoneVerified: 'yes' });
  product.travelTo(product.now() + DAY_MS + MINUTE_MS);
  await page.getByRole('button', { name: 'Look again' }).click();
  await expect(page.getByText('Verify a phone number')).toBeHidden();
  await expect(page.getByText(/Asked for/)).toBeHidden();
  expect((await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`)).results).toMatchObject([{ done: true }]);

  // A service by address and key, pasted the way people paste: the key inside the address, then tried.
  const { key } = await host.keyOf(junior!.id);
  await page.goto(`${product.url}/channels`);
  await page.getByRole('button', { name: 'Type in' }).click();
  await page.getByLabel('Your name for it').fill('Village hall screen');
  await page.getByLabel('Address', { exact: true }).fill(`${product.rtmpUrl}/reelmoor/made-UP-key-0001-02`);
  await page.getByRole('button', { name: 'Split it: the key goes to the field below' }).click();
  await expect(page.getByLabel('Key', { exact: true })).toHaveValue('made-UP-key-0001-02');
  await page.getByRole('button', { name: 'Try it' }).click();
  await expect(page.getByText('The service answers, but refuses: This key is not known here.')).toBeVisible();
  await page.getByLabel('Key', { exact: true }).evaluate((field, text) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData('text/plain', text);
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
  }, `${key}\n`);
  await expect(page.getByText('A space or a line break around the key was taken off.')).toBeVisible();
  await page.getByRole('button', { name: 'Try it' }).click();
  await expect(page.getByText('The service answers and takes this key.')).toBeVisible();
  await page.getByRole('button', { name: 'Add the channel' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Village hall screen' })).toContainText('typed in by address and key');
});

test('a key is seen only by whoever asks with the password, for a while, and never while on air', async ({ page, product, host, context }) => {
  test.slow();
  const answers: string[] = [];
  context.on('response', (response) => {
    if (!response.url().startsWith(product.url) || /\/reveal$|\/encoder-sets\//.test(response.url())) return;
    void response.text().then(
      (text) => answers.push(`${response.url()} ${text}`),
      () => undefined,
    );
  });
  const show = await host.showAtItsStart();
  const typedIn = await host.must<ChannelView>('POST', '/api/channels/typed-in', {
    name: 'Village hall',
    address: 'rtmp://localhost:1/hall',
    key: 'typed-in-key-of-the-hall',
  });
  await host.lendTo(context);
  await page.goto(`${product.url}/channels/${typedIn.id}/lines`);
  const line = page.getByRole('article', { name: 'Main line' });
  product.travelTo(product.now() + 6 * MINUTE_MS);
  await line.getByRole('button', { name: 'Show the key' }).click();
  await page.getByLabel('Your password').fill('not-the-password');
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByText('This is not your password. Try again.')).toBeVisible();
  await page.getByLabel('Your password').fill(OWNER.password);
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(line.getByLabel('Key')).toHaveText('typed-in-key-of-the-hall');
  await expect(line.getByRole('button', { name: /Hide it/ })).toBeVisible();
  await expect(line.getByLabel('Key')).toHaveText(/•/, { timeout: 25_000 });
  await line.getByRole('button', { name: 'Copy unseen' }).click();
  await expect(line.getByText('Copied')).toBeVisible();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('typed-in-key-of-the-hall');

  // On air in this browser, nothing is shown, and it says why.
  const stage = await context.newPage();
  await openStage(stage, `${product.url}/shows/${show.id}/stage`);
  await stage.getByRole('button', { name: 'Go on air' }).click();
  await expect(lampOf(stage, 'Reelmoor')).toHaveText('lit');
  await page.bringToFront();
  await line.getByRole('button', { name: 'Show the key' }).click();
  await expect(page.getByText('A stage in this browser is on air, and a key must never come into a picture.')).toBeVisible();
  expect(await page.content()).not.toContain('typed-in-key-of-the-hall');
  await stage.bringToFront();
  await stage.getByRole('button', { name: 'Wrap up…' }).click();
  await stage.getByRole('button', { name: 'Wrap up everywhere' }).click();
  await expect(stage.getByText('Ended on Reelmoor.').first()).toBeVisible();

  await page.goto(`${product.url}/channels/record`);
  await expect(page.getByRole('row').filter({ hasText: 'saw the key of Main line, Village hall' })).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'copied the key of Main line, Village hall' })).toBeVisible();

  // In the whole journey no key or token stands in the database, in a log, in an answer or in the built pages.
  const secrets = ['typed-in-key-of-the-hall', ...keysOfNetworks(product.folder)];
  expect(secrets).toHaveLength(3); // typed in, Reelmoor’s line, Townfold’s gathering
  expect(answers.length).toBeGreaterThan(20);
  for (const secret of secrets) {
    expect(answers.filter((answer) => answer.includes(secret))).toEqual([]);
    expect(product.logs).not.toContain(secret);
    expect(product.filesWith(secret)).toEqual([]);
  }
});

test('a rotated key reaches the coming show, and whoever sends by the old one is named', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  const library = show.airings.find(({ channel }) => channel.network === 'reelmoor')!.channel;
  const before = await host.keyOf(library.id);
  await host.must('PUT', `/api/lines/${before.lineId}`, { name: 'Dome camera', heldBy: 'The encoder in the village hall' });
  await host.lendTo(context);
  await page.goto(`${product.url}/channels/${library.id}/lines`);
  const row = page.getByRole('article', { name: 'Dome camera' });
  await row.getByRole('button', { name: 'Rotate the key…' }).click();
  await expect(page.getByText('Somebody outside uses this line')).toBeVisible();
  await page.getByRole('button', { name: 'Rotate the key', exact: true }).click();
  await expect(page.getByText('Dusk Report follows by itself.')).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'The encoder in the village hall' })).toBeVisible();
  await page.getByRole('button', { name: 'Good' }).click();
  expect(await pushTestPicture(`${product.rtmpUrl}/reelmoor`, before.key, 2)).toContain('This key is not known here');
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
  await page.goto(`${product.url}/channels/${library.id}/lines`);
  await expect(row).toContainText(/last used (now|\d+ (s|min) ago)/);
});

test('two shows on one line are found and told apart by another line', async ({ page, product, host, context }) => {
  await host.setUp();
  const library = await host.link('reelmoor', 'rm-alderfell');
  const first = await host.must<{ id: string }>('POST', `/api/channels/${library.id}/lines`, { name: 'Dome camera' });
  await host.must('POST', `/api/channels/${library.id}/lines`, { name: 'Encoder in the hall' });
  const startsAt = soonestStart(product.now() + DAY_MS);
  const standing = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, [library]));
  await host.must('POST', `/api/shows/${standing.id}/place`);
  const second = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt + 20 * MINUTE_MS, [library], { title: 'Members’ Evening' }));
  await host.lendTo(context);
  await page.goto(`${product.url}/shows/${second.id}`);
  const words = 'Dusk Report and Members’ Evening meet on the line Dome camera of Alderfell Sky Club (Reelmoor).';
  await expect(page.getByText(words).first()).toBeVisible();
  // The summary has it too, and asks nobody.
  await page.getByRole('button', { name: 'Place on 1 channel' }).click();
  const summary = page.getByRole('dialog', { name: 'This goes out' });
  await expect(summary.getByText(words)).toBeVisible();
  await expect(summary.getByRole('button', { name: /^Place/ })).toBeDisabled();
  await summary.getByRole('button', { name: 'Not yet' }).click();
  await page.getByRole('button', { name: 'Use the line “Encoder in the hall”' }).click();
  await expect(page.getByLabel('Line of Alderfell Sky Club')).toHaveValue(/.+/);
  await expect(page.getByText(words)).toHaveCount(0);
  await placeOnPage(page, 'Place on 1 channel');
  await expect(page.getByText(/Placed on Alderfell Sky Club \(/)).toBeVisible();
  const placed = await host.must<ShowView>('GET', `/api/shows/${second.id}`);
  expect(placed.airings[0]!.lineId).not.toBe(first.id);
});

test('access that was withdrawn is noticed and given again, and an announced rule names the shows it touches', async ({ page, product, host, context }) => {
  await host.setUp();
  const pageOfClub = await host.link('townfold', 'tf-alderfell');
  const show = await host.must<ShowView>(
    'POST',
    '/api/shows',
    host.draftOf(soonestStart(product.now() + 8 * DAY_MS), [pageOfClub], { title: 'Occultation of Vesta’s Lamp' }),
  );
  await product.operate('limits', { network: 'townfold', limit: 'title', value: '20', inDays: '3' });
  await host.lendTo(context);
  await page.goto(`${product.url}/channels/${pageOfClub.id}`);
  await page.getByRole('button', { name: 'Look again' }).click();
  await page.getByRole('link', { name: 'Rules' }).click();
  await expect(page.getByText(/From .*: Townfold takes titles of 20 characters\./)).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'Occultation of Vesta’s Lamp' })).toContainText('this one has 27');
  await page.getByRole('link', { name: 'Occultation of Vesta’s Lamp' }).click();
  await expect(page.getByText(/From .*: Townfold takes titles of 20 characters/)).toBeVisible();

  // The channel's page is gone to first: an open sheet looks at what was placed by itself, and would notice before the host asks.
  await page.goto(`${product.url}/channels/${pageOfClub.id}`);
  // Tokens that have run out are renewed without anybody noticing.
  await product.operate('access', { network: 'townfold', becomes: 'stale' });
  expect((await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`)).results).toMatchObject([{ done: true }]);
  await product.operate('access', { network: 'townfold', becomes: 'withdrawn' });
  await page.getByRole('button', { name: 'Look again' }).click();
  await expect(page.getByText('Townfold no longer lets the station act for this account')).toBeVisible();
  await page.getByRole('button', { name: 'Link again on Townfold' }).click();
  await page.getByLabel('Your name on Townfold').fill('maren');
  await page.getByLabel('Password').fill('lantern-light');
  await page.getByRole('button', { name: 'Allow' }).click();
  await page.getByRole('radio', { name: /page on Townfold/ }).check();
  await page.getByRole('button', { name: 'Make it a channel' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'page on Townfold' })).toContainText('May broadcast.');
  expect((await host.must<PlaceResult>('POST', `/api/shows/${show.id}/withdraw`)).results).toMatchObject([{ done: true }]);
});

test('a reply to a consent is good once, and a lost key file asks for its channels to be linked again', async ({ page, product, host, context }) => {
  await host.setUp();
  await host.lendTo(context);
  await page.goto(`${product.url}/channels`);
  const returned = page.waitForRequest((request) => request.url().includes('/api/channels/links/return'));
  await Host.linkByPages(page, 'Guildhand', /organisation on Guildhand/);
  await page.goto((await returned).url());
  await expect(page.getByText('This reply does not belong to a link that you began, or came too late.')).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'organisation on Guildhand' })).toContainText('May broadcast.');

  await product.killServer();
  product.loseKeyFile();
  await product.startServer();
  await page.goto(`${product.url}/channels`);
  await expect(page.getByText('The key file beside the data is lost or was exchanged')).toBeVisible();
  const [channel] = await host.must<ChannelView[]>('GET', '/api/channels');
  expect(channel).toMatchObject({ access: 'unreadable' });
  await page
    .getByRole('link', { name: /Alderfell Sky Club/ })
    .last()
    .click();
  await page.getByRole('button', { name: 'Link again on Guildhand' }).click();
  await page.getByLabel('Your name on Guildhand').fill('maren');
  await page.getByLabel('Password').fill('lantern-light');
  await page.getByRole('button', { name: 'Allow' }).click();
  await page.getByRole('radio', { name: /organisation on Guildhand/ }).check();
  await page.getByRole('button', { name: 'Make it a channel' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'organisation on Guildhand' })).toContainText('May broadcast.');
  expect(await host.must<ChannelView[]>('GET', '/api/channels')).toMatchObject([{ id: channel!.id, access: 'good' }]);
});

test('a show airs on all four networks at once, each by its own rules', async ({ page, product, host, context }) => {
  test.slow();
  await host.setUp();
  const channels = [
    await host.link('reelmoor', 'rm-alderfell'),
    await host.link('townfold', 'tf-alderfell'),
    await host.link('guildhand', 'gh-alderfell'),
    await host.link('pipwire', 'pw-alderfellsky'),
  ];
  const startsAt = Math.ceil((product.now() + 31 * MINUTE_MS) / (15 * MINUTE_MS)) * 15 * MINUTE_MS;
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, channels, { thumbnailAlternative: 'The dome at dusk.' }));
  const picture = await sharp({ create: { width: 1920, height: 1080, channels: 3, background: '#1c4a52' } })
    .png()
    .toBuffer();
  await host.must('PUT', `/api/shows/${show.id}/thumbnail`, picture);
  const placed = await host.must<PlaceResult>('POST', `/api/shows/${show.id}/place`);
  expect(placed.results.map(({ done }) => done)).toEqual([true, true, true, true]);
  expect(Object.fromEntries(placed.show.airings.map(({ channel, placing }) => [channel.network, placing]))).toEqual({
    reelmoor: 'placed',
    townfold: 'placed',
    guildhand: 'placed',
    pipwire: 'awaits air',
  });
  product.travelTo(startsAt + 2_000);
  await host.lendTo(context);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await expect(page.getByText('Begins on Pipwire when you go on air.')).toBeVisible();
  await page.getByRole('button', { name: 'Go on air' }).click();
  for (const network of ['Reelmoor', 'Townfold', 'Guildhand', 'Pipwire']) await expect(lampOf(page, network)).toHaveText('lit', { timeout: 90_000 });
  await page.getByRole('button', { name: 'Wrap up…' }).click();
  await page.getByRole('button', { name: 'Wrap up everywhere' }).click();
  for (const network of ['Reelmoor', 'Townfold', 'Guildhand', 'Pipwire']) await expect(page.getByText(`Ended on ${network}.`).first()).toBeVisible();
});

test('an encoder outside is handed its set, sends straight to the channel, and the show is public', async ({ page, product, host, context }) => {
  await host.setUp();
  const library = await host.link('reelmoor', 'rm-alderfell');
  const startsAt = soonestStart(product.now());
  const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, [library], { title: 'Committee Stream', pictureFrom: 'encoder' }));
  await host.must('POST', `/api/shows/${show.id}/place`);
  await host.lendTo(context);
  await page.goto(`${product.url}/shows/${show.id}`);
  await section(page, 'For the encoder');
  await page.getByRole('button', { name: 'Show the set for Alderfell Sky Club' }).click();
  await expect(page.locator('.set-fields li')).toHaveText([/^Address.*rtmp:/, /^Key/, /^Where to watch.*http/]);
  await page.getByRole('button', { name: 'Copy as one text' }).click();
  await expect(page.getByText('Copied')).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  expect(text).toMatch(/^Committee Stream, on Alderfell Sky Club[^]*1\. Address\nrtmp:[^]*2\. Key[^]*3\. Where to watch\nhttp/);
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as a file' }).click();
  expect((await saved).suggestedFilename()).toBe('encoder-set-committee-stream-alderfell-sky-club.txt');

  const [airing] = (await host.must<ShowView>('GET', `/api/shows/${show.id}`)).airings;
  const { set } = await host.must<RevealedEncoderSet>('POST', `/api/shows/${show.id}/encoder-sets/${airing!.id}`, { purpose: 'show' });
  product.travelTo(startsAt);
  await page.goto(`${product.url}/shows/${show.id}/stage`);
  await page.getByRole('button', { name: 'Go on air' }).click();
  await expect(lampOf(page, 'Reelmoor')).toHaveText('dark');
  const sending = pushTestPicture(set.address.replace('localhost', '127.0.0.1'), set.key, 25);
  await expect(lampOf(page, 'Reelmoor')).toHaveText('lit', { timeout: 30_000 });
  await page.getByRole('button', { name: 'Wrap up…' }).click();
  await page.getByRole('button', { name: 'Wrap up everywhere' }).click();
  await expect(page.getByText('Ended on Reelmoor.').first()).toBeVisible();
  await sending;
});
