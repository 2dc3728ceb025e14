// Guests: how late their pictures and voices are, what each costs the stage, and whether anybody hears themselves. The guests' browsers run on the same cores, and
// take most of them: so that the stage is measured and not they, each sends fifteen pictures a second.
import { RETURN_PICTURE } from '@lantern/contract';
import { test, type Browser, type Page } from '@playwright/test';
import { readdirSync, readFileSync } from 'node:fs';
import { guestInRoom, onBench } from '../e2e/support/guest';
import { Host } from '../e2e/support/host';
import { Product } from '../e2e/support/product';
import { lampOf, openStage } from '../e2e/support/test';
import { pulse, watchStage } from './measured/stage';

const table: { what: string; figure: string; aim: string }[] = [];
const note = (what: string, figure: string, aim: string) => table.push({ what, figure, aim });
const quantile = (all: number[], part: number) => [...all].sort((a, b) => a - b)[Math.floor((all.length - 1) * part)] ?? NaN;
const median = (all: number[]) => quantile(all, 0.5);

/** Instead of a camera and a microphone: a picture that is dark or light, and a tone that is there or not, both when they are told to be. */
function instrument(hz: number): void {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [640, 360];
  const context = canvas.getContext('2d', { alpha: false })!;
  let shade = '#000';
  let moves = 0;
  setInterval(() => {
    context.fillStyle = shade;
    context.fillRect(0, 0, 640, 360);
    // Something moves, or nothing would be sent.
    context.fillStyle = '#777';
    context.fillRect((moves = (moves + 7) % 620), 340, 20, 20);
  }, 66);
  let level: GainNode | null = null;
  const own = window as unknown as { flash: (light: boolean) => number; sound: (on: boolean) => number };
  own.flash = (light) => {
    shade = light ? '#fff' : '#000';
    return Date.now();
  };
  own.sound = (on) => {
    if (level) level.gain.value = on ? 0.3 : 0;
    return Date.now();
  };
  navigator.mediaDevices.getUserMedia = ({ video, audio } = {}) => {
    const stream = new MediaStream(video ? canvas.captureStream(15).getVideoTracks() : []);
    if (audio) {
      const sound = new AudioContext();
      const tone = sound.createOscillator();
      level = sound.createGain();
      level.gain.value = 0.3;
      const out = sound.createMediaStreamDestination();
      tone.frequency.value = hz;
      tone.connect(level).connect(out);
      tone.start();
      stream.addTrack(out.stream.getAudioTracks()[0]!);
    }
    return Promise.resolve(stream);
  };
}

/** When a picture has turned light, or dark, by the clock of this machine. */
const turned = (page: Page, what: string, part: { x: number; y: number }, light: boolean): Promise<number> =>
  page.evaluate(
    ({ what: selector, part: at, light: wanted }) =>
      new Promise<number>((seen) => {
        const element = document.querySelector(selector) as HTMLVideoElement;
        const canvas = document.createElement('canvas');
        [canvas.width, canvas.height] = [1, 1];
        const context = canvas.getContext('2d', { willReadFrequently: true })!;
        const look = () => {
          const [w, h] = element.videoWidth
            ? [element.videoWidth, element.videoHeight]
            : [(element as unknown as HTMLCanvasElement).width, (element as unknown as HTMLCanvasElement).height];
          context.drawImage(element, at.x * w!, at.y * h!, 4, 4, 0, 0, 1, 1);
          if (context.getImageData(0, 0, 1, 1).data[1]! > 128 === wanted) seen(Date.now());
          else setTimeout(look, 4);
        };
        look();
      }),
    { what, part, light },
  );

/** Listens to what an element plays: when it became loud, and how strong a tone is in it, in dB. */
function ear(): void {
  const own = window as unknown as { loud: () => Promise<number>; tones: (all: number[]) => Promise<number[]> };
  let analyser: AnalyserNode | null = null;
  const hearing = (): AnalyserNode => {
    if (analyser) return analyser;
    const context = new AudioContext({ sampleRate: 48_000 });
    const stream = (document.querySelector('audio') as HTMLAudioElement).srcObject as MediaStream;
    analyser = context.createAnalyser();
    analyser.fftSize = 16_384;
    analyser.smoothingTimeConstant = 0;
    context.createMediaStreamSource(stream).connect(analyser);
    return analyser;
  };
  const short = new Float32Array(480);
  // By a context of its own each time: what waits in one that is older is no part of the way.
  own.loud = async () => {
    const context = new AudioContext();
    const node = context.createAnalyser();
    node.fftSize = 1024;
    context.createMediaStreamSource((document.querySelector('audio') as HTMLAudioElement).srcObject as MediaStream).connect(node);
    await new Promise((next) => setTimeout(next, 300));
    for (;;) {
      node.getFloatTimeDomainData(short);
      if (Math.max(...short.map(Math.abs)) > 0.02) break;
      await new Promise((next) => setTimeout(next, 4));
    }
    const at = Date.now();
    await context.close();
    return at;
  };
  own.tones = async (all) => {
    const node = hearing();
    await new Promise((next) => setTimeout(next, 1_500));
    const block = new Float32Array(node.fftSize);
    node.getFloatTimeDomainData(block);
    // Goertzel, with a Hann window.
    return all.map((hz) => {
      const turn = 2 * Math.cos((2 * Math.PI * hz) / 48_000);
      let [one, two] = [0, 0];
      block.forEach((sample, at) => {
        const windowed = sample * 0.5 * (1 - Math.cos((2 * Math.PI * at) / (block.length - 1)));
        [one, two] = [windowed + turn * one - two, one];
      });
      return 10 * Math.log10((one * one + two * two - turn * one * two) / block.length ** 2 + 1e-15);
    });
  };
}

