// Paints a drawing list on a canvas. What stands where is decided in core; what a source looks like at this moment is asked of whoever paints.
import { addGrain, initialsOf, isDark, mixed, PROGRAMME, type Box, type Drawing, type Measure, type Palette, type TypeFace, type View } from '@lantern/core';
import { create } from 'qrcode';
import type { FontFiles } from './fonts';

/** Amber stands for what is public; a card is only ever seen by the public. */
const LIT = '#f5ac3d';
const MEASURED_TEXTS = 400;
/** A moving line is written in pieces as wide as this. */
const PIECE_PX = 1_024;

export type Context = OffscreenCanvasRenderingContext2D;
export type Picture = VideoFrame | ImageBitmap | OffscreenCanvas;

export class Painter {
  private readonly widths = new Map<string, number>();
  private sky: { ground: string; picture: OffscreenCanvas } | null = null;
  private background: 'evening' | 'colour' | OffscreenCanvas = 'evening';
  private logo: ImageBitmap | null = null;
  private coded: { of: string; picture: OffscreenCanvas } | null = null;
  private line: { of: string; width: number; pieces: Map<number, OffscreenCanvas> } | null = null;

  constructor(
    private readonly ruler: Context,
    private palette: Palette,
    private letters: FontFiles,
  ) {}

  /** As CSS says it. */
  private font(sizePx: number, face: TypeFace): string {
    const { weight, family } = this.letters[face];
    return `${weight} ${sizePx}px "${family}", "Atkinson Hyperlegible Next", sans-serif`;
  }

  /** Measured once per text: the same lines come round thirty times a second. */
  readonly measure: Measure = (text, sizePx, face) => {
    const key = `${face}${sizePx}${text}`;
    let width = this.widths.get(key);
    if (width === undefined) {
      this.ruler.font = this.font(sizePx, face);
      width = this.ruler.measureText(text).width;
      if (this.widths.size > MEASURED_TEXTS) this.widths.clear();
      this.widths.set(key, width);
    }
    return width;
  };

  setPalette(palette: Palette): void {
    this.palette = palette;
  }

  /** Writes with other letters, which must have been loaded. What was measured is measured anew. */
  setLetters(letters: FontFiles): void {
    this.letters = letters;
    this.widths.clear();
    this.line = null;
  }

