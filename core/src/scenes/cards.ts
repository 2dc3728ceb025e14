// What the cards of a programme say: before, between and after. Drawn as waiting pictures are, in the card style of the look.
import { composePicture, type PictureRecipe } from '../artwork/compose';
import type { Box, Drawing, Measure, Palette } from '../drawing/drawing';
import { luminance, mixed, rgbOf } from '../drawing/colours';
import { fitText } from '../drawing/fit-text';
import { COUNTDOWN_PLACE, PROGRAMME, SAFE_MARGIN_PX, WHOLE } from '../drawing/programme';
import type { CardStyle } from '../looks/look';
import type { Instant } from '../time/instant';
import { sayClock, sayDistance, sayTime } from '../time/zones';
import type { CardKind } from './scene';

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
  /** How cards are drawn; missing: over the whole background. */
  cards?: CardStyle;
  /** How many marks of sponsors there are. */
  sponsors?: number;
}

export type SponsorSource = `sponsor ${number}`;
export type CardSource = 'background' | 'waiting picture' | SponsorSource;

/** Until when a card stays as it is at `now`: a clock on it goes on each second, all the rest stands still. Infinity: nothing moves by itself. */
export function cardStaysUntil(card: CardKind, { startsAt, begun }: CardContent, now: Instant): number {
  if (card !== 'holding' || begun) return Infinity;
  return startsAt - (Math.ceil((startsAt - now) / 1_000) - 1) * 1_000;
}

export function drawCard(card: CardKind, content: CardContent, now: Instant, measure: Measure): Drawing<CardSource>[] {
  if (card === 'closing') return [...onOwnGround(content, measure), ...said('Thank you for watching', '', content.palette, measure)];
  if (card === 'sponsors') return sponsorsCard(content, measure);
  const { words, line } = saysAt(content, now);
  const speaks = said(words, line, content.palette, measure);
  if (!content.waiting) return [...onOwnGround(content, measure), ...speaks];
  const picture: Drawing<CardSource> = { kind: 'picture', of: 'waiting picture', fit: 'filling', shape: 'box', view: null, ...WHOLE };
  return [picture, ...(content.waiting.keepsPlace ? [] : [plate(content.palette)]), ...speaks];
}

/** What cards have in common with the waiting pictures that are composed: whatever else is chosen for those. */
const CARD: Omit<PictureRecipe, 'layout'> = {
  ...{ background: { kind: 'colour' }, lookId: null, title: '', when: 'none', line: '', portraits: false, mark: true },
};

/** Title and station in the card style of the look, with room for a countdown. */
function onOwnGround({ title, stationName, palette, cards = 'horizon' }: CardContent, measure: Measure): Drawing<CardSource>[] {
  const facts = { title, when: '', line: '', stationName, guests: [] };
  return composePicture({ ...CARD, layout: cards }, facts, palette, { ...PROGRAMME, waiting: true }, measure);
}

const MARKS = { top: 236, gap: 24, across: 4 } as const;

/** The marks of all sponsors, as large as their number allows, each on something light: most are drawn for paper. */
function sponsorsCard({ palette, stationName, sponsors = 0 }: CardContent, measure: Measure): Drawing<CardSource>[] {
  const room = PROGRAMME.width - 2 * SAFE_MARGIN_PX;
  const thanks = fitText(
    sponsors ? 'With thanks to' : 'Thank you to all who help',
    { widthPx: room, lines: 1, largestPx: 64, smallestPx: 36, face: 'display' },
    measure,
  );
  const station = fitText(stationName, { widthPx: room, lines: 1, largestPx: 28, smallestPx: 22, face: 'text' }, measure);
  const places = marksOf(sponsors, room);
  return [
    { kind: 'picture', of: 'background', fit: 'filling', shape: 'box', view: null, ...WHOLE },
    { kind: 'shade', colour: palette.ground, opacity: 0.9, towards: 'left', ...WHOLE },
    { kind: 'text', text: station.lines[0] ?? '', x: SAFE_MARGIN_PX, y: 108, sizePx: station.sizePx, face: 'text', colour: quiet(palette) },
    { kind: 'text', text: thanks.lines[0] ?? '', x: SAFE_MARGIN_PX, y: 186, sizePx: thanks.sizePx, face: 'display', colour: palette.ink },
    ...places.flatMap((place, at): Drawing<CardSource>[] => onPaper(palette, place, at)),
  ];
}

/** A sponsor's mark within a box of paper. */
export function onPaper({ ground, ink }: Palette, place: Box, at: number): Drawing<SponsorSource>[] {
  const light = luminance(rgbOf(ground)) > luminance(rgbOf(ink)) ? ground : ink;
  const pad = Math.round(place.height * 0.12);
  const inner = { x: place.x + pad, y: place.y + pad, width: place.width - 2 * pad, height: place.height - 2 * pad };
  return [
    { kind: 'plate', colour: light, opacity: 1, radius: 0, ...place },
    { kind: 'picture', of: `sponsor ${at}`, fit: 'whole', shape: 'box', view: null, ...inner },
  ];
}

/** In rows of four at most, the last one beginning at the left as the first does. */
function marksOf(count: number, room: number): Box[] {
  const columns = Math.min(MARKS.across, count);
  const rows = Math.ceil(count / MARKS.across);
  const width = Math.min(460, Math.floor((room - MARKS.gap * (columns - 1)) / columns));
  const height = Math.min(Math.floor(width * 0.6), Math.floor((PROGRAMME.height - SAFE_MARGIN_PX - MARKS.top - MARKS.gap * (rows - 1)) / rows));
  return Array.from({ length: count }, (_, at) => ({
    x: SAFE_MARGIN_PX + (at % MARKS.across) * (width + MARKS.gap),
    y: MARKS.top + Math.floor(at / MARKS.across) * (height + MARKS.gap),
    width,
    height,
  }));
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
