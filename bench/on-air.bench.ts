// What it costs to be on air, and how long pictures take. Prints a table; passes whatever the figures
// are, since machines differ. Aims stand beside the figures.
import type { AirView, ClipView, ShowView } from '@lantern/contract';
import type { Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Host, soonestStart } from '../e2e/support/host';
import { Product } from '../e2e/support/product';
import { lampOf, openStage, test } from '../e2e/support/test';
import ffmpegPackage from '@ffmpeg-installer/ffmpeg';
import { chooseScene, openCameras, pulse, watchStage } from './measured/stage';
import { STAMP, type Pulse } from './measured/stamp';

const table: { what: string; figure: string; aim: string }[] = [];
const note = (what: string, figure: string, aim: string) => table.push({ what, figure, aim });
const median = (all: number[]) => quantile(all, 0.5);
const quantile = (all: number[], part: number) => [...all].sort((a, b) => a - b)[Math.floor((all.length - 1) * part)] ?? NaN;

async function goOnAir(page: Page): Promise<number> {
  const began = Date.now();
  await page.getByRole('button', { name: 'Go on air' }).click();
  await lampOf(page, 'Reelmoor').filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
  return Date.now() - began;
}

for (const [sources, cameras] of [
  ['one camera of 1280×720', 1],
  ['four sources of 640×360', 4],
] as const) {
  test(`drawing: ${sources}`, async ({ page, product, host, context }) => {
    const show = await host.showAtItsStart();
    await host.lendTo(context);
    await watchStage(page);
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    if (cameras > 1) await openCameras(page, cameras);
    await goOnAir(page);
    await page.keyboard.press('Space');
    await page.waitForTimeout(5_000);
    await drawingFor(page, sources, 20);
  });
}

test('drawing: four sources with names, bug and a moving line, during twenty dissolves', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  // Both with names and bug, each coming by a dissolve.
  const seats = ['host', 'guest 1', 'guest 2', 'guest 3'].map((seat) => ({ seat, view: null }));
  const scene = { card: null, seats, straps: true, bug: true, microphones: 'open', comes: 'dissolve' };
  for (const [name, layout] of [
    ['All alike', 'grid'],
    ['One leads', 'lead'],
  ])
    await host.must('POST', '/api/scenes', { ...scene, name, layout });
  await host.lendTo(context);
  await watchStage(page);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await openCameras(page, 4);
  await goOnAir(page);
  await showCrawl(host, page, show.id);
  for (const name of ['All alike', 'One leads']) {
    await chooseScene(page, name);
    await page.keyboard.press('Space');
    await page.waitForTimeout(2_500);
  }
  // Each take goes back to the scene before.
  await drawingFor(page, 'four sources, names, bug, moving line, twenty dissolves', 20, () => page.keyboard.press('Space'));
});

test('drawing: a share of 1280×720 and a camera of 1280×720', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  await host.lendTo(context);
  await watchStage(page);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await goOnAir(page);
  await page.keyboard.press('Space');
  await page.keyboard.press('s');
  await page.getByText('Programme Share with faces').waitFor();
  await page.waitForTimeout(5_000);
  await drawingFor(page, 'a share of 1280×720 and a camera', 20);
});

