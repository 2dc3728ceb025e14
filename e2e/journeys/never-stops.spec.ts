// The programme that never stops: whatever becomes of stage, planning server and air process, viewers see a picture.
import type { AirView, ChannelView, ShowView } from '@lantern/contract';
import type { Page } from '@playwright/test';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { join } from 'node:path';
import { Captures } from '../support/captures';
import { Host, OWNER } from '../support/host';
import { pictures, troublesOf } from '../support/media';
import { Product } from '../support/product';
import { barriers, expect, kept, lampOf, openStage, section, test } from '../support/test';

const captures = new Captures();
/** The grey of a card's sky is under it, that of the camera over it. */
const CARD_IS_DARKER = 65;
const SKY = { x: 900, y: 200, width: 80, height: 80 };
const greyOf = (picture: Buffer) => picture.reduce((sum, byte) => sum + byte, 0) / picture.length;

test.describe.configure({ mode: 'serial' });

/** Brings a tone into the library as a host does, and has it heard over the show’s break card. */
async function withMusic(page: Page, product: Product, show: ShowView): Promise<void> {
  const file = join(product.folder, 'Night walk.mp3');
  spawnSync(process.env.FFMPEG_PATH ?? ffmpegPackage.path, ['-v', 'fatal', '-f', 'lavfi', '-i', 'sine=frequency=330:duration=5', file]);
  await page.goto(`${product.url}/artwork`);
  await page.getByLabel('Add a film or a sound').setInputFiles(file);
  await expect(page.getByRole('group', { name: 'Night walk' })).toContainText('as loud as a show');
  await page.getByRole('button', { name: 'Play and change Night walk' }).click();
  expect(await barriers(page)).toEqual([]);
  await page.goto(`${product.url}/shows/${show.id}`);
  await section(page, 'Camera');
  await page.getByLabel('Music on the break card').selectOption({ label: 'Night walk, 00:05' });
  await expect(page.locator('.keeping-line')).toContainText('Undo the music of the break card');
}

/** A show on air on both channels, its stage in `page`. */
async function onAir(page: Page, music = false): Promise<{ product: Product; host: Host; show: ShowView; air: () => Promise<AirView> }> {
  const product = await Product.start(captures.env);
  const host = new Host(product);
  const show = await host.showAtItsStart();
  await host.lendTo(page.context());
  if (music) await withMusic(page, product, show);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  // The card is made while the show waits for its start.
  await expect.poll(() => readdirSync(join(product.folder, 'station', 'pictures')).filter((name) => /\.break-.*\.flv$/.test(name)).length).toBe(1);
  await page.getByRole('button', { name: 'Go on air' }).click();
  for (const network of ['Reelmoor', 'Townfold']) await expect(lampOf(page, network)).toHaveText('lit');
  return { product, host, show, air: () => host.must<AirView>('GET', `/api/shows/${show.id}/air`) };
}

