// Draws the programme thirty times a second on its own timer, whether or not the stage's tab is in
// front. Holds no state of the show: what to draw is told, where it stands is core's.
import {
  CameraWatch,
  DISSOLVE_MS,
  instant,
  JUDGED,
  layOut,
  PROGRAMME,
  staysUntil,
  type Instant,
  type ProgrammeDrawing,
  type Scene,
  type SceneContent,
  type Seat,
} from '@lantern/core';
import { ClipPlayer, type Playing } from './clip-player';
import { loadFonts, type FontFiles } from './fonts';
import type { FromCompositor, StageContent, ToCompositor } from './compositor-messages';
import { Painter, type Picture } from './paint';
import { Sources } from './sources';

const FRAME_MS = 1000 / 30;
/** The next scene is only looked at by the host: three pictures a second will do. */
const NEXT_EVERY = 10;
/** One a second, where it takes longer than this. */
const NEXT_SELDOM = 30;
const NEXT_COSTS_MS = 6;
/** Light and sharpness are looked at once a second. */
const CAMERA_EVERY = 30;
const MADE_TOLD_EVERY_MS = 1_000;

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
  scene: Scene;
  content: SceneContent;
  version: number;
  until: number;
  drawings: ProgrammeDrawing[];
}

const tell = (message: FromCompositor) => self.postMessage(message);

