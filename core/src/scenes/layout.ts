// Where everything stands on a scene, as a list of things to draw. Measuring text comes in from
// outside, so that the same layout runs in a worker, on the server and in a test.
import type { Instant } from '../time/instant';
import { sayClock, sayDistance, sayTime } from '../time/zones';
import type { SceneId } from '../air/scene-on-air';

/** The programme's size in pixels. */
export const PROGRAMME = { width: 1280, height: 720 } as const;

/** Pixels from each edge that some viewers' players cover: nothing to be read stands there. */
export const SAFE_MARGIN_PX = 64;

/** Where the countdown stands on the holding card; nothing else is drawn there. */
export const COUNTDOWN_BOX = { x: 64, y: 440, width: 620, height: 150 } as const;
/** The same with the line beneath it, which says the time of the start. */
export const COUNTDOWN_PLATE = { ...COUNTDOWN_BOX, height: 216 } as const;

const WHOLE = { x: 0, y: 0, ...PROGRAMME } as const;
/** Two pictures of 16:9 beside each other, the strap beneath them. */
const BESIDE = { host: { x: 40, y: 150, width: 592, height: 333 }, line: { x: 648, y: 150, width: 592, height: 333 } } as const;

/** For so long after the start the card still speaks of a moment; then it says how long it has been. */
const MOMENT_MS = 60_000;

export type TypeFace = 'display' | 'text';
export type Measure = (text: string, sizePx: number, face: TypeFace) => number;

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export type Drawing =
  | ({ kind: 'dusk' } & Box)
  /** The show's waiting picture, covering the box. */
  | ({ kind: 'waiting picture' } & Box)
  | ({ kind: 'plate'; colour: Colour; radius: number } & Box)
  | ({ kind: 'camera' } & Box)
  /** The outside line on the stage, whole, whatever its shape. */
  | ({ kind: 'line' } & Box)
  | { kind: 'lantern'; x: number; y: number; sizePx: number; lit: boolean }
  | { kind: 'text'; text: string; x: number; y: number; sizePx: number; face: TypeFace; colour: Colour; align: 'left' | 'right' };

export type Colour = 'night' | 'paper' | 'mist';

/** What the scenes of a show are made of. */
export interface SceneContent {
  title: string;
  stationName: string;
  hostName: string;
  strap: string;
  startsAt: Instant;
  zone: string;
  /** Whether somebody has been on the picture already: then the card stands for a pause, and not for the time before. */
  begun?: boolean;
  /** Address of the show's waiting picture, which says what the holding card would say and leaves the countdown's place free; null: none. */
  waitingUrl: string | null;
}

/**
 * Until when the drawing list of a scene stays as it is at `now`, if its content does: a clock on it goes on each second, all the rest stands
 * still. Infinity: nothing on it moves by itself.
 */
export function staysUntil(scene: SceneId, { startsAt, begun }: SceneContent, now: Instant): number {
  if (scene !== 'holding' || begun) return Infinity;
  return startsAt - (Math.ceil((startsAt - now) / 1_000) - 1) * 1_000;
}

/** The drawing list of one scene at `now`, first at the back, in programme pixels. */
export function layOut(scene: SceneId, content: SceneContent, now: Instant, measure: Measure): Drawing[] {
  switch (scene) {
    case 'holding':
      return holdingCard(content, now, measure);
    case 'host':
      return [{ kind: 'camera', ...WHOLE }, ...strap(content, measure)];
    case 'beside':
      return [{ kind: 'dusk', ...WHOLE }, { kind: 'camera', ...BESIDE.host }, { kind: 'line', ...BESIDE.line }, ...strap(content, measure)];
    case 'line':
      return [{ kind: 'line', ...WHOLE }];
  }
}

function holdingCard(content: SceneContent, now: Instant, measure: Measure): Drawing[] {
  const left = SAFE_MARGIN_PX;
  const room = PROGRAMME.width - 2 * SAFE_MARGIN_PX - 260;
  const title = fitText(content.title, { widthPx: room, lines: 3, largestPx: 76, smallestPx: 36, face: 'display' }, measure);
  const toGo = content.startsAt - now;
  const titleTop = 150;
  const { words, line } = saysAfterStart(content, -toGo);
  const soon = fitText(words, { widthPx: COUNTDOWN_BOX.width, lines: 1, largestPx: 64, smallestPx: 32, face: 'display' }, measure);
  const clock = sayClock(toGo, true);
  const clockSize = fitText(clock, { widthPx: COUNTDOWN_BOX.width, lines: 1, largestPx: 132, smallestPx: 64, face: 'display' }, measure).sizePx;
  const countdown: Drawing[] =
    toGo > 0 && !content.begun
      ? [
          { kind: 'text', text: clock, x: left, y: 560, sizePx: clockSize, face: 'display', colour: 'paper', align: 'left' },
          {
            kind: 'text',
            text: `We begin at ${sayTime(content.startsAt, content.zone)}`,
            x: left,
            y: 640,
            sizePx: 30,
            face: 'text',
            colour: 'mist',
            align: 'left',
          },
        ]
      : [
          { kind: 'text', text: words, x: left, y: 560, sizePx: soon.sizePx, face: 'display', colour: 'paper', align: 'left' },
          ...(line ? [{ kind: 'text', text: line, x: left, y: 640, sizePx: 30, face: 'text', colour: 'mist', align: 'left' } as const] : []),
        ];
  if (content.waitingUrl !== null) {
    const { x, width, ...down } = COUNTDOWN_PLATE;
    return [{ kind: 'waiting picture', ...WHOLE }, { kind: 'plate', colour: 'night', radius: 6, x: x - 24, width: width + 24, ...down }, ...countdown];
  }
  return [
    { kind: 'dusk', ...WHOLE },
    { kind: 'lantern', x: PROGRAMME.width - 300, y: 190, sizePx: 210, lit: true },
    { kind: 'text', text: content.stationName, x: left, y: 108, sizePx: 28, face: 'text', colour: 'mist', align: 'left' },
    ...title.lines.map((text, line): Drawing => ({
      kind: 'text',
      text,
      x: left,
      y: titleTop + title.sizePx * (0.9 + line * 1.12),
      sizePx: title.sizePx,
      face: 'display',
      colour: 'paper',
      align: 'left',
    })),
    ...countdown,
  ];
}

