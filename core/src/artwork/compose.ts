// A picture made from a few parts: background, title, the show's time, portraits and a mark. Not a drawing canvas:
// a layout decides where everything stands, text shrinks and breaks until it fits, and nothing to be read leaves the
// safe margins. Measuring text comes in from outside, as for the scenes.
import type { Box, Drawing, DrawnText, Measure, Palette, TypeFace } from '../drawing/drawing';
import { fitText } from '../drawing/fit-text';
import { COUNTDOWN_PLACE, PROGRAMME } from '../drawing/programme';

export const PICTURE_LAYOUTS = ['horizon', 'slip', 'moon', 'row'] as const;
export type PictureLayout = (typeof PICTURE_LAYOUTS)[number];

export const SKY_MOODS = ['dusk', 'night', 'day'] as const;
export type SkyMood = (typeof SKY_MOODS)[number];

export type PictureBackground =
  | { kind: 'sky'; mood: SkyMood; seed: number }
  | { kind: 'colour' }
  /** A picture of the library. */
  | { kind: 'picture'; pieceId: string };

/** What a host chooses; everything else follows from the show. */
export interface PictureRecipe {
  layout: PictureLayout;
  background: PictureBackground;
  /** The look whose colours and logo are used; null: the product's own colours. */
  lookId: string | null;
  /** Empty: the show's title. */
  title: string;
  when: 'day and time' | 'day' | 'none';
  /** One more line, with placeholders; may be empty. */
  line: string;
  portraits: boolean;
  mark: boolean;
}

/** What the show has to say on its picture, filled in. */
export interface PictureFacts {
  title: string;
  when: string;
  line: string;
  stationName: string;
  /** Whose portraits are shown, in order. */
  guests: readonly { name: string }[];
}

export type PictureTextRole = 'title' | 'when' | 'line' | 'station';

/** A line of text, with what it says. */
export interface PictureText extends DrawnText {
  role: PictureTextRole;
}

export type PictureDrawing = Exclude<Drawing<'background'>, { kind: 'text' }> | PictureText;

/** The countdown's place on a waiting picture, in parts of the picture; nothing else is drawn there. As on the holding card. */
export const WAITING_COUNTDOWN: Box = {
  x: COUNTDOWN_PLACE.x / PROGRAMME.width,
  y: COUNTDOWN_PLACE.y / PROGRAMME.height,
  width: COUNTDOWN_PLACE.width / PROGRAMME.width,
  height: COUNTDOWN_PLACE.height / PROGRAMME.height,
};
/** Players write the length into this corner, in parts of the picture. */
export const LENGTH_BADGE: Box = { x: 0.8, y: 0.84, width: 0.2, height: 0.16 };

const MARGIN = 0.055;
const LINE_HEIGHT = 1.08;
const MOST_PORTRAITS = 4;

interface Sheet {
  width: number;
  height: number;
  /** Pixels from each edge in which nothing to be read stands. */
  margin: number;
  /** Sizes are given for a height of 720. */
  unit: number;
  palette: Palette;
  facts: PictureFacts;
  recipe: PictureRecipe;
  measure: Measure;
  /** It is a waiting picture: the countdown's place stays free. */
  waiting: boolean;
}

/**
 * The drawing list of a picture of `width` by `height` pixels, first at the back. `waiting` keeps the countdown's place free.
 * Every text lies within the safe margins, and none under the corner where players write a length.
 */
export function composePicture(
  recipe: PictureRecipe,
  facts: PictureFacts,
  palette: Palette,
  { width, height, waiting = false }: { width: number; height: number; waiting?: boolean },
  measure: Measure,
): PictureDrawing[] {
  const sheet: Sheet = { width, height, margin: Math.round(MARGIN * Math.max(width, height)), unit: height / 720, palette, facts, recipe, measure, waiting };
  return LAYOUTS[recipe.layout](sheet);
}

const LAYOUTS: Record<PictureLayout, (sheet: Sheet) => PictureDrawing[]> = { horizon, slip, moon, row };

