// What the cards of a programme say: before, between and after.
import type { Box, Drawing, Measure, Palette } from '../drawing/drawing';
import { mixed } from '../drawing/colours';
import { fitText } from '../drawing/fit-text';
import type { Instant } from '../time/instant';
import { sayClock, sayDistance, sayTime } from '../time/zones';
import type { CardKind } from './scene';
import { PROGRAMME, SAFE_MARGIN_PX, WHOLE } from './slots';

/** Where the countdown stands on the holding card and on waiting pictures, with the line beneath it; nothing else is drawn there. */
export const COUNTDOWN_PLACE: Box = { x: SAFE_MARGIN_PX, y: 440, width: 620, height: 216 };
const CLOCK_FOOT = 560;
const LINE_FOOT = 630;
/** Between the countdown and what stands above it. */
const RULE: Box = { x: COUNTDOWN_PLACE.x, y: COUNTDOWN_PLACE.y + 4, width: 96, height: 5 };

/** For so long after the start the card still speaks of a moment; then it says how long it has been. */
const MOMENT_MS = 60_000;

export interface CardContent {
  title: string;
  stationName: string;
  startsAt: Instant;
  zone: string;
  /** Whether somebody has been on the picture already: then the card stands for a pause, and not for the time before. */
  begun: boolean;
  /**
   * The show's waiting picture, which says what the holding card would say; null: none. `keepsPlace`: it was made here, with the countdown's
   * place in it; any other gets a plate for it.
   */
  waiting: { url: string; keepsPlace: boolean } | null;
  palette: Palette;
}

export type CardSource = 'background' | 'waiting picture';

/** Until when a card stays as it is at `now`: a clock on it goes on each second, all the rest stands still. Infinity: nothing moves by itself. */
export function cardStaysUntil(card: CardKind, { startsAt, begun }: CardContent, now: Instant): number {
  if (card !== 'holding' || begun) return Infinity;
  return startsAt - (Math.ceil((startsAt - now) / 1_000) - 1) * 1_000;
}

export function drawCard(card: CardKind, content: CardContent, now: Instant, measure: Measure): Drawing<CardSource>[] {
  if (card === 'closing') return [...onOwnGround(content, measure), ...said('Thank you for watching', '', content.palette, measure)];
  const { words, line } = saysAt(content, now);
  const speaks = said(words, line, content.palette, measure);
  if (!content.waiting) return [...onOwnGround(content, measure), ...speaks];
  const picture: Drawing<CardSource> = { kind: 'picture', of: 'waiting picture', fit: 'filling', shape: 'box', view: null, ...WHOLE };
  return [picture, ...(content.waiting.keepsPlace ? [] : [plate(content.palette)]), ...speaks];
}

/** Title and station over the station's evening sky. */
function onOwnGround({ title, stationName, palette }: CardContent, measure: Measure): Drawing<CardSource>[] {
  const left = SAFE_MARGIN_PX;
  const room = PROGRAMME.width - 2 * SAFE_MARGIN_PX - 260;
  const { sizePx, lines } = fitText(title, { widthPx: room, lines: 3, largestPx: 76, smallestPx: 36, face: 'display' }, measure);
  const station = fitText(stationName, { widthPx: room, lines: 1, largestPx: 28, smallestPx: 22, face: 'text' }, measure);
  return [
    { kind: 'picture', of: 'background', fit: 'filling', shape: 'box', view: null, ...WHOLE },
    { kind: 'mark', colour: palette.ink, x: PROGRAMME.width - 300, y: 190, width: 210, height: 210 },
    { kind: 'text', text: station.lines[0] ?? '', x: left, y: 108, sizePx: station.sizePx, face: 'text', colour: quiet(palette) },
    ...lines.map((text, line): Drawing<CardSource> => ({
      ...{ kind: 'text', text, x: left, y: 150 + sizePx * (0.9 + line * 1.12), sizePx, face: 'display', colour: palette.ink },
    })),
  ];
}

/** The countdown, or what stands in its place, with the line beneath: in the look's own colours, beneath a short rule. */
function said(words: string, line: string, palette: Palette, measure: Measure): Drawing<CardSource>[] {
  const { x, width } = COUNTDOWN_PLACE;
  const isClock = /^\d/.test(words);
  const { sizePx, lines } = fitText(words, { widthPx: width, lines: 1, largestPx: isClock ? 132 : 64, smallestPx: 32, face: 'display' }, measure);
  const beneath = fitText(line, { widthPx: width, lines: 1, largestPx: 30, smallestPx: 20, face: 'text' }, measure);
  return [
    { kind: 'plate', colour: palette.accent, opacity: 1, radius: 0, ...RULE },
    { kind: 'text', text: lines[0] ?? '', x, y: CLOCK_FOOT, sizePx, face: 'display', colour: palette.ink },
    ...(line
      ? [{ kind: 'text' as const, text: beneath.lines[0] ?? '', x, y: LINE_FOOT, sizePx: beneath.sizePx, face: 'text' as const, colour: quiet(palette) }]
      : []),
  ];
}

/** Behind a countdown on a picture that knows nothing of it. */
function plate({ ground }: Palette): Drawing<CardSource> {
  const { x, y, width, height } = COUNTDOWN_PLACE;
  return { kind: 'plate', colour: ground, opacity: 0.92, radius: 0, x: 0, y: y - 12, width: x + width, height: height + 12 };
}

const quiet = ({ ink, ground }: Palette): string => mixed(ink, ground, 0.2);

function saysAt({ begun, startsAt, zone }: CardContent, now: Instant): { words: string; line: string } {
  const toGo = startsAt - now;
  if (begun) return { words: 'A short pause', line: 'We go on in a moment' };
  if (toGo > 0) return { words: sayClock(toGo, true), line: `We begin at ${sayTime(startsAt, zone)}` };
  if (-toGo < MOMENT_MS) return { words: 'We begin in a moment', line: '' };
  return { words: 'We are a little late', line: `Planned for ${sayTime(startsAt, zone)}, ${sayDistance(toGo)}` };
}