test('a break, a tab that dies, a line that falls silent: channels keep a picture on the same connection, and the host comes back', async ({
  page,
  context,
}) => {
  let silent = false;
  await page.routeWebSocket(/\/api\/stage\//, (client) => {
    const server = client.connectToServer();
    client.onMessage((message) => silent || server.send(message));
    server.onMessage((message) => silent || client.send(message));
  });
  const { product, host, show, air } = await onAir(page, true);
  const since = Date.now();
  /** From when to when of the recording viewers saw the card, by hand and because the line was gone, in s. */
  const chosen = [0, 0];
  const lost = [0, 0];
  const recordedS = async () => (await air()).recordedMs / 1_000;
  try {
    await test.step('a break by hand, with the time at which it ends, and on again', async () => {
      await page.keyboard.press('b');
      await expect(page.getByText('Viewers see the break card.', { exact: true })).toBeVisible();
      await expect.poll(async () => (await air()).source).toBe('break card');
      await page.getByRole('button', { name: 'in 10 min' }).click();
      await expect(page.getByText(/Viewers see the break card: “Back at \d\d:\d\d .*”/)).toBeVisible();
      chosen[0] = await recordedS();
      await page.waitForTimeout(2_500);
      chosen[1] = await recordedS();
      // Whoever opens the house page in the middle of a break has what its pictures are read with.
      const lives = join(product.folder, 'station', 'live');
      const live = join(lives, readdirSync(lives)[0]!);
      const parts = readdirSync(live).filter((name) => name.endsWith('.ts'));
      const joined = test.info().outputPath('house.ts');
      writeFileSync(
        joined,
        Buffer.concat(
          parts
            .sort()
            .slice(-7, -1)
            .map((name) => readFileSync(join(live, name))),
        ),
      );
      const onHousePage = await pictures(joined, SKY, 4, 10);
      expect(onHousePage.length).toBeGreaterThan(3);
      expect(greyOf(onHousePage.at(-1)!)).toBeLessThan(CARD_IS_DARKER);
      // A silent card is at −90; this one has music, and so has the card that was made anew with the time.
      expect(captures.lastSeenAndHeard().dB).toBeGreaterThan(-30);
      await page.keyboard.press('b');
      await expect.poll(async () => (await air()).source).toBe('stage');
      await expect(page.getByRole('group', { name: 'Break card' })).toBeHidden();
    });
    await test.step('the tab dies and is opened again', async () => {
      await page.keyboard.press('Space');
      await expect.poll(async () => (await air()).programme).toBe('host');
      await page.waitForTimeout(1_500);
      await page.goto('about:blank');
      await expect.poll(async () => (await air()).source).toBe('break card');
      expect((await air()).sourceReason).toBe('silent');
      await page.waitForTimeout(3_000);
      await page.goBack();
      await expect(page.getByText('Programme Welcome')).toBeVisible();
      // Nothing was pressed: the tab is known by its name.
      await expect.poll(async () => (await air()).source, { timeout: 20_000 }).toBe('stage');
    });
    expect(captures.gaps(since).map(({ connections }) => connections)).toEqual([1, 1]);
    // Without the card it would be as long as the tab was away.
    for (const { longestMs } of captures.gaps(since)) expect(longestMs).toBeLessThan(2_500);
    await test.step('the line falls silent', async () => {
      silent = true;
      await expect.poll(async () => (await air()).source).toBe('break card');
      lost[0] = await recordedS();
      await page.waitForTimeout(5_000);
      lost[1] = await recordedS();
      silent = false;
      await expect.poll(async () => (await air()).source, { timeout: 40_000 }).toBe('stage');
    });
    expect(captures.gaps(since).map(({ connections }) => connections)).toEqual([1, 1]);
    for (const { longestMs } of captures.gaps(since)) expect(longestMs).toBeLessThan(4_000);
    for (const { pictures } of captures.connections()) {
      const times = pictures.map(({ dtsMs }) => dtsMs);
      expect(times).toEqual([...times].sort((a, b) => a - b));
    }
    expect(show.airings).toHaveLength(2);
    await test.step('the recording has what the stage did while its line was gone, and the break that was chosen', async () => {
      await host.must('POST', `/api/shows/${show.id}/wrap`);
      await expect.poll(async () => (await host.report(show.id)).recording.state, { timeout: 60_000 }).toBe('ready');
      const file = test.info().outputPath('recording.mp4');
      writeFileSync(file, await (await page.request.get(`${product.url}/api/shows/${show.id}/recording.mp4`)).body());
      // The sky of the card is dark blue; what the camera of this browser shows is green from edge to edge.
      const grey = (await pictures(file, SKY, 4, 600)).map(greyOf);
      const between = ([from, to]: number[]) => grey.slice(Math.ceil(4 * from! + 3), Math.floor(4 * to! - 1));
      expect(between(chosen).length).toBeGreaterThan(0);
      expect(between(lost).length).toBeGreaterThan(8);
      expect(Math.max(...between(chosen))).toBeLessThan(CARD_IS_DARKER);
      expect(Math.min(...between(lost))).toBeGreaterThan(CARD_IS_DARKER);
      // Each part is read with its own parameter sets: nothing in it is broken.
      expect(await troublesOf(file)).toBe('');
    });
    await context.close();
  } finally {
    await product.stop();
  }
});

