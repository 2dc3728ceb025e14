// Pictures of people and things that are drawn and not filmed: they stand in where there is no camera, and for everybody in the scene editor.
// Every one moves a little, so that whoever looks sees that it lives.
import type { Seat } from '@lantern/core';
import { drawLantern, type Context } from './paint';

export const DRAWN_SIZE = { width: 640, height: 360 } as const;
/** A drawn figure needs no more. */
const EVERY_MS = 80;

/** What can be drawn: somebody of a seat, pages of a talk, the sky over the dome. */
export type Drawn = { what: 'figure'; seat: Seat } | { what: 'pages' } | { what: 'sky' };

export class DrawnSource {
  readonly picture = new OffscreenCanvas(DRAWN_SIZE.width, DRAWN_SIZE.height);
  private readonly context = this.picture.getContext('2d', { alpha: false })!;
  private drawnAt = -Infinity;

  constructor(private readonly drawn: Drawn) {}

  /** The picture as it is at `now`, in ms. */
  at(now: number): OffscreenCanvas {
    if (now - this.drawnAt < EVERY_MS) return this.picture;
    this.drawnAt = now;
    const { drawn } = this;
    if (drawn.what === 'figure') drawFigure(this.context, FIGURES[drawn.seat] ?? FIGURES.host!, now);
    else if (drawn.what === 'pages') drawPages(this.context, now);
    else drawDome(this.context, now);
    return this.picture;
  }
}

interface Figure {
  skin: string;
  hair: string;
  coat: string;
  wall: [string, string];
  /** How far the hair falls, in parts of the head. */
  falls: number;
  /** Out of step with the others, in ms. */
  late: number;
}

const FIGURES: Partial<Record<Seat, Figure>> = {
  host: { skin: '#d9a47f', hair: '#3b2a26', coat: '#7d3b3f', wall: ['#173a40', '#0b1e23'], falls: 0.9, late: 0 },
  'second host': { skin: '#8a5a3e', hair: '#17130f', coat: '#d9cfb8', wall: ['#27343f', '#10171d'], falls: 0.25, late: 900 },
  'guest 1': { skin: '#efc6a4', hair: '#c08a4e', coat: '#3f5f4c', wall: ['#3a4a41', '#151d19'], falls: 1.1, late: 1_700 },
  'guest 2': { skin: '#b98260', hair: '#8f8d88', coat: '#31405f', wall: ['#4a3d3a', '#1c1615'], falls: 0.3, late: 2_300 },
  'guest 3': { skin: '#6f4630', hair: '#20160f', coat: '#a8743d', wall: ['#2b3950', '#111722'], falls: 0.6, late: 3_100 },
  'guest 4': { skin: '#e3b08f', hair: '#5c2f22', coat: '#56697a', wall: ['#35423a', '#141a17'], falls: 0.8, late: 3_700 },
  'guest 5': { skin: '#c99873', hair: '#2a2422', coat: '#6b5a86', wall: ['#3d3346', '#17131b'], falls: 0.4, late: 4_300 },
  'guest 6': { skin: '#94633f', hair: '#4a3b33', coat: '#8c8a5a', wall: ['#3b4247', '#15181a'], falls: 0.7, late: 5_100 },
};

const { width: WIDE, height: HIGH } = DRAWN_SIZE;

function ellipse(context: Context, x: number, y: number, rx: number, ry: number, colour: string): void {
  context.fillStyle = colour;
  context.beginPath();
  context.ellipse(x, y, rx, ry, 0, 0, 7);
  context.fill();
}