/** The background whole; words low on the left where it is shaded, portraits standing on the lower edge. */
function horizon(sheet: Sheet): PictureDrawing[] {
  const { width, height, palette, unit, waiting } = sheet;
  const guests = portraitsIn(sheet, { right: width - sheet.margin, bottom: height * (waiting ? 0.94 : 0.8), size: 250 * unit, room: width * 0.4 });
  const room = guests.length ? guests[0]!.x - sheet.margin * 1.6 : width * (waiting ? 0.86 : 0.74) - sheet.margin;
  const words = wordsIn(sheet, { top: waiting ? 0.2 : 0.3, bottom: waiting ? WAITING_COUNTDOWN.y - 0.03 : 1, room, largest: 128 });
  return [
    whole(sheet),
    // From the side where the words are, so that what stands on the other is seen.
    shade(sheet, 'left', waiting ? 0.97 : 0.92),
    // For the words, or for the countdown, which stands in the look's own colours on it.
    ...[{ ...shade(sheet, 'bottom', waiting ? 0.85 : 0.6), y: Math.round(height * 0.4), height: Math.round(height * 0.6) }],
    ...guests,
    ...markIn(sheet, guests, palette.ink, waiting ? 'quiet' : 'shaded'),
    ...words,
  ];
}

/** The background whole, and a slip of plain colour with the words: legible on whatever lies behind. */
function slip(sheet: Sheet): PictureDrawing[] {
  const { width, height, margin, palette, unit, waiting } = sheet;
  const inner = Math.round(30 * unit);
  // The countdown has its place: all slips of a waiting picture begin where its own does.
  const left = waiting ? countdownLeft(sheet) : margin;
  const guests = portraitsIn(sheet, { right: width - margin, bottom: height * 0.7, size: 230 * unit, room: width * 0.36 });
  const room = (guests.length ? width * 0.56 : width * 0.7) - margin - 2 * inner;
  const bottom = waiting ? WAITING_COUNTDOWN.y - 0.05 : 1;
  const words = wordsIn(sheet, { top: 0.2, bottom, room, largest: 104, left: left + inner, around: inner });
  const texts = words.filter((drawing): drawing is PictureText => drawing.kind === 'text');
  const top = Math.min(...texts.map(({ y, sizePx }) => y - sizePx * 0.9)) - inner * 0.7;
  const foot = Math.max(...texts.map(({ y, sizePx }) => y + sizePx * 0.28)) + inner * 0.7;
  const widest = Math.max(...texts.map((text) => sheet.measure(text.text, text.sizePx, text.face)));
  const plate = { x: left, y: Math.round(top), width: Math.round(Math.min(room, widest) + 2 * inner), height: Math.round(foot - top) };
  return [
    whole(sheet),
    ...guests,
    { kind: 'plate', colour: palette.ground, opacity: 1, radius: 0, ...plate },
    { kind: 'plate', colour: palette.accent, opacity: 1, radius: 0, ...plate, width: Math.round(8 * unit) },
    ...(waiting ? countdownSlip(sheet) : []),
    ...markIn(sheet, guests, palette.ink, 'plate', waiting ? left + 12 * unit : margin),
    ...words,
  ];
}

/** Plain colour with the words at the left; a great disc at the right through which the background is seen. */
function moon(sheet: Sheet): PictureDrawing[] {
  const { width, height, palette, margin, unit, waiting } = sheet;
  const size = height * 1.16;
  const left = Math.max(width * (waiting ? 0.55 : 0.52), width - size * 0.86);
  const disc = { x: Math.round(left), y: Math.round((height - size) / 2), width: Math.round(size), height: Math.round(size) };
  const guests = portraitsIn(sheet, { right: width - margin, bottom: height * 0.78, size: 230 * unit, room: width - left - margin * 1.4 });
  return [
    { kind: 'plate', colour: palette.ground, opacity: 1, radius: 0, x: 0, y: 0, width, height },
    { kind: 'picture', of: 'background', fit: 'filling', shape: 'ellipse', view: null, ...disc },
    ...guests,
    ...markIn(sheet, guests, palette.ink, 'plain'),
    ...wordsIn(sheet, { top: 0.2, bottom: waiting ? WAITING_COUNTDOWN.y - 0.03 : 1, room: left - margin - 24 * unit, largest: 116 }),
  ];
}

