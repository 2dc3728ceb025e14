// Draws the programme thirty times a second on its own timer, whether or not the stage's tab is in
// front. Holds no state of the show: what to draw is told, where it stands is core's.
import { instant, layOut, PROGRAMME, staysUntil, type Drawing, type Instant, type SceneContent, type SceneId } from '@lantern/core';
import type { FromCompositor, ToCompositor } from './compositor-messages';
import { LinePicture } from './line-picture';
import { Painter } from './paint';

const FRAME_MS = 1000 / 30;
/** The next scene is only looked at by the host: three pictures a second will do. */
const NEXT_EVERY = 10;

/** What is told to whoever watches the compositor at work. The product watches nothing. */
export interface CompositorWatch {
  /** The programme's next picture has been painted, and is not yet on its way. */
  painted?(context: OffscreenCanvasRenderingContext2D): void;
  drew?(tookMs: number): void;
  /** Pictures that were due and were not made. */
  dropped?(count: number): void;
}

/** A scene as it was last laid out. */
interface LaidOut {
  scene: SceneId;
  content: SceneContent;
  until: number;
  drawings: Drawing[];
}

class Compositor {
  private readonly canvas = new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height);
  private readonly context = this.canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
  private readonly nextContext: OffscreenCanvasRenderingContext2D | null;
  private readonly painter = new Painter(new OffscreenCanvas(8, 8).getContext('2d')!);
  private readonly writer: WritableStreamDefaultWriter<VideoFrame>;
  /** The newest picture of each camera, by place. The host's is the first. */
  private readonly cameras: (VideoFrame | null)[] = [null];
  private readonly readers: (ReadableStreamDefaultReader<VideoFrame> | null)[] = [];
  private readonly line = new LinePicture();
  private content: SceneContent;
  private waitingUrl: string | null = null;
  private onProgramme: SceneId;
  private onNext: SceneId;
  private aheadMs: number;
  private timer = 0;
  private startedAt = 0;
  private frame = 0;
  private drawn = 0;
  /** The programme, and what comes next. */
  private readonly laidOut: (LaidOut | null)[] = [null, null];

  constructor(
    private readonly begin: Extract<ToCompositor, { type: 'begin' }>,
    private readonly watch: CompositorWatch = {},
  ) {
    this.content = begin.content;
    this.onProgramme = begin.onProgramme;
    this.onNext = begin.onNext;
    this.aheadMs = begin.aheadMs;
    this.writer = begin.programme.getWriter();
    this.writer.closed.catch(() => undefined);
    this.nextContext = begin.next?.getContext('2d', { alpha: false }) ?? null;
  }

  async start(): Promise<void> {
    await Promise.all(
      this.begin.fonts.map(async ({ family, weight, url }) => {
        const face = new FontFace(family, `url(${url})`, { weight });
        (self as unknown as { fonts: FontFaceSet }).fonts.add(await face.load());
      }),
    ).catch(() => undefined); // A missing font is no reason not to be on air.
    void this.fetchWaitingPicture(this.content.waitingUrl);
    this.startedAt = performance.now();
    this.tick();
  }

  scenes(onProgramme: SceneId, onNext: SceneId): void {
    this.onProgramme = onProgramme;
    this.onNext = onNext;
  }

  setContent(content: SceneContent, aheadMs: number): void {
    void this.fetchWaitingPicture(content.waitingUrl);
    this.content = content;
    this.aheadMs = aheadMs;
  }

  /** Until it is there, and where it cannot be fetched, the evening sky stands in its place. */
  private async fetchWaitingPicture(url: string | null): Promise<void> {
    if (url === this.waitingUrl) return;
    this.waitingUrl = url;
    const picture =
      url === null
        ? null
        : await fetch(url).then(
            async (answer) => (answer.ok ? createImageBitmap(await answer.blob()) : null),
            () => null,
          );
    if (this.waitingUrl === url) this.painter.setWaitingPicture(picture);
    else picture?.close();
  }

  async readCamera(place: number, frames: ReadableStream<VideoFrame> | null): Promise<void> {
    void this.readers[place]?.cancel().catch(() => undefined);
    this.cameras[place]?.close();
    this.cameras[place] = null;
    const reader = frames?.getReader() ?? null;
    this.readers[place] = reader;
    while (reader && this.readers[place] === reader) {
      const { done, value } = await reader.read().catch(() => ({ done: true, value: undefined }));
      if (done || !value) break;
      this.cameras[place]?.close();
      this.cameras[place] = value;
    }
  }

  takeLine(tag: ArrayBuffer | null): void {
    if (tag) this.line.take(tag, performance.now());
    else this.line.close();
  }

  end(): void {
    clearTimeout(this.timer);
    this.line.close();
    for (const place of this.cameras.keys()) void this.readCamera(place, null);
    void this.writer.close().catch(() => undefined);
  }

  private tick(): void {
    const now = performance.now();
    const due = Math.floor((now - this.startedAt) / FRAME_MS);
    // A timer may fire a little early: the picture that is due next is never drawn twice.
    if (due >= this.frame) {
      if (due > this.frame) this.watch.dropped?.(due - this.frame);
      this.frame = due + 1;
      this.draw(now);
    }
    this.timer = self.setTimeout(() => this.tick(), Math.max(0, Math.ceil(this.startedAt + this.frame * FRAME_MS - performance.now())));
  }

  private draw(now: number): void {
    if ((this.writer.desiredSize ?? 0) <= 0) {
      this.watch.dropped?.(1); // The encoder has not taken the last one yet.
      return;
    }
    const at = instant(Date.now() + this.aheadMs);
    const line = this.line.at(now);
    this.painter.paint(this.context, this.drawings(0, this.onProgramme, at), this.cameras, line);
    this.watch.painted?.(this.context);
    const picture = new VideoFrame(this.canvas, { timestamp: Math.round(now * 1000), alpha: 'discard' });
    this.writer.write(picture).catch(() => picture.close());
    if (this.nextContext && this.drawn % NEXT_EVERY === 0) {
      this.nextContext.setTransform(this.nextContext.canvas.width / PROGRAMME.width, 0, 0, this.nextContext.canvas.height / PROGRAMME.height, 0, 0);
      this.painter.paint(this.nextContext, this.drawings(1, this.onNext, at), this.cameras, line);
    }
    this.drawn++;
    this.watch.drew?.(performance.now() - now);
  }

  /** Laid out anew only where something on it has changed. */
  private drawings(place: number, scene: SceneId, at: Instant): Drawing[] {
    const known = this.laidOut[place];
    if (known && known.scene === scene && known.content === this.content && at < known.until) return known.drawings;
    const { content } = this;
    const drawings = layOut(scene, content, at, this.painter.measure);
    this.laidOut[place] = { scene, content, until: staysUntil(scene, content, at), drawings };
    return drawings;
  }
}

/** Does in a thread of its own what the stage says to it. `watch`: makes whoever watches, for each beginning anew. */
export function runCompositor(watch?: () => CompositorWatch): void {
  let compositor: Compositor | null = null;
  self.onmessage = ({ data }: MessageEvent<ToCompositor>) => {
    switch (data.type) {
      case 'begin':
        compositor?.end();
        compositor = new Compositor(data, watch?.());
        compositor.start().catch((error: Error) => self.postMessage({ type: 'failed', words: error.message } satisfies FromCompositor));
        break;
      case 'camera':
        void compositor?.readCamera(data.place, data.frames);
        break;
      case 'line':
        compositor?.takeLine(data.tag);
        break;
      case 'scenes':
        compositor?.scenes(data.onProgramme, data.onNext);
        break;
      case 'content':
        compositor?.setContent(data.content, data.aheadMs);
        break;
      case 'end':
        compositor?.end();
        compositor = null;
        break;
    }
  };
}