test('the planning server is killed and started again, then the air process: the show stays on air, and goes on by itself', async ({ page, browser }) => {
  const { product, host, show, air } = await onAir(page);
  try {
    await expect.poll(async () => (await air()).recordedMs).toBeGreaterThan(4_000);
    const viewer = await (await browser.newContext()).newPage();
    await viewer.goto(show.houseUrl);
    const seenMs = () => viewer.getByLabel('The show').evaluate((video: HTMLVideoElement) => video.currentTime * 1_000);
    await expect.poll(seenMs).toBeGreaterThan(500);
    const since = Date.now();
    await product.killServer();
    // The picture goes on, and nobody claims to know how the channels stand.
    await expect(page.getByText(/Not known since/).first()).toBeVisible();
    // Who watches on the house page sees on, long beyond what their browser had fetched.
    const before = await seenMs();
    await expect.poll(seenMs, { timeout: 40_000 }).toBeGreaterThan(before + 10_000);
    await viewer.context().close();
    await page.keyboard.press('Space');
    await product.startServer();
    await expect.poll(async () => (await air()).showState).toBe('onAir');
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
    for (const { longestMs, connections } of captures.gaps(since).slice(-2)) expect([longestMs < 2_500, connections]).toEqual([true, 1]);
    // What was pressed while the planning server was away has been done.
    await expect.poll(async () => (await air()).programme).toBe('host');
    const recorded = (await air()).recordedMs;
    const killedAt = Date.now();
    await product.killAir();
    await expect(page.getByText('The server cannot be reached.')).toBeVisible();
    await product.startAir();
    for (const network of ['Reelmoor', 'Townfold']) await expect(lampOf(page, network)).toHaveText('lit', { timeout: 60_000 });
    const again = captures.connections().filter(({ pictures }) => pictures.some(({ at }) => at > killedAt));
    expect(again.length).toBeGreaterThanOrEqual(2);
    await expect.poll(async () => (await air()).source, { timeout: 30_000 }).toBe('stage');
    await expect.poll(async () => (await air()).recordedMs, { timeout: 30_000 }).toBeGreaterThan(recorded + 2_000);
    // Wrapped up while one network is silent, and the planning server killed before it has answered.
    await product.setFault('townfold', 'down');
    await host.must('POST', `/api/shows/${show.id}/wrap`);
    await product.killServer();
    await product.setFault('townfold', 'none');
    await product.startServer();
    await expect
      .poll(async () => (await host.report(show.id)).airings.map(({ endWords }) => endWords).join(' '), { timeout: 60_000 })
      .toContain('Ended on Townfold');
    await expect.poll(async () => (await host.report(show.id)).recording.state, { timeout: 60_000 }).toBe('ready');
    expect((await host.report(show.id)).recording.lengthMs).toBeGreaterThan(recorded);
  } finally {
    await product.stop();
  }
});