  /** What lies behind cards and people. A picture is brought to the programme's size once. */
  setBackground(background: 'evening' | 'colour' | ImageBitmap): void {
    if (typeof background === 'string') {
      this.background = background;
      return;
    }
    const picture = new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height);
    const context = picture.getContext('2d', { alpha: false })!;
    context.imageSmoothingQuality = 'high';
    drawFilling(context, background, { x: 0, y: 0, ...PROGRAMME }, null);
    background.close();
    this.background = picture;
  }

  /** The look's mark; null: the lantern. */
  setLogo(picture: ImageBitmap | null): void {
    this.logo?.close();
    this.logo = picture;
  }

  /** Draws in programme pixels; `pictureOf` gives what a source looks like now, or null; `now` in ms by the server's clock. */
  paint(context: Context, drawings: readonly Drawing[], pictureOf: (source: string) => Picture | null, now: number): void {
    for (const drawing of drawings) this.one(context, drawing, pictureOf, now);
  }

  private one(context: Context, drawing: Drawing, pictureOf: (source: string) => Picture | null, now: number): void {
    switch (drawing.kind) {
      case 'picture': {
        if (drawing.of === 'background') {
          this.behind(context, drawing);
          break;
        }
        const picture = pictureOf(drawing.of);
        // A mark that has not come leaves its paper empty; any other place has the evening in it.
        if (!picture && drawing.of.startsWith('sponsor ')) break;
        if (!picture) drawFilling(context, this.eveningSky(), drawing, null);
        else if (drawing.fit === 'whole' && !drawing.view) drawWhole(context, picture, drawing);
        else drawFilling(context, picture, drawing, drawing.view);
        break;
      }
      case 'plate':
        context.globalAlpha = drawing.opacity;
        context.fillStyle = drawing.colour;
        if (drawing.radius) {
          context.beginPath();
          context.roundRect(drawing.x, drawing.y, drawing.width, drawing.height, drawing.radius);
          context.fill();
        } else context.fillRect(drawing.x, drawing.y, drawing.width, drawing.height);
        context.globalAlpha = 1;
        break;
      case 'shade': {
        const { x, y, width, height } = drawing;
        const shade = drawing.towards === 'left' ? context.createLinearGradient(x + width, 0, x, 0) : context.createLinearGradient(0, y, 0, y + height);
        shade.addColorStop(0, `${drawing.colour}00`);
        shade.addColorStop(1, drawing.colour);
        context.globalAlpha = drawing.opacity;
        context.fillStyle = shade;
        context.fillRect(x, y, width, height);
        context.globalAlpha = 1;
        break;
      }
      case 'portrait':
        this.initials(context, drawing, drawing.name, drawing.ring);
        break;
      case 'mark':
        if (this.logo) drawWhole(context, this.logo, drawing);
        else drawLantern(context, drawing.x, drawing.y, drawing.height, drawing.colour);
        break;
      case 'code':
        this.code(context, drawing);
        break;
      case 'crawl':
        this.crawl(context, drawing, now);
        break;
      case 'text':
        context.font = this.font(drawing.sizePx, drawing.face);
        context.textAlign = 'left';
        context.textBaseline = 'alphabetic';
        context.fillStyle = drawing.colour;
        context.fillText(drawing.text, drawing.x, drawing.y);
        break;
    }
  }

  /** Painted once for what it says, dark on light whatever the look: telephones read nothing else for sure. */
  private code(context: OffscreenCanvasRenderingContext2D, { of, x, y, width, height }: Extract<Drawing, { kind: 'code' }>): void {
    if (this.coded?.of !== of) this.coded = { of, picture: codePicture(of) };
    context.imageSmoothingEnabled = false;
    context.drawImage(this.coded.picture, x, y, width, height);
    context.imageSmoothingEnabled = true;
  }

  /** Written once, in pieces, and then only moved. */
  private crawl(context: Context, drawing: Extract<Drawing, { kind: 'crawl' }>, now: number): void {
    const { text, sizePx, face, colour, since, pxPerS, x, y, width, height } = drawing;
    // Programme and what is next may show the same line, each from a list of its own.
    const of = `${text}${sizePx}${colour}${height}`;
    if (this.line?.of !== of) this.line = { of, width: this.measure(text, sizePx, face), pieces: new Map() };
    const { pieces, width: across } = this.line;
    // From the right edge through to the left, and again.
    const gone = (((now - since) / 1_000) * pxPerS) % (across + width);
    for (let piece = Math.max(0, Math.floor((gone - width) / PIECE_PX)); piece * PIECE_PX < Math.min(gone, across); piece++) {
      let picture = pieces.get(piece);
      if (!picture) {
        picture = new OffscreenCanvas(PIECE_PX, height);
        const written = picture.getContext('2d')!;
        written.font = this.font(sizePx, face);
        written.textBaseline = 'middle';
        written.fillStyle = colour;
        written.fillText(text, -piece * PIECE_PX, height / 2 + 1);
        // Two are ever seen at once: those that have gone by are not kept.
        if (pieces.size > 3) pieces.clear();
        pieces.set(piece, picture);
      }
      const left = Math.round(width - gone + piece * PIECE_PX);
      const [from, to] = [Math.max(0, -left), Math.min(PIECE_PX, width - left)];
      if (to > from) context.drawImage(picture, from, 0, to - from, height, x + left + from, y, to - from, height);
    }
  }

  private initials(context: Context, { x, y, width }: Box, name: string, ring: string): void {
    const middle = { x: x + width / 2, y: y + width / 2 };
    for (const [radius, colour] of [
      [width / 2, ring],
      [width * 0.47, this.palette.accent],
    ] as const) {
      context.fillStyle = colour;
      context.beginPath();
      context.arc(middle.x, middle.y, radius, 0, 7);
      context.fill();
    }
    context.font = this.font(width * 0.38, 'display');
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    context.fillStyle = this.palette.ground;
    context.fillText(initialsOf(name), middle.x, middle.y + width * 0.02);
  }

  private behind(context: Context, area: Extract<Drawing, { kind: 'picture' }>): void {
    const { x, y, width, height, shape } = area;
    const round = shape === 'ellipse';
    if (round) {
      context.save();
      context.beginPath();
      context.ellipse(x + width / 2, y + height / 2, width / 2, height / 2, 0, 0, 7);
      context.clip();
    }
    if (this.background === 'colour') {
      // Plain colour still lets a disc be seen against the ground.
      context.fillStyle = round ? this.palette.accent : this.palette.ground;
      context.fillRect(x, y, width, height);
    } else drawFilling(context, this.background === 'evening' ? this.eveningSky() : this.background, area, null);
    if (round) context.restore();
  }

  /** The station's evening, in the ground colour of its look: drawn once. */
  private eveningSky(): OffscreenCanvas {
    const { ground } = this.palette;
    if (this.sky?.ground === ground) return this.sky.picture;
    const picture = new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height);
    paintSky(picture.getContext('2d', { alpha: false })!, ground);
    this.sky = { ground, picture };
    return picture;
  }
}