/** Portraits in a row over the edge between background and plain colour, with the words beneath; without portraits a broad band of words. */
function row(sheet: Sheet): PictureDrawing[] {
  const { width, height, margin, palette, unit, waiting } = sheet;
  const edge = Math.round(height * (waiting ? 0.3 : 0.52));
  const band: PictureDrawing = { kind: 'plate', colour: palette.ground, opacity: 1, radius: 0, x: 0, y: edge, width, height: height - edge };
  const line: PictureDrawing = { kind: 'plate', colour: palette.accent, opacity: 1, radius: 0, x: 0, y: edge, width, height: Math.round(7 * unit) };
  // On a waiting picture they stand on the edge: beneath it there is no room for both words and countdown.
  const size = waiting ? height * 0.26 : Math.min(270 * unit, height * 0.38);
  const hanging = waiting ? 0 : 0.2 * size;
  const guests = portraitsIn(sheet, { right: width - margin, bottom: edge + hanging, size, room: width * (waiting ? 0.5 : 0.72) });
  const words = wordsIn(sheet, {
    top: (edge + (guests.length ? hanging : 0)) / height + 0.04,
    bottom: waiting ? WAITING_COUNTDOWN.y - 0.02 : 1,
    room: width * 0.76 - margin,
    largest: 112,
  });
  return [whole(sheet), band, line, ...guests, ...markIn(sheet, guests, palette.ink, 'plate'), ...words];
}

const whole = ({ width, height }: Sheet): PictureDrawing => ({
  ...{ kind: 'picture', of: 'background', fit: 'filling', shape: 'box', view: null, x: 0, y: 0, width, height },
});

function shade({ width, height, palette }: Sheet, towards: 'bottom' | 'left', opacity: number): Extract<PictureDrawing, { kind: 'shade' }> {
  return { kind: 'shade', colour: palette.ground, opacity, towards, x: 0, y: 0, width, height };
}

/** A second slip for the countdown, from the left edge, beneath the one with the words. */
function countdownSlip(sheet: Sheet): PictureDrawing[] {
  const { width, height, palette, unit } = sheet;
  const { x, y, width: across, height: down } = WAITING_COUNTDOWN;
  const left = countdownLeft(sheet);
  const slip = rounded({ x: left, y: y * height - 14 * unit, width: (x + across) * width - left, height: down * height + 14 * unit });
  return [
    { kind: 'plate', colour: palette.ground, opacity: 1, radius: 0, ...slip },
    { kind: 'plate', colour: palette.accent, opacity: 1, radius: 0, ...slip, width: Math.round(8 * unit) },
  ];
}

const countdownLeft = ({ width, margin, unit }: Sheet): number => Math.round(Math.min(margin, WAITING_COUNTDOWN.x * width - 24 * unit));

const rounded = ({ x, y, width, height }: Box): Box => ({ x: Math.round(x), y: Math.round(y), width: Math.round(width), height: Math.round(height) });

/** The station's mark at the upper left, over what keeps it legible. */
function markIn(sheet: Sheet, guests: readonly Box[], colour: string, over: 'plain' | 'shaded' | 'plate' | 'quiet', left = sheet.margin): PictureDrawing[] {
  const { recipe, margin, unit, measure, facts, width, palette } = sheet;
  if (!recipe.mark) return [];
  const size = Math.round(58 * unit);
  const textLeft = left + size + Math.round(14 * unit);
  // Portraits that reach as high leave it less room.
  const right = Math.min(width * 0.7, ...guests.filter(({ y }) => y < margin + size + 10 * unit).map(({ x }) => x - 14 * unit));
  const fit = { widthPx: right - textLeft, lines: 1, largestPx: Math.round(32 * unit), smallestPx: Math.round(24 * unit), face: 'text' as const };
  const { sizePx, lines } = fitText(facts.stationName, fit, measure);
  const name = lines[0] ?? '';
  const across = textLeft - left + measure(name, sizePx, 'text') + 22 * unit;
  const plate: PictureDrawing[] =
    over === 'plain' || over === 'quiet'
      ? []
      : [
          {
            kind: 'plate',
            colour: palette.ground,
            opacity: over === 'plate' ? 1 : 0.72,
            radius: Math.round(4 * unit),
            ...rounded({ x: left - 12 * unit, y: margin - 10 * unit, width: across + 12 * unit, height: size + 20 * unit }),
          },
        ];
  return [
    ...plate,
    { kind: 'mark', colour, x: Math.round(left), y: margin, width: size, height: size },
    {
      kind: 'text',
      role: 'station',
      text: name,
      x: Math.round(textLeft),
      y: Math.round(margin + size * 0.66),
      sizePx,
      face: 'text',
      colour,
    },
  ];
}