test('an encoder in a hall sends once and is on every channel; when it falls silent viewers see the card', async ({ page }) => {
  const product = await Product.start(captures.env);
  const host = new Host(product);
  const encoders: ChildProcess[] = [];
  try {
    const planned = await host.showAtItsStart();
    await host.lendTo(page.context());
    await page.goto(`${product.url}/channels`);
    await page.getByRole('link', { name: 'Outside lines' }).click();
    await page.getByRole('button', { name: 'Add an outside line' }).click();
    await page.getByLabel('Name').fill('Hall camera');
    await page.getByRole('button', { name: 'Add it' }).click();
    const line = page.getByRole('article', { name: 'Hall camera' });
    await expect(line.getByText('Nothing at this moment.')).toBeVisible();
    await line.getByRole('button', { name: 'Show the key' }).click();
    await page.getByLabel('Your password').fill(OWNER.password);
    await page.getByRole('dialog').getByRole('button', { name: 'Go on' }).click();
    await expect(line.getByLabel('Key')).not.toHaveText(/•/);
    const key = await line.getByLabel('Key').innerText();
    const address = await line.locator('code').first().innerText();
    encoders.push(encoder(address, key));
    await expect(line.getByText(/1280×720, .* a key frame every 1\.0 s, AAC/)).toBeVisible();
    // The show of the evening is told where its picture comes from.
    await page.goto(`${product.url}/shows/${planned.id}`);
    await section(page, 'Camera');
    await page.getByRole('radio', { name: /From an outside line/ }).check();
    await expect(page.getByLabel('Which line')).toHaveValue(/./);
    await kept(page);
    await page.goto(`${product.url}/shows/${planned.id}/stage`);
    await expect(page.getByText('It comes in already. Go on air, and it goes out everywhere.')).toBeVisible();
    await page.getByRole('button', { name: 'Go on air' }).click();
    for (const network of ['Reelmoor', 'Townfold']) await expect(lampOf(page, network)).toHaveText('lit');
    await expect(page.getByText('It goes out on every channel and on the house page.')).toBeVisible();
    const air = () => host.must<AirView>('GET', `/api/shows/${planned.id}/air`);
    encoders.pop()!.kill('SIGKILL');
    await expect.poll(async () => (await air()).source).toBe('break card');
    await expect(lampOf(page, 'Reelmoor')).toHaveText('lit');
    encoders.push(encoder(address, key));
    await expect.poll(async () => (await air()).source, { timeout: 20_000 }).toMatch(/^line:/);
    const connections = captures.gaps().slice(-2);
    expect(connections.map((each) => each.connections)).toEqual([1, 1]);
    await host.must('POST', `/api/shows/${planned.id}/wrap`);
    await expect.poll(async () => (await host.report(planned.id)).recording.state, { timeout: 60_000 }).toBe('ready');

    await test.step('a meeting comes in on the same line, stands on the stage of another show, and sees it in a window without its own sound', async () => {
      encoders.pop()!.kill('SIGKILL');
      encoders.push(encoder(address, key, 'color=c=0xc02040:s=640x360:r=25'));
      const show = await host.placedAtItsStart(await host.must<ChannelView[]>('GET', '/api/channels'));
      await openStage(page, `${product.url}/shows/${show.id}/stage`);
      await page.getByRole('button', { name: 'Bring it to the stage' }).click();
      await page.getByRole('group', { name: 'What comes next' }).getByRole('button', { name: 'Outside line', exact: true }).click();
      await page.keyboard.press('m');
      await page.getByRole('button', { name: 'Go on air' }).click();
      for (const network of ['Reelmoor', 'Townfold']) await expect(lampOf(page, network)).toHaveText('lit');
      await page.keyboard.press('Space');
      await expect.poll(() => captures.lastSeenAndHeard(), { timeout: 20_000 }).toMatchObject({ red: expect.closeTo(192, -2), green: expect.closeTo(32, -2) });
      // Seen, it is heard too: the tone of the line, while the host’s own microphone is off.
      await expect.poll(() => captures.lastSeenAndHeard().dB).toBeGreaterThan(-40);
      await expect(page.getByText(/^−\d+\.\d LUFS ·/)).toBeVisible();
      await page.getByRole('checkbox', { name: 'Heard by viewers' }).uncheck();
      await expect.poll(() => captures.lastSeenAndHeard().dB).toBeLessThan(-60);
      await expect(page.getByText('No sound', { exact: true })).toBeVisible();
      await page.getByRole('checkbox', { name: 'Heard by viewers' }).check();
      const [popup] = await Promise.all([page.waitForEvent('popup'), page.getByRole('button', { name: 'Programme window' }).click()]);
      const seen = popup.getByLabel('Programme', { exact: true });
      await expect.poll(() => seen.evaluate((video: HTMLVideoElement) => [video.videoWidth, video.paused])).toEqual([1280, false]);
      const loudest = await seen.evaluate(async (video: HTMLVideoElement) => {
        const context = new AudioContext();
        const analyser = context.createAnalyser();
        context.createMediaStreamSource(video.srcObject as MediaStream).connect(analyser);
        await new Promise((next) => setTimeout(next, 1_500));
        const block = new Float32Array(analyser.fftSize);
        analyser.getFloatTimeDomainData(block);
        return [context.state, Math.max(...block.map(Math.abs))];
      });
      expect(loudest).toEqual(['running', expect.closeTo(0, 3)]);
      await page.keyboard.press('b');
      await expect(popup.getByText('A short break')).toBeVisible();
      // A reload finds the line where it stood, and goes on with it.
      await page.reload();
      await expect(page.getByRole('button', { name: 'Take it off the stage' })).toBeVisible();
      await expect(page.getByRole('group', { name: 'Break card' })).toBeVisible();
      await page.keyboard.press('b');
      await expect.poll(async () => (await host.must<AirView>('GET', `/api/shows/${show.id}/air`)).source).toBe('stage');
      await expect.poll(() => captures.lastSeenAndHeard().red, { timeout: 20_000 }).toBeGreaterThan(150);
      expect(popup.isClosed()).toBe(true);
    });
  } finally {
    for (const child of encoders) child.kill('SIGKILL');
    await product.stop();
  }
});

function encoder(address: string, key: string, picture = 'testsrc=s=1280x720:r=30'): ChildProcess {
  const source = ['-re', '-f', 'lavfi', '-i', picture, '-f', 'lavfi', '-i', 'sine=sample_rate=48000'];
  const made = ['-c:v', 'libx264', '-preset', 'ultrafast', '-tune', 'zerolatency', '-pix_fmt', 'yuv420p', '-g', '30', '-b:v', '1500k', '-c:a', 'aac'];
  return spawn(
    process.env.FFMPEG_PATH ?? ffmpegPackage.path,
    ['-v', 'error', ...source, ...made, '-f', 'flv', `${address.replace('localhost', '127.0.0.1')}/${key}`],
    { stdio: 'ignore' },
  );
}