const HZ = [500, 700, 1_100, 1_300];
const NAMES = ['Juno Hartsel', 'Tomasz Wren', 'Oriel Vance', 'Sister Calder'];

async function guests(browser: Browser, host: Host, showId: string, from: number, to: number): Promise<Page[]> {
  const pages: Page[] = [];
  for (let at = from; at < to; at++) {
    pages.push(
      await guestInRoom(browser, host, showId, NAMES[at]!, async (context) => {
        await context.addInitScript(instrument, HZ[at]!);
        await context.addInitScript(ear);
      }),
    );
  }
  return pages;
}

const flash = (page: Page, light: boolean) => page.evaluate((on) => (window as unknown as { flash: (light: boolean) => number }).flash(on), light);
const sound = (page: Page, on: boolean) => page.evaluate((yes) => (window as unknown as { sound: (on: boolean) => number }).sound(yes), on);
const PROGRAMME = '.programme video';
/** Of a guest beside a drawn host, and of three guests with the host in a grid. */
const RIGHT_OF_TWO = { x: 0.75, y: 0.4 };

test('guests on the stage', async ({ browser }) => {
  test.setTimeout(600_000);
  const product = await Product.start();
  try {
    const host = new Host(product);
    const show = await host.showAtItsStart();
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, permissions: ['camera', 'microphone'] });
    await host.lendTo(context);
    await context.addInitScript(() => localStorage.setItem('lantern-devices', JSON.stringify({ cameraId: 'drawn', microphoneId: '' })));
    const stage = await context.newPage();
    stage.on('dialog', (dialog) => void dialog.accept());
    const sent = { programme: 0, returns: 0 };
    stage.on('websocket', (socket) =>
      socket.on('framesent', ({ payload }) => {
        if (typeof payload === 'string') return;
        sent[payload.readUInt32BE(0) === RETURN_PICTURE ? 'returns' : 'programme'] += payload.length;
      }),
    );
    await watchStage(stage);
    await openStage(stage, `${product.url}/shows/${show.id}/stage`);
    await stage.getByRole('button', { name: 'Go on air' }).click();
    await lampOf(stage, 'Reelmoor').filter({ hasText: 'lit' }).waitFor({ timeout: 60_000 });
    await stage.getByRole('button', { name: 'Talking together' }).click();
    await stage.keyboard.press('Space');

    // The one that works: whatever else there is waits.
    const before = new Map(renderers().map((pid) => [pid, cpuOf(pid)]));
    await stage.waitForTimeout(3_000);
    const [drawer] = renderers().sort((a, b) => cpuOf(b) - (before.get(b) ?? 0) - cpuOf(a) + (before.get(a) ?? 0));
    const measure = async (what: string, seconds: number) => {
      await stage.waitForTimeout(4_000);
      const [first, cpu, bytes] = [await pulse(stage), cpuOf(drawer!), { ...sent }];
      await stage.waitForTimeout(seconds * 1_000);
      const last = await pulse(stage);
      const dropped = ((last.dropped - first.dropped) / (last.dropped - first.dropped + last.drawn - first.drawn)) * 100;
      const core = ((cpuOf(drawer!) - cpu) / seconds) * 100;
      const kbps = { programme: ((sent.programme - bytes.programme) * 8) / 1_000 / seconds, returns: ((sent.returns - bytes.returns) * 8) / 1_000 / seconds };
      note(
        `frames/s, ${what}`,
        `${last.framesPerSecond.toFixed(1)}, ${dropped.toFixed(2)} % dropped, ${last.drawMedianMs.toFixed(1)} ms a picture`,
        '30, at most 2 %',
      );
      return { core, kbps };
    };
    const one = await guests(browser, host, show.id, 0, 1);
    await onBench(stage, NAMES[0]!).filter({ hasText: 'waits' }).waitFor();
    await stage.keyboard.press('1');
    await onBench(stage, NAMES[0]!).filter({ hasText: 'on air' }).waitFor();
    const withOne = await measure('one guest', 15);
    const toProgramme: number[] = [];
    const toReturn: number[] = [];
    for (let at = 0; at < 20; at++) {
      const light = at % 2 === 0;
      const seen = turned(stage, PROGRAMME, RIGHT_OF_TWO, light);
      const back = turned(one[0]!, '.return canvas', RIGHT_OF_TWO, light);
      const began = await flash(one[0]!, light);
      toProgramme.push((await seen) - began);
      toReturn.push((await back) - (await seen));
      await stage.waitForTimeout(400 + 50 * (at % 5));
    }
    note('a guest’s picture → programme: median, 95th', `${median(toProgramme)} ms, ${quantile(toProgramme, 0.95)} ms`, 'median under 350 ms');
    note('programme → a guest’s return picture: median, 95th', `${median(toReturn)} ms, ${quantile(toReturn, 0.95)} ms`, 'median under 300 ms');

    const second = await guests(browser, host, show.id, 1, 2);
    await onBench(stage, NAMES[1]!).filter({ hasText: 'waits' }).waitFor();
    await stage.keyboard.press('2');
    await onBench(stage, NAMES[1]!).filter({ hasText: 'on air' }).waitFor();
    await stage.waitForTimeout(4_000);
    for (const page of [...one, ...second]) await sound(page, false);
    await stage.getByRole('button', { name: /^Mute me/ }).click();
    await stage.waitForTimeout(1_500);
    const toEar: number[] = [];
    for (let at = 0; at < 10; at++) {
      const hears = second[0]!.evaluate(() => (window as unknown as { loud: () => Promise<number> }).loud());
      await stage.waitForTimeout(800);
      const began = await sound(one[0]!, true);
      toEar.push((await hears) - began);
      await sound(one[0]!, false);
      await stage.waitForTimeout(900);
    }
    note('a guest’s voice → another guest’s ear: median, longest of 10', `${median(toEar)} ms, ${Math.max(...toEar)} ms`, 'median under 250 ms');

    const third = await guests(browser, host, show.id, 2, 3);
    await onBench(stage, NAMES[2]!).filter({ hasText: 'waits' }).waitFor();
    await stage.keyboard.press('3');
    await onBench(stage, NAMES[2]!).filter({ hasText: 'on air' }).waitFor();
    const all = [...one, ...second, ...third];
    const withThree = await measure('three guests of 640×360, 15 a second', 20);

    for (const page of all) await sound(page, true);
    const heard: number[] = [];
    for (const [at, page] of all.entries()) {
      const tones = await page.evaluate((hz) => (window as unknown as { tones: (all: number[]) => Promise<number[]> }).tones(hz), HZ.slice(0, 3));
      heard.push(Math.min(...tones.filter((_, other) => other !== at)) - tones[at]!);
    }
    note('own voice in one’s own return, below the others’ (three guests)', heard.map((db) => `${db.toFixed(0)} dB`).join(', '), 'at least 40 dB');
    const began = Date.now();
    await stage.reload({ waitUntil: 'commit' });
    await stage.waitForFunction(
      () =>
        Array.from(document.querySelectorAll<HTMLVideoElement>('.bench-figure video')).filter((video) => video.videoWidth > 0 && video.currentTime > 0)
          .length === 3,
      undefined,
      { polling: 50, timeout: 60_000 },
    );
    note('the stage loaded anew: three guests seen on the bench after', `${((Date.now() - began) / 1_000).toFixed(1)} s`, 'under 4 s');
    await onBench(stage, NAMES[2]!).filter({ hasText: 'on air' }).waitFor();
    await guests(browser, host, show.id, 3, 4);
    await onBench(stage, NAMES[3]!).filter({ hasText: 'waits' }).waitFor();
    await stage.keyboard.press('4');
    await onBench(stage, NAMES[3]!).filter({ hasText: 'on air' }).waitFor();
    const withFour = await measure('four guests', 15);
    note(
      'the stage’s browser, of a core: one guest, three, four',
      [withOne, withThree, withFour].map(({ core }) => `${core.toFixed(0)} %`).join(', '),
      'a further guest: as little as can be',
    );
    note(
      'the stage’s uplink for guests’ pictures: one guest, four',
      `${withOne.kbps.returns.toFixed(0)} kbit/s, ${withFour.kbps.returns.toFixed(0)} kbit/s`,
      'within 10 %',
    );
  } finally {
    await product.stop();
  }
});

/** The processes that draw pages at this moment (a page of another context has one of its own). */
const renderers = (): number[] =>
  readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('--type=renderer');
      } catch {
        return false;
      }
    })
    .map(Number);

/** User and system time of a process, in seconds (proc(5)); one that is gone used none. */
function cpuOf(pid: number): number {
  try {
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
    return (Number(fields[11]) + Number(fields[12])) / 100;
  } catch {
    return 0;
  }
}

test.afterAll(() => console.table(table));