function paintSky(context: Context, ground: string): void {
  const { width, height } = PROGRAMME;
  const dark = isDark(ground);
  const [top, low] = dark ? [mixed(ground, '#000000', 0.12), mixed(ground, '#57a7a3', 0.42)] : [ground, mixed(ground, '#57a7a3', 0.3)];
  const sky = context.createLinearGradient(0, 0, 0, height);
  sky.addColorStop(0, top);
  sky.addColorStop(0.7, mixed(top, low, 0.6));
  sky.addColorStop(1, low);
  context.fillStyle = sky;
  context.fillRect(0, 0, width, height);
  // Between the few bytes of a dark sky edges would be seen.
  const drawn = context.getImageData(0, 0, width, height);
  addGrain(drawn.data, 4);
  context.putImageData(drawn, 0, 0);
  context.fillStyle = '#e9efe6';
  for (let star = 0; dark && star < 90; star++) {
    context.globalAlpha = 0.25 + ((star * 37) % 60) / 100;
    context.beginPath();
    context.arc((star * 397) % width, ((star * 211) % 1000) * 0.36, 0.8 + ((star * 13) % 10) / 8, 0, 7);
    context.fill();
  }
  context.globalAlpha = 1;
  hill(context, mixed(ground, '#57a7a3', dark ? 0.2 : 0.45), 690, 46, 3.1);
  hill(context, mixed(ground, dark ? '#000000' : '#57a7a3', dark ? 0.1 : 0.6), 706, 30, 5.3);
}

function hill(context: Context, colour: string, base: number, rise: number, waves: number): void {
  const { width, height } = PROGRAMME;
  context.fillStyle = colour;
  context.beginPath();
  context.moveTo(0, height);
  for (let x = 0; x <= width; x += 16) context.lineTo(x, base - rise * Math.sin((x / width) * waves + waves) ** 2);
  context.lineTo(width, height);
  context.fill();
}

/** Width and height of a picture in pixels. */
export const sizeOf = (picture: Picture): { width: number; height: number } =>
  'displayWidth' in picture ? { width: picture.displayWidth, height: picture.displayHeight } : picture;

/** Fills the box with the picture's middle, or with the part of it that was chosen, cutting what does not fit its shape. */
function drawFilling(context: Context, picture: Picture, area: Box, view: View | null): void {
  const size = sizeOf(picture);
  const scale = Math.max(area.width / size.width, area.height / size.height) * (view?.zoom ?? 1);
  const [width, height] = [area.width / scale, area.height / scale];
  const within = (middle: number, all: number, taken: number) => Math.min(Math.max(0, middle * all - taken / 2), all - taken);
  const [left, top] = [within(view?.x ?? 0.5, size.width, width), within(view?.y ?? 0.5, size.height, height)];
  // Smoothing costs much and changes nothing where a camera gives the very size that is drawn.
  context.imageSmoothingEnabled = Math.abs(scale - 1) > 0.01;
  context.drawImage(picture, left, top, width, height, area.x, area.y, area.width, area.height);
}

/** The whole picture in the middle of the box, whatever its shape. */
function drawWhole(context: Context, picture: Picture, area: Box): void {
  const size = sizeOf(picture);
  const scale = Math.min(area.width / size.width, area.height / size.height);
  const [width, height] = [size.width * scale, size.height * scale];
  context.imageSmoothingEnabled = Math.abs(scale - 1) > 0.01;
  context.drawImage(picture, area.x + (area.width - width) / 2, area.y + (area.height - height) / 2, width, height);
}

export function drawLantern(context: Context, x: number, y: number, size: number, colour: string): void {
  context.save();
  context.translate(x, y);
  context.scale(size / 100, size / 100);
  context.lineWidth = 4;
  context.lineJoin = 'round';
  context.strokeStyle = colour;
  context.fillStyle = LIT;
  context.beginPath();
  context.moveTo(34, 36);
  context.lineTo(66, 36);
  context.lineTo(72, 80);
  context.lineTo(28, 80);
  context.closePath();
  context.fill();
  context.stroke();
  context.beginPath();
  context.moveTo(38, 24);
  context.lineTo(62, 24);
  context.lineTo(66, 36);
  context.lineTo(34, 36);
  context.closePath();
  context.moveTo(50, 8);
  context.lineTo(50, 24);
  context.rect(26, 80, 48, 9);
  context.stroke();
  context.restore();
}

/** Modules that are left light around a code (ISO/IEC 18004, 6.3.8). */
const QUIET = 4;

/** One pixel a module. */
function codePicture(of: string): OffscreenCanvas {
  const { modules } = create(of, { errorCorrectionLevel: 'M' });
  const side = modules.size + 2 * QUIET;
  const canvas = new OffscreenCanvas(side, side);
  const context = canvas.getContext('2d', { alpha: false })!;
  context.fillStyle = '#ffffff';
  context.fillRect(0, 0, side, side);
  context.fillStyle = '#000000';
  for (let row = 0; row < modules.size; row++)
    for (let column = 0; column < modules.size; column++) if (modules.get(row, column)) context.fillRect(column + QUIET, row + QUIET, 1, 1);
  return canvas;
}