/** What the card says once there is nothing to count down to. */
function saysAfterStart({ begun, startsAt, zone }: SceneContent, sinceMs: number): { words: string; line: string } {
  if (begun) return { words: 'A short pause', line: 'We go on in a moment' };
  if (sinceMs < MOMENT_MS) return { words: 'We begin in a moment', line: '' };
  return { words: 'We are a little late', line: `Planned for ${sayTime(startsAt, zone)}, ${sayDistance(-sinceMs)}` };
}

/** The host's name and caption across the lower part. */
function strap(content: SceneContent, measure: Measure): Drawing[] {
  const name = fitText(content.hostName, { widthPx: 720, lines: 1, largestPx: 40, smallestPx: 24, face: 'display' }, measure);
  const caption = fitText(content.strap, { widthPx: 720, lines: 1, largestPx: 24, smallestPx: 18, face: 'text' }, measure);
  const widest = Math.max(measure(name.lines[0] ?? '', name.sizePx, 'display'), measure(caption.lines[0] ?? '', caption.sizePx, 'text'));
  const plate: Box = { x: SAFE_MARGIN_PX, y: 556, width: Math.ceil(widest) + 96, height: 100 };
  return [
    { kind: 'plate', colour: 'night', radius: 6, ...plate },
    { kind: 'lantern', x: plate.x + 16, y: plate.y + 24, sizePx: 50, lit: true },
    { kind: 'text', text: name.lines[0] ?? '', x: plate.x + 78, y: plate.y + 48, sizePx: name.sizePx, face: 'display', colour: 'paper', align: 'left' },
    { kind: 'text', text: caption.lines[0] ?? '', x: plate.x + 78, y: plate.y + 80, sizePx: caption.sizePx, face: 'text', colour: 'mist', align: 'left' },
  ];
}

interface Fit {
  widthPx: number;
  lines: number;
  largestPx: number;
  smallestPx: number;
  face: TypeFace;
}

/** The largest size, and the lines, in which `text` fits; at the smallest size what is too much ends in an ellipsis. */
export function fitText(text: string, fit: Fit, measure: Measure): { sizePx: number; lines: string[] } {
  for (let sizePx = fit.largestPx; sizePx > fit.smallestPx; sizePx -= 4) {
    const lines = breakLines(text, sizePx, fit, measure);
    if (lines.length <= fit.lines && lines.every((line) => measure(line, sizePx, fit.face) <= fit.widthPx)) return { sizePx, lines };
  }
  const sizePx = fit.smallestPx;
  const lines = breakLines(text, sizePx, fit, measure);
  const kept = lines.slice(0, fit.lines);
  const overflows = lines.length > fit.lines;
  return { sizePx, lines: kept.map((line, at) => cutToWidth(line, overflows && at === kept.length - 1, sizePx, fit, measure)) };
}

function breakLines(text: string, sizePx: number, fit: Fit, measure: Measure): string[] {
  const lines: string[] = [];
  for (const { word, space } of breakable(text)) {
    const longer = lines.length ? `${lines[lines.length - 1]}${space}${word}` : word;
    if (lines.length && measure(longer, sizePx, fit.face) <= fit.widthPx) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines;
}

/** Scripts that are written without spaces between words. */
const UNSPACED = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}\p{Script=Khmer}\p{Script=Lao}\p{Script=Myanmar}]/u;

/** The words of a text, each with what stands before it in a line. */
function breakable(text: string): { word: string; space: '' | ' ' }[] {
  const words = text.trim().split(/\s+/).filter(Boolean);
  return words.flatMap((word): { word: string; space: '' | ' ' }[] => {
    if (!UNSPACED.test(word)) return [{ word, space: ' ' }];
    const parts = [...new Intl.Segmenter(undefined, { granularity: 'word' }).segment(word)].map(({ segment }) => segment);
    return parts.map((part, at) => ({ word: part, space: at ? '' : ' ' }));
  });
}

function cutToWidth(line: string, mustCut: boolean, sizePx: number, fit: Fit, measure: Measure): string {
  if (!mustCut && measure(line, sizePx, fit.face) <= fit.widthPx) return line;
  const characters = [...line];
  while (characters.length && measure(`${characters.join('')}…`, sizePx, fit.face) > fit.widthPx) characters.pop();
  return `${characters.join('').trimEnd()}…`;
}