test('a film of 1280×720 while it plays, and from a press to the first picture', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  const path = join(product.folder, 'film.mp4');
  // White first, so that its first picture is known by its light.
  const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=1280x720:rate=30:duration=24', '-vf', "drawbox=t=fill:color=white:enable='lt(t,0.5)'"];
  execFileSync(process.env.FFMPEG_PATH ?? ffmpegPackage.path, ['-v', 'error', '-y', ...picture, '-preset', 'veryfast', path]);
  // While the film was made here, nobody noticed that the server had closed an idle connection.
  await page.waitForTimeout(500);
  const [clip] = await host.must<ClipView[]>('POST', '/api/clips?name=Film', readFileSync(path));
  while ((await host.must<ClipView[]>('GET', '/api/clips'))[0]!.state === 'making') await page.waitForTimeout(500);
  const clips = Array.from({ length: 7 }, (_, at) => ({ id: `clip ${at}`, from: 'clip', item: clip!.id, cue: null, then: 'back' }));
  const { version } = await host.must<ShowView>('GET', `/api/shows/${show.id}`);
  await host.must('PATCH', `/api/shows/${show.id}`, { base: version, changes: { clips } });
  await host.lendTo(context);
  await watchStage(page);
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await goOnAir(page);
  const waits: number[] = [];
  const takes: number[] = [];
  for (let round = 0; round < 6; round++) {
    await page.waitForTimeout(2_000);
    waits.push(await untilSeen(page, 'p', 'white'));
    await page.waitForTimeout(700);
    await page.keyboard.press('Shift+P');
    await page.waitForTimeout(1_000);
    // The browser's own camera is green, and the holding card is dark.
    takes.push(await untilSeen(page, ' ', 'green'));
    await page.waitForTimeout(600);
    await chooseScene(page, 'Holding card');
    await page.keyboard.press('Space');
  }
  await page.waitForTimeout(1_500);
  await page.keyboard.press('p');
  await page.waitForTimeout(2_000);
  await drawingFor(page, 'a film of 1280×720', 18);
  note(
    'from the press to a clip’s first picture in the programme: median, longest of six',
    `${median(waits).toFixed(0)} ms, ${Math.max(...waits).toFixed(0)} ms`,
    'under 150 ms',
  );
  note(
    'from a take to the first picture of its scene: median, longest of six',
    `${median(takes).toFixed(0)} ms, ${Math.max(...takes).toFixed(0)} ms`,
    'two frames, 67 ms',
  );
});

/** Presses a key and answers after how many ms the programme’s middle is seen as that, by whoever looks at it on the stage. */
async function untilSeen(page: Page, key: string, as: 'white' | 'green'): Promise<number> {
  return page.evaluate(
    async ([pressed, wanted]) => {
      const video = document.querySelector<HTMLVideoElement>('.programme video')!;
      const context = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!;
      const began = performance.now();
      window.dispatchEvent(new KeyboardEvent('keydown', { key: pressed!, bubbles: true }));
      return new Promise<number>((done, failed) => {
        const look = () => {
          context.drawImage(video, video.videoWidth * 0.3, video.videoHeight * 0.3, 8, 8, 0, 0, 1, 1);
          const [red, green] = context.getImageData(0, 0, 1, 1).data as unknown as [number, number];
          if (wanted === 'white' ? red > 200 && green > 200 : green > 100 && red < 90) done(performance.now() - began);
          else if (performance.now() - began > 5_000) failed(new Error(`not seen: ${wanted}`));
          else video.requestVideoFrameCallback(look);
        };
        video.requestVideoFrameCallback(look);
      });
    },
    [key, as],
  );
}

/** Has a moving line be laid over the picture. */
async function showCrawl(host: Host, page: Page, showId: string): Promise<void> {
  const text = 'Vesta’s Lamp goes out at 21:52:09 for eleven seconds; send us your times. '.repeat(8);
  const graphic = { id: 'c', kind: 'crawl', text, more: '', hidesAfterS: null, cue: null, lookedAtFor: null };
  const { version } = await host.must<ShowView>('GET', `/api/shows/${showId}`);
  await host.must('PATCH', `/api/shows/${showId}`, { base: version, changes: { graphics: [graphic] } });
  await page.getByRole('button', { name: /^Show “/ }).waitFor();
  await page.keyboard.press('g');
}

/** Watches the drawing for some seconds; `each`: what is done at the beginning of every one. */
async function drawingFor(page: Page, what: string, seconds: number, each: () => Promise<void> = () => Promise.resolve()): Promise<void> {
  const first = await pulse(page);
  const rates: Pulse[] = [];
  for (let second = 0; second < seconds; second++) {
    await each();
    await page.waitForTimeout(1_000);
    rates.push(await pulse(page));
  }
  const last = rates.at(-1)!;
  const dropped = last.dropped - first.dropped;
  const share = (dropped / (dropped + last.drawn - first.drawn)) * 100;
  note(`frames/s, ${what}, on air`, median(rates.map(({ framesPerSecond }) => framesPerSecond)).toFixed(1), '30');
  note(
    `drawing a frame, ${what}: median, 95th`,
    `${median(rates.map((r) => r.drawMedianMs)).toFixed(1)} ms, ${median(rates.map((r) => r.draw95thMs)).toFixed(1)} ms`,
    'under 33 ms',
  );
  note(`frames dropped, ${what}`, `${share.toFixed(2)} %`, 'at most 1 %');
}