class Compositor {
  private readonly canvas = new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height);
  private readonly context = this.canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
  private readonly nextContext: OffscreenCanvasRenderingContext2D | null;
  private readonly painter: Painter;
  private readonly writer: WritableStreamDefaultWriter<VideoFrame>;
  readonly sources = new Sources((seat, seen) => tell({ type: 'seen', seat, seen }));
  private content: StageContent;
  private readonly waiting: Fetched;
  private readonly logo: Fetched;
  private readonly background: Fetched;
  private readonly sponsors: Fetched[] = [];
  private readonly sponsorPictures: (ImageBitmap | null)[] = [];
  private letters: FontFiles | null = null;
  private waitingPicture: ImageBitmap | null = null;
  private onProgramme: Scene;
  private onNext: Scene;
  private aheadMs: number;
  /** The clip that is next, made ready. */
  private nextClip: ClipPlayer | null = null;
  private readonly camera = new OffscreenCanvas(JUDGED.width, JUDGED.height).getContext('2d', { alpha: false, willReadFrequently: true })!;
  private readonly cameraWatch = new CameraWatch();
  private cameraTold = '';
  private callAt: number | null = null;
  private askedAt: number | null = null;
  private timer = 0;
  private startedAt = 0;
  private paintedAt = 0;
  private nextDueAt = 0;
  private frame = 0;
  private lately = { since: performance.now(), made: 0, missed: 0 };
  private drawn = 0;
  /** The programme, and what comes next. */
  private readonly laidOut: (LaidOut | null)[] = [null, null];
  /** The last picture of the scene before, and since when it goes. */
  private going: { picture: OffscreenCanvas; since: number } | null = null;
  private gone: OffscreenCanvas | null = null;

  constructor(
    private readonly begin: Extract<ToCompositor, { type: 'begin' }>,
    private readonly watch: CompositorWatch = {},
  ) {
    this.content = begin.content;
    this.onProgramme = begin.onProgramme;
    this.onNext = begin.onNext;
    this.aheadMs = begin.aheadMs;
    this.painter = new Painter(new OffscreenCanvas(8, 8).getContext('2d')!, begin.content.palette, begin.content.letters);
    this.waiting = new Fetched((picture) => {
      this.waitingPicture?.close();
      this.waitingPicture = picture;
    });
    this.logo = new Fetched((picture) => this.painter.setLogo(picture));
    this.background = new Fetched((picture) => this.painter.setBackground(picture ?? 'evening'));
    this.writer = begin.programme.getWriter();
    this.writer.closed.catch(() => undefined);
    this.nextContext = begin.next?.getContext('2d', { alpha: false }) ?? null;
  }

  async start(): Promise<void> {
    await this.writeWith(this.begin.content.letters);
    this.fetchPictures();
    this.startedAt = performance.now();
    this.tick();
  }

  scenes(onProgramme: Scene, onNext: Scene): void {
    if (onProgramme.id !== this.onProgramme.id) this.leave(onProgramme.comes);
    if (onNext !== this.onNext) this.nextDueAt = 0;
    this.onProgramme = onProgramme;
    this.onNext = onNext;
  }

  /** What has come already is not told any more; the same moment, asked for again, is still told once. */
  call(at: number | null): void {
    if (at === this.askedAt) return;
    this.askedAt = at;
    this.callAt = at !== null && at > Date.now() + this.aheadMs ? at : null;
  }

  /** Has a clip ready to be played. */
  prepare(clip: Playing | null): void {
    const known = this.nextClip?.clip;
    if (clip && known && known.id === clip.id && known.url === clip.url && known.fromMs === clip.fromMs && known.untilMs === clip.untilMs) return;
    this.nextClip?.close();
    this.nextClip = clip && new ClipPlayer(clip, (told) => tell({ type: 'clip', id: clip.id, told }));
  }

  /** One clip at a time: what was played before ends. */
  play(clip: Playing | null): void {
    this.sources.clip?.close();
    this.sources.clip = null;
    if (!clip) return;
    this.prepare(clip);
    this.sources.clip = this.nextClip;
    this.nextClip = null;
    this.sources.clip?.start();
    // What is ready begins with the very next picture.
    this.sources.clip?.work(performance.now());
  }

  setContent(content: StageContent, aheadMs: number): void {
    this.content = content;
    this.painter.setPalette(content.palette);
    this.aheadMs = aheadMs;
    this.fetchPictures();
    void this.writeWith(content.letters);
  }

  /** Other letters are written once they are there; a missing font is no reason not to be on air. */
  private async writeWith(letters: FontFiles): Promise<void> {
    if (isDeepEqual(letters, this.letters)) return;
    this.letters = letters;
    await loadFonts([letters.display, letters.text], self as unknown as { fonts: FontFaceSet }).catch(() => undefined);
    if (this.letters !== letters) return;
    this.painter.setLetters(letters);
    this.laidOut.fill(null);
  }

  /** Until they are there, and where they cannot be fetched, the evening sky and the lantern stand in their places. */
  private fetchPictures(): void {
    this.waiting.want(this.content.waiting?.url ?? null);
    const { logoUrl, background, sponsorUrls } = this.content;
    this.logo.want(logoUrl);
    this.background.want(typeof background === 'string' ? null : background.url);
    if (typeof background === 'string') this.painter.setBackground(background);
    for (let at = 0; at < Math.max(sponsorUrls.length, this.sponsors.length); at++) this.sponsorAt(at).want(sponsorUrls[at] ?? null);
  }

  private sponsorAt(at: number): Fetched {
    return (this.sponsors[at] ??= new Fetched((picture) => {
      this.sponsorPictures[at]?.close();
      this.sponsorPictures[at] = picture;
    }));
  }

  /** What a source looks like at this moment. */
  private readonly pictureOf = (source: string): Picture | null => {
    if (source === 'waiting picture') return this.waitingPicture;
    if (source.startsWith('sponsor ')) return this.sponsorPictures[Number(source.slice(8))] ?? null;
    return this.sources.at(source as Seat, this.paintedAt);
  };

  /** What goes stands still while it fades: only what comes has to be drawn. */
  private leave(by: Scene['comes']): void {
    if (by === 'cut') {
      this.going = null;
      return;
    }
    const picture = (this.gone ??= new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height));
    picture.getContext('2d', { alpha: false })!.drawImage(this.canvas, 0, 0);
    this.going = { picture, since: performance.now() };
  }

  end(): void {
    clearTimeout(this.timer);
    this.nextClip?.close();
    this.sources.close();
    void this.writer.close().catch(() => undefined);
  }

  private tick(): void {
    const now = performance.now();
    const due = Math.floor((now - this.startedAt) / FRAME_MS);
    if (this.callAt !== null && Date.now() + this.aheadMs >= this.callAt) {
      this.callAt = null;
      tell({ type: 'called' });
    }
    // A timer may fire a little early: the picture that is due next is never drawn twice.
    if (due >= this.frame) {
      if (due > this.frame) this.miss(due - this.frame);
      this.tellMade(now);
      this.frame = due + 1;
      this.draw(now);
    }
    this.timer = self.setTimeout(() => this.tick(), Math.max(0, Math.ceil(this.startedAt + this.frame * FRAME_MS - performance.now())));
  }

  private miss(count: number): void {
    this.lately.missed += count;
    this.watch.dropped?.(count);
  }

  private tellMade(now: number): void {
    if (now - this.lately.since < MADE_TOLD_EVERY_MS) return;
    const { made, missed } = this.lately;
    this.lately = { since: now, made: 0, missed: 0 };
    tell({ type: 'made', made, missed });
  }

  private draw(now: number): void {
    if ((this.writer.desiredSize ?? 0) <= 0) {
      this.miss(1); // The encoder has not taken the last one yet.
      return;
    }
    const at = instant(Date.now() + this.aheadMs);
    this.nextClip?.work(now);
    this.sources.clip?.work(now);
    this.sources.look(now);
    this.paintedAt = now;
    this.painter.paint(this.context, this.drawings(0, this.onProgramme, at), this.pictureOf, at);
    this.dissolve(now);
    this.watch.painted?.(this.context);
    const picture = new VideoFrame(this.canvas, { timestamp: Math.round(now * 1000), alpha: 'discard' });
    this.writer.write(picture).catch(() => picture.close());
    // A dissolve takes all the time that there is: what is next, and the camera's judge, wait for it.
    if (!this.going) {
      this.lookAhead(at);
      if (this.drawn % CAMERA_EVERY === 15) this.judgeCamera(now);
    }
    this.drawn++;
    this.lately.made++;
    this.watch.drew?.(performance.now() - now);
  }

  /** What is next, for the host to look at: less often where drawing it takes time that the programme needs. */
  private lookAhead(at: Instant): void {
    if (!this.nextContext || this.drawn < this.nextDueAt) return;
    const began = performance.now();
    this.nextContext.setTransform(this.nextContext.canvas.width / PROGRAMME.width, 0, 0, this.nextContext.canvas.height / PROGRAMME.height, 0, 0);
    this.painter.paint(this.nextContext, this.drawings(1, this.onNext, at), this.pictureOf, at);
    this.nextDueAt = this.drawn + (performance.now() - began > NEXT_COSTS_MS ? NEXT_SELDOM : NEXT_EVERY);
  }

  /** Of the host’s own camera, as small as it can be judged. */
  private judgeCamera(now: number): void {
    const picture = this.sources.cameraAt('host', now);
    if (picture) this.camera.drawImage(picture, 0, 0, JUDGED.width, JUDGED.height);
    const look = picture && this.cameraWatch.look(this.camera.getImageData(0, 0, JUDGED.width, JUDGED.height).data);
    if (String(look) === this.cameraTold) return;
    this.cameraTold = String(look);
    tell({ type: 'camera', look });
  }

  private dissolve(now: number): void {
    if (!this.going) return;
    const left = 1 - (now - this.going.since) / DISSOLVE_MS;
    if (left <= 0) {
      this.going = null;
      return;
    }
    this.context.globalAlpha = left;
    this.context.drawImage(this.going.picture, 0, 0);
    this.context.globalAlpha = 1;
  }

  /** Laid out anew only where something on it has changed. */
  private drawings(place: number, scene: Scene, at: Instant): ProgrammeDrawing[] {
    const known = this.laidOut[place];
    const { content } = this;
    const { version, shapes } = this.sources;
    if (known && known.scene === scene && known.content === content && known.version === version && at < known.until) return known.drawings;
    // A seat of which no picture comes keeps its place, with its name.
    const seated = Object.fromEntries(
      Object.entries(content.seated).map(([seat, each]) => [seat, { ...each, seen: each.seen && this.sources.isSeen(seat as Seat) }]),
    );
    const drawings = layOut(scene, { ...content, seated }, at, this.painter.measure, shapes);
    this.laidOut[place] = { scene, content, version, until: staysUntil(scene, content, at), drawings };
    return drawings;
  }
}