/** Somebody before a wall, by lamplight: breathing, blinking, and talking for some seconds of every ten. */
function drawFigure(context: Context, { skin, hair, coat, wall, falls, late }: Figure, now: number): void {
  const time = now + late;
  const ground = context.createLinearGradient(0, 0, WIDE, HIGH);
  ground.addColorStop(0, wall[0]);
  ground.addColorStop(1, wall[1]);
  context.fillStyle = ground;
  context.fillRect(0, 0, WIDE, HIGH);
  // The seams of the dome.
  context.strokeStyle = 'rgba(255,255,255,0.045)';
  context.lineWidth = 3;
  for (const seam of [0.08, 0.3, 0.7, 0.92]) {
    context.beginPath();
    context.moveTo(WIDE * seam, 0);
    context.quadraticCurveTo(WIDE * (0.5 + (seam - 0.5) * 1.35), HIGH * 0.55, WIDE * (0.5 + (seam - 0.5) * 1.5), HIGH);
    context.stroke();
  }
  const glow = context.createRadialGradient(92, 176, 6, 92, 176, 300);
  glow.addColorStop(0, 'rgba(255,214,150,0.5)');
  glow.addColorStop(1, 'rgba(255,214,150,0)');
  context.fillStyle = glow;
  context.fillRect(0, 0, WIDE, HIGH);
  drawLantern(context, 46, 122, 92, '#efe3c8');

  const sway = Math.sin(time / 1_900) * 5;
  const breath = Math.sin(time / 1_300) * 2.5;
  const [x, y] = [WIDE * 0.54 + sway, 168 + breath * 0.6];
  const [rx, ry] = [62, 78];
  if (falls > 0.5) ellipse(context, x, y + ry * (falls - 0.45), rx * 1.26, ry * 1.15, hair);
  // Shoulders, neck, head.
  context.fillStyle = coat;
  context.beginPath();
  context.moveTo(x - 168, HIGH + 4);
  context.bezierCurveTo(x - 160, 268 + breath, x - 74, 258 + breath, x, 258 + breath);
  context.bezierCurveTo(x + 74, 258 + breath, x + 160, 268 + breath, x + 168, HIGH + 4);
  context.fill();
  ellipse(context, x, y + 78, 29, 44, shaded(skin));
  ellipse(context, x, y, rx, ry, skin);
  context.fillStyle = hair;
  context.beginPath();
  context.ellipse(x, y - 12, rx * 1.08, ry * 0.97, 0, Math.PI * 0.97, Math.PI * 2.03);
  context.bezierCurveTo(x + rx * 0.9, y - 44, x + rx * 0.45, y - 62, x + rx * 0.1, y - 58);
  context.bezierCurveTo(x - rx * 0.4, y - 52, x - rx * 0.92, y - 44, x - rx * 1.07, y - 4);
  context.fill();
  // Eyes, shut for a moment every few seconds.
  const shut = time % 3_700 < 140;
  for (const side of [-1, 1]) {
    const eye = { x: x + side * 24 + sway * 0.3, y: y - 2 };
    if (shut) {
      context.fillStyle = shaded(skin);
      context.fillRect(eye.x - 10, eye.y - 1, 20, 3);
    } else {
      ellipse(context, eye.x, eye.y, 9.5, 6.5, '#f6f1e6');
      ellipse(context, eye.x + sway * 0.2, eye.y, 4.4, 4.8, '#2a211c');
    }
    context.fillStyle = hair;
    context.fillRect(eye.x - 12, eye.y - 17, 24, 4);
  }
  context.strokeStyle = shaded(skin);
  context.lineWidth = 3;
  context.beginPath();
  context.moveTo(x + 2, y + 8);
  context.quadraticCurveTo(x + 10, y + 24, x - 2, y + 26);
  context.stroke();
  const talks = time % 10_000 < 6_000 ? Math.abs(Math.sin(time / 95)) * Math.abs(Math.sin(time / 410)) : 0;
  ellipse(context, x, y + 44, 16, 2.5 + talks * 8, '#7c3230');
}

/** The same colour, out of the light. */
function shaded(colour: string): string {
  const parts = [1, 3, 5].map((at) => Math.round(parseInt(colour.slice(at, at + 2), 16) * 0.78));
  return `rgb(${parts.join(',')})`;
}

const PAGES = ['Vesta’s Lamp goes out', 'Where the shadow falls', 'What to bring', 'When to look', 'Send us your times'];
const PAGE_MS = 6_000;

/** Five pages on the occultation, one after the other. */
function drawPages(context: Context, now: number): void {
  const page = Math.floor(now / PAGE_MS) % PAGES.length;
  const way = (now % PAGE_MS) / PAGE_MS;
  context.fillStyle = '#f7f2e4';
  context.fillRect(0, 0, WIDE, HIGH);
  context.fillStyle = '#17343a';
  context.font = '650 38px "Bricolage Grotesque Variable", sans-serif';
  context.textAlign = 'left';
  context.textBaseline = 'alphabetic';
  context.fillText(PAGES[page]!, 40, 74);
  context.fillRect(40, 92, 70, 5);
  // The path of the shadow over the fells, with the lamp going behind it.
  context.fillStyle = '#c9dcd0';
  context.beginPath();
  context.moveTo(40, HIGH - 46);
  for (let x = 40; x <= WIDE - 40; x += 12) context.lineTo(x, HIGH - 90 - 46 * Math.sin((x / WIDE) * (3 + page)) ** 2);
  context.lineTo(WIDE - 40, HIGH - 46);
  context.fill();
  ellipse(context, 90 + way * (WIDE - 180), 176, 30, 30, '#17343a');
  ellipse(context, WIDE / 2 + page * 22 - 40, 176, 9, 9, '#a8401f');
  context.fillStyle = '#4b6468';
  context.font = '400 20px "Atkinson Hyperlegible Next", sans-serif';
  context.fillText(`Page ${page + 1} of ${PAGES.length}`, 40, HIGH - 18);
}

/** The sky over the dome, turning slowly. */
function drawDome(context: Context, now: number): void {
  const sky = context.createLinearGradient(0, 0, 0, HIGH);
  sky.addColorStop(0, '#06121c');
  sky.addColorStop(1, '#1b4850');
  context.fillStyle = sky;
  context.fillRect(0, 0, WIDE, HIGH);
  for (let star = 0; star < 120; star++) {
    const far = 30 + ((star * 89) % 520);
    const angle = star * 2.4 + now / 60_000;
    const [x, y] = [WIDE * 0.62 + Math.cos(angle) * far, HIGH * 0.3 + Math.sin(angle) * far];
    if (y < HIGH - 60) ellipse(context, x, y, 0.8 + (star % 4) * 0.5, 0.8 + (star % 4) * 0.5, `rgba(246,241,230,${0.35 + (star % 6) / 10})`);
  }
  ellipse(context, WIDE * 0.3, HIGH + 70, 190, 190, '#0c2227');
  context.fillStyle = '#0c2227';
  context.fillRect(0, HIGH - 34, WIDE, 34);
  context.fillStyle = '#f0c987';
  context.fillRect(WIDE * 0.3 - 10, HIGH - 118, 20, 92);
}
