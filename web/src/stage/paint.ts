// Paints a scene's drawing list on a canvas. What stands where is decided in core.
import { PROGRAMME, type Colour, type Drawing, type Measure, type TypeFace } from '@lantern/core';

const COLOURS: Record<Colour, string> = {
  night: 'rgba(9, 27, 31, 0.9)',
  paper: '#fbf8f0',
  mist: '#b9cdc8',
};
/** Amber stands for what is public; a card is only ever seen by the public. */
const LIT = '#f5ac3d';
const FAMILIES: Record<TypeFace, string> = {
  display: '650 %px "Bricolage Grotesque Variable", sans-serif',
  text: '400 %px "Atkinson Hyperlegible Next", sans-serif',
};
const MEASURED_TEXTS = 400;

type Context = OffscreenCanvasRenderingContext2D;

const font = (sizePx: number, face: TypeFace) => FAMILIES[face].replace('%', String(sizePx));

export class Painter {
  private readonly widths = new Map<string, number>();
  private dusk: OffscreenCanvas | null = null;
  private waitingPicture: ImageBitmap | null = null;

  constructor(private readonly ruler: Context) {}

  /** Measured once per text: the same lines come round thirty times a second. */
  readonly measure: Measure = (text, sizePx, face) => {
    const key = `${face}${sizePx}${text}`;
    let width = this.widths.get(key);
    if (width === undefined) {
      this.ruler.font = font(sizePx, face);
      width = this.ruler.measureText(text).width;
      if (this.widths.size > MEASURED_TEXTS) this.widths.clear();
      this.widths.set(key, width);
    }
    return width;
  };

  /** What the holding card shows; null: the evening sky. */
  setWaitingPicture(picture: ImageBitmap | null): void {
    this.waitingPicture?.close();
    this.waitingPicture = picture;
  }

  /** Draws in programme pixels; `cameras` are the newest pictures, several of them side by side in a grid; `line` that of the outside line. */
  paint(context: Context, drawings: Drawing[], cameras: readonly (VideoFrame | null)[], line: VideoFrame | null): void {
    for (const drawing of drawings) this.one(context, drawing, cameras, line);
  }

  private one(context: Context, drawing: Drawing, cameras: readonly (VideoFrame | null)[], line: VideoFrame | null): void {
    switch (drawing.kind) {
      case 'dusk':
        context.drawImage(this.duskCard(), drawing.x, drawing.y, drawing.width, drawing.height);
        break;
      case 'waiting picture':
        if (this.waitingPicture) drawCovering(context, this.waitingPicture, drawing);
        else context.drawImage(this.duskCard(), drawing.x, drawing.y, drawing.width, drawing.height);
        break;
      case 'camera':
        drawCameras(context, drawing, cameras);
        break;
      case 'line':
        // A line that brings nothing leaves the evening sky.
        if (line) drawWhole(context, line, drawing);
        else context.drawImage(this.duskCard(), drawing.x, drawing.y, drawing.width, drawing.height);
        break;
      case 'plate':
        context.fillStyle = COLOURS[drawing.colour];
        context.beginPath();
        context.roundRect(drawing.x, drawing.y, drawing.width, drawing.height, drawing.radius);
        context.fill();
        break;
      case 'lantern':
        drawLantern(context, drawing.x, drawing.y, drawing.sizePx, drawing.lit);
        break;
      case 'text':
        context.font = font(drawing.sizePx, drawing.face);
        context.textAlign = drawing.align;
        context.textBaseline = 'alphabetic';
        context.fillStyle = COLOURS[drawing.colour];
        context.fillText(drawing.text, drawing.x, drawing.y);
        break;
    }
  }

  /** The evening sky over the fell, drawn once. */
  private duskCard(): OffscreenCanvas {
    if (this.dusk) return this.dusk;
    const { width, height } = PROGRAMME;
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d')!;
    const sky = context.createLinearGradient(0, 0, 0, height);
    sky.addColorStop(0, '#0b1f25');
    sky.addColorStop(0.7, '#1b4850');
    sky.addColorStop(1, '#2f6a6b');
    context.fillStyle = sky;
    context.fillRect(0, 0, width, height);
    context.fillStyle = '#e9efe6';
    for (let star = 0; star < 90; star++) {
      context.globalAlpha = 0.25 + ((star * 37) % 60) / 100;
      context.beginPath();
      context.arc((star * 397) % width, ((star * 211) % 1000) * 0.36, 0.8 + ((star * 13) % 10) / 8, 0, 7);
      context.fill();
    }
    context.globalAlpha = 1;
    hill(context, '#123a41', 690, 46, 3.1);
    hill(context, '#0a252b', 706, 30, 5.3);
    this.dusk = canvas;
    return canvas;
  }
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

interface Area {
  x: number;
  y: number;
  width: number;
  height: number;
}

function drawCameras(context: Context, area: Area, cameras: readonly (VideoFrame | null)[]): void {
  const side = Math.ceil(Math.sqrt(cameras.length));
  const width = area.width / side;
  const height = area.height / side;
  for (const [at, camera] of cameras.entries()) {
    const place = { x: area.x + (at % side) * width, y: area.y + Math.floor(at / side) * height, width, height };
    if (camera) drawCovering(context, camera, place);
    else {
      context.fillStyle = '#0b1f25';
      context.fillRect(place.x, place.y, width, height);
    }
  }
}

/** Fills the area with the picture's middle, as `object-fit: cover` does. */
function drawCovering(context: Context, frame: VideoFrame | ImageBitmap, area: Area): void {
  const [frameWidth, frameHeight] = 'displayWidth' in frame ? [frame.displayWidth, frame.displayHeight] : [frame.width, frame.height];
  const scale = Math.max(area.width / frameWidth, area.height / frameHeight);
  const width = area.width / scale;
  const height = area.height / scale;
  // Smoothing costs much and changes nothing where a camera gives the very size that is drawn.
  context.imageSmoothingEnabled = Math.abs(scale - 1) > 0.01;
  context.drawImage(frame, (frameWidth - width) / 2, (frameHeight - height) / 2, width, height, area.x, area.y, area.width, area.height);
}

/** Draws the whole picture in the middle of the area, whatever its shape. */
function drawWhole(context: Context, frame: VideoFrame, area: Area): void {
  context.fillStyle = '#0b1f25';
  context.fillRect(area.x, area.y, area.width, area.height);
  const scale = Math.min(area.width / frame.displayWidth, area.height / frame.displayHeight);
  const width = frame.displayWidth * scale;
  const height = frame.displayHeight * scale;
  context.imageSmoothingEnabled = Math.abs(scale - 1) > 0.01;
  context.drawImage(frame, area.x + (area.width - width) / 2, area.y + (area.height - height) / 2, width, height);
}

function drawLantern(context: Context, x: number, y: number, size: number, lit: boolean): void {
  context.save();
  context.translate(x, y);
  context.scale(size / 100, size / 100);
  context.lineWidth = 4;
  context.lineJoin = 'round';
  context.strokeStyle = COLOURS.paper;
  context.fillStyle = lit ? LIT : 'transparent';
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