/** A show on air whose pictures carry the moment of their drawing, and where what arrives at the stand-ins is kept. */
async function onAirStamped(page: Page): Promise<{ captureDir: string; host: Host; show: ShowView }> {
  const captureDir = mkdtempSync(join(tmpdir(), 'lantern-capture-'));
  const product = await Product.start({ LANTERN_CAPTURE_DIR: captureDir });
  leftOver.push(product);
  const host = new Host(product);
  const show = await host.showAtItsStart();
  await host.lendTo(page.context());
  await watchStage(page, { stamped: true });
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await goOnAir(page);
  await page.keyboard.press('Space');
  return { captureDir, host, show };
}

test('from drawing to the ingest and to the house page', async ({ page, browser }) => {
  const { captureDir, host, show } = await onAirStamped(page);
  const house = await (await browser.newContext()).newPage();
  await house.goto(show.houseUrl);
  await house.getByLabel('The show').waitFor();
  await house.waitForTimeout(10_000);
  const seen = await stampsSeen(house);
  note(
    'from drawing to the house page’s player: median, 95th; stalls in 300 pictures',
    `${(median(seen.delays) / 1000).toFixed(2)} s, ${(quantile(seen.delays, 0.95) / 1000).toFixed(2)} s; ${seen.stalls}`,
    'median under 3 s; 0',
  );
  await host.must('POST', `/api/shows/${show.id}/wrap`);
  await page.waitForTimeout(1_500);
  const delays = arrivals(captureDir);
  note(
    'from drawing to the stand-ins’ ingest: median, 95th',
    `${(median(delays) / 1000).toFixed(2)} s, ${(quantile(delays, 0.95) / 1000).toFixed(2)} s`,
    'median under 0.5 s',
  );
});

/** How long each of 300 pictures in a page's player took from its stamp, in ms, and how often it stood still meanwhile. */
const stampsSeen = (page: Page) =>
  page.evaluate(async ({ bits, px, top }) => {
    const video = document.querySelector('video')!;
    const canvas = new OffscreenCanvas(bits * px, px);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    const delays: number[] = [];
    let stalls = 0;
    video.addEventListener('waiting', () => (stalls += 1));
    await new Promise<void>((done) => {
      const look = () => {
        context.drawImage(video, 0, top, bits * px, px, 0, 0, bits * px, px);
        const row = context.getImageData(0, px / 2, bits * px, 1).data;
        let time = 0;
        for (let bit = 0; bit < bits; bit++) if (row[(bit * px + px / 2) * 4]! > 127) time += 2 ** bit;
        delays.push(Date.now() - time);
        if (delays.length < 300) video.requestVideoFrameCallback(look);
        else done();
      };
      video.requestVideoFrameCallback(look);
    });
    return { delays, stalls };
  }, STAMP);

test('how late viewers see it: what is measured, and what is so', async ({ page, browser }) => {
  const { captureDir, host, show } = await onAirStamped(page);
  const air = () => host.must<AirView>('GET', `/api/shows/${show.id}/air`);
  // Whoever comes in the first moments begins with the first part, and is less late than all that come later.
  await page.waitForTimeout(40_000);
  const seen = new Map<string, number>();
  for (const { network, watchUrl } of (await air()).airings) {
    const viewer = await (await browser.newContext()).newPage();
    await viewer.goto(watchUrl!);
    await viewer.waitForFunction(() => (document.querySelector('video')?.currentTime ?? 0) > 2, undefined, { timeout: 60_000 });
    await viewer.waitForTimeout(3_000);
    seen.set(network, median((await stampsSeen(viewer)).delays));
    await viewer.context().close();
  }
  let { airings } = await air();
  while (airings.some(({ behind }) => (behind?.at ?? null) === null)) {
    await page.waitForTimeout(2_000);
    ({ airings } = await air());
  }
  await host.must('POST', `/api/shows/${show.id}/wrap`);
  await page.waitForTimeout(1_500);
  const toIngest = median(arrivals(captureDir));
  for (const { network, behind } of airings)
    note(
      `how late ${network} is: measured; from the ingest to its player`,
      `${(behind!.ms / 1000).toFixed(2)} s; ${((seen.get(network)! - toIngest) / 1000).toFixed(2)} s`,
      'within 0.3 s, or half a part',
    );
});

