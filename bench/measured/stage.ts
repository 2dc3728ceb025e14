// Puts the watched compositor in place of the product's own, in one page of a bench.
import type { Page } from '@playwright/test';
import { join } from 'node:path';
import type { Pulse } from './stamp';

let built: Promise<string> | undefined;

async function buildWorker(): Promise<string> {
  const { build } = await import('vite');
  const result = (await build({
    configFile: false,
    logLevel: 'warn',
    resolve: { alias: { '@lantern/core': join(__dirname, '../../core/src/index.ts') } },
    build: { write: false, target: 'es2022', lib: { entry: join(__dirname, 'compositor.worker.ts'), formats: ['es'], fileName: 'worker' } },
  })) as unknown as { output: { code: string }[] }[];
  return result[0]!.output[0]!.code;
}

/** Has the next stage in this page watched. `stamped`: each picture says when it was drawn. */
export async function watchStage(page: Page, { stamped = false } = {}): Promise<void> {
  const code = await (built ??= buildWorker());
  await page.route(/compositor\.worker.*\.js/, (route) => route.fulfill({ contentType: 'text/javascript', body: `const STAMPED = ${stamped};\n${code}` }));
  await page.addInitScript(() => {
    interface Content {
      seated: Record<string, unknown>;
    }
    const known = window as unknown as { compositor: Worker; pulse: unknown; opened: MediaStream[]; guests: Record<string, unknown>; content: Content };
    known.opened = [];
    known.guests = {};
    const Own = window.Worker;
    window.Worker = class extends Own {
      constructor(url: string | URL, options?: WorkerOptions) {
        super(url, options);
        if (!String(url).includes('compositor')) return;
        known.compositor = this;
        const post = this.postMessage.bind(this) as (message: { content?: Content }, transfer: Transferable[]) => void;
        // Whoever is brought in by the bench has a seat as anybody else has.
        this.postMessage = ((message: { content?: Content }, transfer: Transferable[] = []) => {
          if (message.content) {
            known.content = message.content;
            message = { ...message, content: { ...message.content, seated: { ...message.content.seated, ...known.guests } } };
          }
          post(message, transfer);
        }) as Worker['postMessage'];
        this.addEventListener('message', ({ data }: MessageEvent<{ type: string }>) => {
          if (data.type === 'pulse') known.pulse = data;
        });
      }
    };
    const devices = navigator.mediaDevices;
    const open = devices.getUserMedia.bind(devices);
    devices.getUserMedia = async (wanted) => {
      const stream = await open(wanted);
      known.opened.push(stream);
      return stream;
    };
  });
}

export async function pulse(page: Page): Promise<Pulse> {
  return page.evaluate(() => (window as unknown as { pulse: Pulse }).pulse);
}

/** The host and as many guests as make `count`, each with a picture of the size in which it is drawn, seen together from the next take on. */
export async function openCameras(page: Page, count: number): Promise<void> {
  await page.evaluate(async (cameras) => {
    const { compositor, opened, guests, content } = window as unknown as {
      compositor: Worker;
      opened: MediaStream[];
      guests: Record<string, unknown>;
      content: { seated: Record<string, unknown> };
    };
    // A device that is open in two sizes is scaled for each, which guests' pictures are not.
    for (const track of opened.flatMap((stream) => stream.getVideoTracks())) track.stop();
    for (let place = 0; place < cameras; place++) {
      const stream = await navigator.mediaDevices.getUserMedia({ video: { width: { exact: 640 }, height: { exact: 360 }, frameRate: 30 } });
      const frames = new MediaStreamTrackProcessor<VideoFrame>({ track: stream.getVideoTracks()[0]!, maxBufferSize: 1 }).readable;
      const seat = place ? `guest ${place}` : 'host';
      if (place) guests[seat] = { name: `Guest ${place} of the bench`, caption: 'Alderfell Sky Club', seen: true };
      compositor.postMessage({ type: 'source', seat, frames }, [frames]);
    }
    compositor.postMessage({ type: 'content', content, aheadMs: 0 });
  }, count);
  await chooseScene(page, 'Talking together');
}

/** Has a scene stand next. */
export async function chooseScene(page: Page, name: string): Promise<void> {
  await page.getByRole('group', { name: 'What comes next' }).getByRole('button', { name, exact: true }).click();
}