interface Room {
  /** Upper and lower bound, in parts of the height. */
  top: number;
  bottom: number;
  /** Pixels across. */
  room: number;
  /** Of the title, for a height of 720. */
  largest: number;
  left?: number;
  /** Pixels kept free above and beneath, beside the margin. */
  around?: number;
}

/** Date, title and line, set from the bottom up in the largest size in which all of them fit. */
function wordsIn(sheet: Sheet, { top, bottom, room, largest, left = sheet.margin, around = 0 }: Room): PictureText[] {
  const { width, height, margin, unit, facts, palette, measure } = sheet;
  const lowest = Math.min(height - margin, height * bottom) - around;
  const highest = Math.max(height * top, margin + (sheet.recipe.mark ? 84 * unit : 0) + around);
  const cramped = sheet.waiting || lowest - highest < 200 * unit;
  const small = { lines: 1, largestPx: Math.round((cramped ? 38 : 44) * unit), smallestPx: Math.round(26 * unit), face: 'text' as const };
  const foot = lowest - (under(left, room, width, lowest, height) ? height * LENGTH_BADGE.height - margin : 0);
  const smallestPx = Math.round(30 * unit);
  const gap = Math.round(16 * unit);

  /** The words in one size; whether the title is whole, and where they begin. */
  const set = (titlePx: number, lines: number, withTail: boolean): { texts: PictureText[]; whole: boolean; top: number } => {
    const texts: PictureText[] = [];
    const title = fitText(facts.title, { widthPx: room, lines, largestPx: titlePx, smallestPx: Math.min(titlePx, smallestPx), face: 'display' }, measure);
    const lead = facts.when ? fitText(facts.when, { ...small, widthPx: room }, measure) : null;
    const tail = facts.line && withTail ? fitText(facts.line, { ...small, lines: 2, widthPx: room }, measure) : null;
    let y = foot;
    const put = (role: PictureTextRole, { sizePx, lines: words }: { sizePx: number; lines: string[] }, face: TypeFace, colour: string) => {
      for (const text of [...words].reverse()) {
        y -= sizePx * 0.24;
        texts.unshift({ kind: 'text', role, text, x: Math.round(left), y: Math.round(y), sizePx, face, colour });
        y -= sizePx * (LINE_HEIGHT - 0.24);
      }
    };
    if (tail) {
      put('line', tail, 'text', palette.ink);
      y -= gap * 0.7;
    }
    put('title', title, 'display', palette.ink);
    if (lead) {
      y -= gap * 0.5;
      put('when', lead, 'text', palette.accent);
    }
    const cut = title.lines.some((each) => each.endsWith('…')) && !facts.title.endsWith('…');
    return { texts, whole: !cut && title.sizePx >= titlePx - 4 * unit, top: y };
  };

  for (let titlePx = Math.round(largest * unit); titlePx >= smallestPx; titlePx -= Math.max(2, Math.round(4 * unit))) {
    // Two lines first: three only where two would be small.
    const { texts, whole, top: reached } = set(titlePx, titlePx > 74 * unit ? 2 : titlePx > 46 * unit ? 3 : 4, true);
    if (whole && reached >= highest) return texts;
  }
  // Too much for the room: the title is cut short, then the line goes.
  for (const [lines, withTail] of [
    [3, true],
    [2, true],
    [2, false],
    [1, false],
  ] as const) {
    const { texts, top: reached } = set(smallestPx, lines, withTail);
    if (reached >= highest) return texts;
  }
  return set(smallestPx, 1, false).texts;
}

/** Whether a line of this room would run under the length badge. */
const under = (left: number, room: number, width: number, bottom: number, height: number): boolean =>
  left + room > LENGTH_BADGE.x * width && bottom > LENGTH_BADGE.y * height;

/** Portraits side by side from the right; the more there are, the smaller. */
function portraitsIn(sheet: Sheet, { right, bottom, size, room }: { right: number; bottom: number; size: number; room: number }) {
  const guests = sheet.recipe.portraits ? sheet.facts.guests.slice(0, MOST_PORTRAITS) : [];
  if (!guests.length) return [];
  const each = Math.min(size, room / (1 + 0.97 * (guests.length - 1)));
  const across = each * 0.97;
  const first = right - each - across * (guests.length - 1);
  return guests.map(({ name }, guest) => ({
    kind: 'portrait' as const,
    of: guest,
    name,
    ring: sheet.palette.ground,
    ...rounded({ x: first + across * guest, y: bottom - each, width: each, height: each }),
  }));
}