test('from pressing “Go on air” to both channels public', async ({ page, product, host, context }) => {
  await host.setUp();
  const channels = [await host.link('reelmoor', 'rm-alderfell'), await host.link('townfold', 'tf-alderfell')];
  await host.lendTo(context);
  const times: number[] = [];
  for (let round = 0; round < 3; round++) {
    const startsAt = soonestStart(product.now());
    const show = await host.must<ShowView>('POST', '/api/shows', host.draftOf(startsAt, channels));
    await host.must('POST', `/api/shows/${show.id}/place`);
    product.travelTo(startsAt + 2_000);
    await openStage(page, `${product.url}/shows/${show.id}/stage`);
    const began = Date.now();
    await goOnAir(page);
    await lampOf(page, 'Townfold').filter({ hasText: 'lit' }).waitFor();
    times.push(Date.now() - began);
    await host.must('POST', `/api/shows/${show.id}/wrap`);
  }
  note('from “Go on air” to both channels public, of three', times.map((ms) => `${(ms / 1000).toFixed(1)} s`).join(', '), 'under 3 s');
});

test('what each further channel costs', async ({ page, product, host, context }) => {
  const show = await host.showAtItsStart();
  await host.lendTo(context);
  await watchStage(page, { stamped: true });
  await openStage(page, `${product.url}/shows/${show.id}/stage`);
  await openCameras(page, 4);
  await goOnAir(page);
  await page.keyboard.press('Space');
  await page.waitForTimeout(5_000);
  const relays = relayProcesses();
  const before = relays.map(({ pid }) => cpuSeconds(pid));
  const report = async () => (await host.must<{ recordedMs: number }>('GET', `/api/shows/${show.id}/air`)).recordedMs;
  const [fromMs, fromBytes] = [await report(), recordedBytes(product.folder, show.id)];
  const seconds = 20;
  await page.waitForTimeout(seconds * 1000);
  const shares = relays.map(({ pid }, at) => ((cpuSeconds(pid) - before[at]!) / seconds) * 100);
  const kbps = ((recordedBytes(product.folder, show.id) - fromBytes) * 8) / ((await report()) - fromMs);
  note(`a relay’s share of a core, at ${Math.round(kbps)} kbit/s`, shares.map((share) => `${share.toFixed(2)} %`).join(', '), 'at most 3 %');
});

const leftOver: Product[] = [];
test.afterEach(async () => {
  for (const product of leftOver.splice(0)) await product.stop();
});

test.afterAll(() => {
  if (table.length) console.table(table);
});

/** How long each picture took from its stamp to its arrival, over all captured connections. */
function arrivals(folder: string): number[] {
  return readdirSync(folder)
    .filter((name) => name.endsWith('.flv'))
    .flatMap((name) => {
      const at = readFileSync(join(folder, name.replace('.flv', '.csv')), 'utf8')
        .trim()
        .split('\n')
        .map((line) => Number(line.split(',')[1]));
      const strip = execFileSync(
        ffmpegPackage.path,
        ['-v', 'quiet', '-i', join(folder, name), '-an', '-vsync', 'passthrough', '-vf', `crop=${STAMP.bits * STAMP.px}:${STAMP.px}:0:${STAMP.top}`].concat([
          '-pix_fmt',
          'gray',
          '-f',
          'rawvideo',
          'pipe:1',
        ]),
        { maxBuffer: 1 << 30 },
      );
      const size = STAMP.bits * STAMP.px * STAMP.px;
      return Array.from({ length: Math.min(at.length, Math.floor(strip.length / size)) }, (_, frame) => {
        const row = frame * size + (STAMP.px / 2) * STAMP.bits * STAMP.px;
        let drawnAt = 0;
        for (let bit = 0; bit < STAMP.bits; bit++) if (strip[row + bit * STAMP.px + STAMP.px / 2]! > 127) drawnAt += 2 ** bit;
        return at[frame]! - drawnAt;
      }).filter((delay) => delay > 0 && delay < 60_000);
    });
}

function relayProcesses(): { pid: number }[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        const args = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
        return args.includes('-progress') && !args[0]!.endsWith('sh');
      } catch {
        return false;
      }
    })
    .map((pid) => ({ pid: Number(pid) }));
}

/** User and system time of a process, from proc(5); a tick is a hundredth of a second. */
function cpuSeconds(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) / 100;
}

function recordedBytes(folder: string, showId: string): number {
  const recordings = join(folder, 'station', 'recordings', showId);
  return readdirSync(recordings)
    .filter((name) => name.endsWith('.flv'))
    .reduce((sum, name) => sum + readFileSync(join(recordings, name)).length, 0);
}