const isDeepEqual = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);

/** A picture that is fetched once for its address. */
class Fetched {
  private url: string | null = null;

  constructor(private readonly use: (picture: ImageBitmap | null) => void) {}

  want(url: string | null): void {
    if (url === this.url) return;
    this.url = url;
    if (url === null) return this.use(null);
    void fetch(url)
      .then(
        async (answer) => (answer.ok ? await createImageBitmap(await answer.blob()) : null),
        () => null,
      )
      .catch(() => null)
      .then((picture) => {
        if (this.url === url) this.use(picture);
        else picture?.close();
      });
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
        compositor.start().catch((error: Error) => tell({ type: 'failed', words: error.message }));
        break;
      case 'source':
        compositor?.sources.set(data.seat, data.frames);
        break;
      case 'line':
        if (data.tag) compositor?.sources.line.take(data.tag, performance.now());
        else compositor?.sources.line.close();
        break;
      case 'clip':
        compositor?.prepare(data.clip);
        break;
      case 'play':
        compositor?.play(data.clip);
        break;
      case 'scenes':
        compositor?.scenes(data.onProgramme, data.onNext);
        break;
      case 'content':
        compositor?.setContent(data.content, data.aheadMs);
        break;
      case 'call':
        compositor?.call(data.at);
        break;
      case 'end':
        compositor?.end();
        compositor = null;
        break;
    }
  };
}
