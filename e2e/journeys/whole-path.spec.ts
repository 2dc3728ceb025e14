import { COUNTDOWN_PLACE, instant, sayTime, wallTimeOf } from '@lantern/core';
import type { Locator } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { OWNER, soonestStart, ZONE } from '../support/host';
import { difference, download, meanVolumeDb, pictures, probe } from '../support/media';
import { barriers, enlarge, expect, lampOf, openStage, placeOnPage, test } from '../support/test';

const TITLE_BOX = { x: 64, y: 160, width: 620, height: 90 };
const HOST_STRAP_BOX = { x: 64, y: 556, width: 300, height: 100 };

test('a show is planned, placed on two channels, aired, watched and wrapped up', async ({ page, product, browser }) => {
  // A first run asks for a station and its owner.
  await page.goto(product.url);
  await page.getByLabel('Code').fill('somebody-guessed');
  await page.getByLabel('Name of the station').fill(OWNER.stationName);
  await page.getByLabel('Your name').fill(OWNER.name);
  await page.getByLabel('Email address').fill(OWNER.email);
  await page.getByLabel('Password').fill(OWNER.password);
  // The zone is the browser's, and shown; the station is opened by whoever reads the code where the server was started.
  await expect(page.getByLabel('Zone')).toHaveValue('Europe/Dublin');
  await page.getByRole('button', { name: 'Open the station' }).click();
  await expect(page.getByText('This is not the code.')).toBeVisible();
  await page.getByLabel('Code').fill(product.setUpCode);
  await page.getByRole('button', { name: 'Open the station' }).click();

  await test.step('link two channels by the networks’ own consent pages', async () => {
    for (const [network, choose] of [
      ['Reelmoor', 'Alderfell Sky Club'],
      ['Townfold', 'Alderfell Sky Club page'],
    ] as const) {
      await page.getByRole('button', { name: `Link an account on ${network}` }).click();
      await page.getByLabel(`Your name on ${network}`).fill('maren');
      await page.getByLabel('Password').fill('lantern-light');
      await page.getByRole('button', { name: 'Allow' }).click();
      await expect(page.getByRole('heading', { name: `Who speaks on ${network}?` })).toBeVisible();
      await page.getByRole('radio', { name: choose }).first().check();
      await page.getByRole('button', { name: 'Make it a channel' }).click();
      await expect(page.getByRole('heading', { name: 'Channels' })).toBeVisible();
    }
    await expect(page.getByText('page on Townfold')).toBeVisible();
  });

  const startsAt = soonestStart(product.now());
  await test.step('draft, with objections as one types and a fix beside them', async () => {
    await page.getByRole('link', { name: 'Almanac' }).click();
    await page.getByRole('button', { name: /New show/ }).click();
    await page.getByLabel('What is it called?').fill('Dusk');
    await page.getByRole('button', { name: 'Begin the sheet' }).click();
    const wall = wallTimeOf(instant(startsAt), ZONE);
    await page.getByLabel('Date', { exact: true }).fill(wall.date);
    await page.getByLabel('Time', { exact: true }).fill(wall.time);
    await page.getByLabel('Zone').selectOption(ZONE);
    await page.getByLabel('Minutes').fill('40');
    await page.getByLabel('Text').fill('What to look for tonight from the fell.');
    await page.getByRole('checkbox', { name: /library channel on Reelmoor/ }).check();
    await page.getByRole('checkbox', { name: /page on Townfold/ }).check();
    await page.getByLabel('Title').fill('Dusk Report '.repeat(11));
    await expect(page.getByText('Reelmoor takes titles of 100 characters')).toBeVisible();
    await expect(page.getByText('Townfold takes titles of 120 characters')).toBeVisible();
    await page.getByRole('button', { name: 'Shorten the title here to fit' }).first().click();
    await expect(page.getByText('Reelmoor takes titles')).toBeHidden();
    await expect(page.getByText('Townfold takes titles of 120 characters')).toBeVisible();
    const library = await enlarge(page, /Reelmoor/);
    await library.getByRole('button', { name: 'Return to the common text' }).click();
    await page.getByLabel('Title').fill('Dusk Report');
    const picture = await sharp({ create: { width: 1920, height: 1080, channels: 3, background: '#1c4a52' } })
      .png()
      .toBuffer();
    await page.getByLabel('Picture of the show').setInputFiles({ name: 'dusk.png', mimeType: 'image/png', buffer: picture });
  });

  await test.step('place it, and get its links', async () => {
    await placeOnPage(page, 'Place on 2 channels');
    await expect(page.getByText(/Placed on Alderfell Sky Club \((Reelmoor|Townfold)\)\./)).toHaveCount(2);
    await expect(page.getByText('Read back: “Dusk Report”')).toHaveCount(2);
    await expect(page.getByRole('button', { name: 'Links', exact: true })).toHaveAttribute('aria-expanded', 'true');
    await page.getByRole('button', { name: /Copy the link to House page/ }).click();
    expect(await page.evaluate(() => navigator.clipboard.readText())).toContain(`${product.url}/s/`);
  });
  const links = await page.locator('.link-line a').evaluateAll((all) => all.map((each) => (each as HTMLAnchorElement).href));
  expect(links).toHaveLength(4);
  const [houseUrl, ...others] = links as [string, string, string, string];
  const watchUrls = others.slice(0, 2); // the last is the station's own page
  const showId = new URL(page.url()).pathname.split('/')[2]!;

  // The public waits: no sign-in, a countdown, on the house page and on the network's.
  const outside = await browser.newContext();
  const house = await outside.newPage();
  await house.goto(houseUrl);
  await expect(house.getByText('Begins in')).toBeVisible();
  const there = await outside.newPage();
  await there.goto(watchUrls[0]!);
  await expect(there.getByRole('heading', { name: 'Dusk Report' })).toBeVisible();
  await expect(there.getByText('Starts in')).toBeVisible();

  // A slow machine takes a while to open the stage, and twelve seconds of the holding card are looked at below.
  product.travelTo(startsAt - 45_000);
  await test.step('go on air with the holding card before the start', async () => {
    await openStage(page, `${product.url}/shows/${showId}/stage`);
    await expect(page.getByText('Microphones are shut on this scene')).toBeVisible();
    await page.getByRole('button', { name: 'Go on air' }).click();
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
    await expect(lampOf(page, 'Townfold')).toHaveText('warm');
    const desk = await page.context().newPage();
    await desk.goto(`${product.url}/shows/${showId}/notes`);
    for (const words of ['Good evening', 'from the dome']) {
      await desk.getByLabel('What is said', { exact: true }).fill(words);
      await desk.keyboard.press('Enter');
      await expect(desk.getByRole('button', { name: `Take out (${words})` })).toBeVisible();
    }
    await desk.close();
    await expect(page.getByText(`Townfold makes it public by itself at ${sayTime(instant(startsAt), ZONE)}`)).toBeVisible();
    // Measured by what is played there: the countdown is another picture each second.
    await expect(page.locator('[data-network=Reelmoor]')).toContainText(/Seen \d+ s late\./, { timeout: 60_000 });
    await expect(lampOf(page, 'Townfold')).toHaveText('lit', { timeout: 90_000 });
  });

  await test.step('the house page plays without a reload', async () => {
    const player = house.getByLabel('The show');
    await expect(player).toBeVisible();
    await expect.poll(() => player.evaluate((video: HTMLVideoElement) => video.currentTime)).toBeGreaterThan(3);
    expect(await player.evaluate((video: HTMLVideoElement) => video.videoWidth)).toBe(1280);
    await expect(there.getByText('Live now')).toBeVisible();
    await expect(there.getByText(/^[1-9]\d* watching$/)).toBeVisible();
  });

  await test.step('take to the host by keyboard; frames keep coming while another tab is in front', async () => {
    await page.bringToFront();
    await page.keyboard.press('Space');
    await expect(page.getByText('Microphone open')).toBeVisible();
    await house.bringToFront();
    const air = async () => (await (await page.request.get(`${product.url}/api/shows/${showId}/air`)).json()) as { recordedMs: number; programme: string };
    const before = await air();
    expect(before.programme).toBe('host');
    await expect.poll(async () => (await air()).recordedMs - before.recordedMs).toBeGreaterThan(6_000);
    // The network reports a picture only while pictures, not just sound, arrive.
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
    await page.bringToFront();
  });

  await test.step('wrap up asks once and ends every airing', async () => {
    await page.getByRole('button', { name: 'Wrap up…' }).click();
    await page.getByRole('button', { name: 'Stay on air' }).click();
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
    await page.getByRole('button', { name: 'Wrap up…' }).click();
    await page.getByRole('button', { name: 'Wrap up everywhere' }).click();
    await expect(page.getByText('Ended on Reelmoor.').first()).toBeVisible();
    await expect(page.getByText('Ended on Townfold.').first()).toBeVisible();
    await expect(house.getByText('This show is over.')).toBeVisible();
    await expect(there.getByText('This show is over.')).toBeVisible();
  });

  await test.step('the recording plays and seeks', async () => {
    const recording = page.getByLabel('The recording');
    await expect(recording).toBeVisible();
    await expect.poll(() => recording.evaluate((video: HTMLVideoElement) => video.duration)).toBeGreaterThan(20);
    await recording.evaluate((video: HTMLVideoElement) => {
      video.muted = true;
      video.currentTime = video.duration / 2;
      return video.play();
    });
    await expect.poll(() => recording.evaluate((video: HTMLVideoElement) => video.currentTime / video.duration)).toBeGreaterThan(0.55);
  });

  await test.step('what arrived at each network is a real programme', async () => {
    const arrived = async (network: string) => {
      const watchUrl = watchUrls.find((each) => each.includes(network));
      const file = await download(`${watchUrl}/live.m3u8`, test.info().outputPath(`${network}.ts`));
      return { file, facts: file ? await probe(file) : null };
    };
    for (const network of ['reelmoor', 'townfold']) {
      // The rest of the network's delay has to pass before its last parts may be seen.
      await expect.poll(async () => (await arrived(network)).facts?.durationS ?? 0, { timeout: 90_000 }).toBeGreaterThan(5);
      const { facts } = await arrived(network);
      expect(facts!.video).toEqual({ codec: 'h264', width: 1280, height: 720 });
      expect(facts!.audio).toEqual({ codec: 'aac' });
    }
    const library = (await arrived('reelmoor')).file!;
    const countdown = await pictures(library, COUNTDOWN_PLACE, 1, 12);
    const title = await pictures(library, TITLE_BOX, 1, 12);
    expect(countdown.length).toBeGreaterThanOrEqual(11);
    // In its first seconds an encoder is still finding its quality.
    const change = (all: Buffer[]) => all.slice(4).map((picture, at) => difference(all[at + 3]!, picture));
    // On a machine that stalls now and then a second may be missed, but the countdown runs and the title stands.
    expect(change(countdown).filter((amount) => amount > 1).length).toBeGreaterThanOrEqual(6);
    expect(change(title).filter((amount) => amount >= 1.5)).toEqual([]);
  });

  await test.step('the report tells length, peak and time lit', async () => {
    const file = await page.request.get(`${product.url}/api/shows/${showId}/recording.mp4`);
    const recorded = test.info().outputPath('recording.mp4');
    writeFileSync(recorded, await file.body());
    const { durationS } = await probe(recorded);
    const strap = await pictures(recorded, HOST_STRAP_BOX, 1, durationS);
    expect(difference(strap[2]!, strap.at(-3)!), 'the strap of the host scene').toBeGreaterThan(5);
    expect(await meanVolumeDb(recorded, 2, 6), 'sound on the holding card').toBeLessThan(-70);
    expect(await meanVolumeDb(recorded, durationS - 7, 6), 'sound on the host scene').toBeGreaterThan(-50);
    const row = page.getByRole('region', { name: 'On each channel' }).getByRole('row', { name: /Reelmoor/ });
    await expect(row).toContainText(/\d+ s/);
    await expect(page.getByText('Most watching at once')).toBeVisible();
  });

  await test.step('the recording is cut as suggested, with a chapter and captions, and takes its place where people watch', async () => {
    await page.getByRole('link', { name: 'Cut it, with chapters and captions' }).click();
    await page.getByRole('button', { name: 'Begin as suggested' }).click();
    const from = page.getByRole('textbox', { name: 'Begin of part 1' });
    await expect(from).toHaveValue(/^\d+:\d\d\.\d\d$/);
    await expect(from).not.toHaveValue('0:00.00');
    expect(await barriers(page)).toEqual([]);
    await page.getByRole('button', { name: 'Chapters', exact: true }).click();
    await page.getByRole('button', { name: 'Begin one at 00:00' }).click();
    await page.getByLabel('Name at 00:00').fill('From the dome');
    await page.getByLabel('Name at 00:00').press('Enter');
    await page.getByRole('button', { name: 'Captions', exact: true }).click();
    await expect(page.getByText('While it was on, 2 lines were written down.')).toBeVisible();
    const file = { name: 'evening.vtt', mimeType: 'text/vtt' };
    await page.getByLabel('Read a file').setInputFiles({ ...file, buffer: Buffer.from('WEBVTT\n\n00:00:00.000 --> 00:59:00.000\nGood evening\n\nnothing\n') });
    await expect(page.getByText('Line 6: This is no caption: it has no times. Nothing was changed.')).toBeVisible();
    await page.getByRole('button', { name: 'Take what can be read' }).click();
    await expect(page.getByLabel('Words at 00:00', { exact: true })).toHaveValue('Good evening');
    await page.getByRole('button', { name: 'Make and show' }).click();
    /** Presses it, and kills the server as soon as it has taken that. */
    const pressAndKill = async (button: string, path: RegExp) => {
      const taken = page.waitForResponse((response) => path.test(response.url()) && response.request().method() !== 'GET');
      await page.getByRole('button', { name: button }).click();
      expect((await taken).ok()).toBe(true);
      await product.killServer();
      await product.startServer();
    };
    await pressAndKill('Make the cut', /\/make$/);
    const cut = page.getByLabel('The cut “The evening”');
    await expect(cut).toBeVisible({ timeout: 30_000 });
    const lengthOf = (video: Locator) => video.evaluate((element: HTMLVideoElement) => element.duration);
    await expect.poll(() => lengthOf(cut)).toBeGreaterThan(3);
    expect(await lengthOf(cut)).toBeLessThan((await lengthOf(page.getByLabel('The recording', { exact: true }))) - 1);
    await page.getByRole('button', { name: 'Show it on the house page' }).click();
    const replay = house.getByLabel('The recording of the show');
    await expect.poll(async () => Math.abs((await lengthOf(replay)) - (await lengthOf(cut)))).toBeLessThan(0.2);
    await expect(replay.locator('track[kind=captions]')).toHaveAttribute('srclang', 'en');
    await pressAndKill('Show “The evening” there', /\/replays\//);
    await expect(page.getByText('shows “The evening”')).toBeVisible({ timeout: 30_000 });
    await there.reload();
    const film = there.locator('video');
    await expect.poll(async () => Math.abs((await lengthOf(film)) - (await lengthOf(cut)))).toBeLessThan(0.2);
    await page.setViewportSize({ width: 390, height: 844 });
    expect(await barriers(page)).toEqual([]);
    await page.setViewportSize({ width: 1280, height: 800 });
  });

  await test.step('those who missed it are thanked with it', async () => {
    const invited = { data: { name: 'Ada Fenn', email: 'ada@people.example' }, headers: { origin: product.url } };
    expect((await page.request.post(`${product.url}/api/shows/${showId}/invitations`, invited)).ok()).toBe(true);
    await page.getByRole('link', { name: 'Report' }).click();
    await page.getByRole('button', { name: 'Thank them' }).click();
    await page.getByRole('button', { name: 'Send to 1' }).click();
    await page.getByRole('button', { name: 'Send', exact: true }).click();
    await expect(page.getByText('all thanked')).toBeVisible();
    await page.getByRole('link', { name: 'outbox' }).click();
    await expect(page.getByText('To see in your own time')).toBeVisible();
    await page.goBack();
  });

  await test.step('what was learnt stands on the sheet of the next date', async () => {
    await page.getByLabel('What to do otherwise, or again').fill('Let the dome stand longer');
    await page.getByRole('button', { name: 'Note it' }).click();
    await expect(page.getByRole('button', { name: 'Take out (Let the dome stand longer)' })).toBeVisible();
    await page.getByRole('link', { name: 'Show sheet' }).click();
    await page.getByRole('button', { name: 'Do it again next time' }).click();
    await page.getByText('From earlier dates: 1 note').click();
    await expect(page.getByText('Let the dome stand longer')).toBeVisible();
  });

  await test.step('it is taken away from the channels; of one that is silent nothing is said to be gone until it is', async () => {
    await page.goto(`${product.url}/shows/${showId}/report`);
    await page.getByRole('button', { name: 'What of this show stands where…' }).click();
    const place = (name: string) => page.getByRole('region', { name: 'What of this show stands where' }).getByRole('row').filter({ hasText: name });
    await expect(place('Townfold')).toContainText('stands');
    await product.setFault('townfold', 'down');
    await page.getByRole('button', { name: 'Take it away…' }).click();
    await page.getByRole('button', { name: 'Take away', exact: true }).click();
    await expect(place('Reelmoor')).toContainText('gone');
    await expect(place('Townfold')).toContainText('is being taken away');
    await expect(place('Townfold')).toContainText('asked again by itself');
    expect(await barriers(page)).toEqual([]);
    await product.setFault('townfold', 'none');
    product.travelTo(product.now() + 2 * 60_000);
    await expect(place('Townfold')).toContainText('Its recording still stands there');
  });

  const keys = /"(streamKey|pass_phrase|access_token)"/;
  expect(product.logs).not.toMatch(keys);
  await outside.close();
});
