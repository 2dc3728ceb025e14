// What is laid over a scene at a touch: names and captions, a list, a call to do something, a moving line. In the look's own colours, beneath faces and
// within what players leave free.
import { contrastRatio, mixed, rgbOf } from '../drawing/colours';
import type { Box, Drawing, Measure, Palette } from '../drawing/drawing';
import { fitText } from '../drawing/fit-text';
import type { StrapStyle } from '../looks/look';
import { HOUR_MS, type Instant } from '../time/instant';
import { PROGRAMME, SAFE_MARGIN_PX } from '../drawing/programme';
import { shares } from '../polls/polls';

export const GRAPHIC_KINDS = ['strap', 'list', 'call', 'crawl'] as const;
export type GraphicKind = (typeof GRAPHIC_KINDS)[number];
/** What somebody asked, and what everybody is asked, stand there as the prepared ones do. */
export type ShownKind = GraphicKind | 'question' | 'poll';

export interface Graphic {
  id: string;
  kind: GraphicKind;
  /** The name, the heading, the call, or the moving line. May hold placeholders. */
  text: string;
  /** The caption, the lines of a list, where a call leads. May hold placeholders. */
  more: string;
  /** After so many seconds it goes by itself; null: when somebody hides it. */
  hidesAfterS: number | null;
  /** The cue with which it is next; null: none. */
  cue: string | null;
  /** The start of the show for which somebody last looked at it, in ms since the epoch; null: nobody has. */
  lookedAtFor: number | null;
}

/** One that is shown, its placeholders filled in. `since`: by the server's clock. */
export interface ShownGraphic extends Pick<Graphic, 'id' | 'text' | 'more'> {
  kind: ShownKind;
  since: Instant;
}

type GraphicDrawing = Drawing<never>;

const BAND = { height: 100, foot: PROGRAMME.height - SAFE_MARGIN_PX, pad: 30, edge: 8, most: 760 } as const;
const LIST = { width: 400, top: 120, pad: 26, most: 7 } as const;
const CRAWL = { height: 54, sizePx: 30, pxPerS: 150 } as const;
const QUESTION = { most: 860, pad: 26 } as const;
/** Beside a face in the middle, not over it. */
const POLL = { width: 470, pad: 24, row: 44, bar: 10, shareWidth: 70 } as const;
const WIDEST = PROGRAMME.width - 2 * SAFE_MARGIN_PX;

/**
 * The drawing list of a graphic. `besideRoom`: whether there is room at the side of the picture, as where one person fills it; else a list stands in
 * the band beneath faces too.
 */
export function drawGraphic(graphic: ShownGraphic, palette: Palette, besideRoom: boolean, measure: Measure, style: StrapStyle = 'edge'): GraphicDrawing[] {
  const { kind, text, more, since } = graphic;
  switch (kind) {
    case 'strap':
      return band(text, more, { ground: palette.ground, ink: palette.ink, edge: palette.accent }, measure, style);
    case 'call':
      // Turned round, so that it is no name.
      return [...band(text, more, { ground: palette.accent, ink: palette.ground, edge: palette.ink }, measure), ...codeOf(more)];
    case 'list': {
      const lines = linesOf(more);
      return besideRoom
        ? list(text, lines, palette, measure)
        : band(text, lines.join(' · '), { ground: palette.ground, ink: palette.ink, edge: palette.accent }, measure, style);
    }
    case 'crawl':
      return crawl(text, palette, since);
    case 'question':
      return question(text, more, palette, measure);
    case 'poll':
      return poll(text, more, palette, measure);
  }
}

/** What a telephone reads from the programme as it is seen on a small screen. */
const CODE_PX = 176;
const ADDRESS = /^(https?:\/\/\S+|([\w-]+\.)+[a-z]{2,}(:\d+)?(\/\S*)?)$/i;

/** Where a call leads, if that is an address: written or shown as people write it. */
export function addressIn(text: string): string | null {
  const words = text
    .trim()
    .split(/\s+/)
    .filter((word) => ADDRESS.test(word));
  const [first] = words;
  return first === undefined ? null : /^https?:/i.test(first) ? first : `https://${first}`;
}

/** At the right, where the band does not reach. */
function codeOf(text: string): GraphicDrawing[] {
  const of = addressIn(text);
  const x = PROGRAMME.width - SAFE_MARGIN_PX - CODE_PX;
  return of === null ? [] : [{ kind: 'code', of, x, y: BAND.foot - CODE_PX, width: CODE_PX, height: CODE_PX }];
}

/** Where a graphic stands: what else would be written there makes way. */
export function groundOf(drawings: readonly GraphicDrawing[]): Box | null {
  const plate = drawings.find((drawing) => drawing.kind === 'plate');
  return plate ? { x: plate.x, y: plate.y, width: plate.width, height: plate.height } : null;
}

const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);

interface BandColours {
  ground: string;
  ink: string;
  edge: string;
}

/** Two lines across the lower part, as wide as they are. */
export function band(first: string, second: string, colours: BandColours, measure: Measure, style: StrapStyle = 'edge'): GraphicDrawing[] {
  const { ground, ink, edge } = colours;
  const top = BAND.foot - BAND.height;
  const x = SAFE_MARGIN_PX + BAND.pad;
  const name = fitText(first, { widthPx: BAND.most, lines: 1, largestPx: 40, smallestPx: 24, face: 'display' }, measure);
  const caption = fitText(second, { widthPx: BAND.most, lines: 1, largestPx: 24, smallestPx: 18, face: 'text' }, measure);
  const [words, beneath] = [name.lines[0] ?? '', caption.lines[0] ?? ''];
  const width = Math.ceil(Math.max(measure(words, name.sizePx, 'display'), measure(beneath, caption.sizePx, 'text'))) + 2 * BAND.pad;
  const whole = { x: SAFE_MARGIN_PX, y: top, width, height: BAND.height };
  // The ground lies under all of it: what makes way for a strap looks at that.
  const plate: GraphicDrawing = { kind: 'plate', colour: ground, opacity: 0.94, radius: 0, ...whole };
  const solid = (box: Partial<Box>): GraphicDrawing => ({ kind: 'plate', colour: edge, opacity: 1, radius: 0, ...whole, ...box });
  // On a block the name is written in whichever of the two stands out from it.
  const nameInk = style === 'block' ? moreLegible(edge, ground, ink) : ink;
  const dressing: Record<StrapStyle, GraphicDrawing[]> = {
    edge: [solid({ width: BAND.edge })],
    lines: [solid({ height: 4 }), solid({ y: BAND.foot - 4, height: 4 })],
    block: [solid({ height: beneath ? 60 : BAND.height })],
  };
  return [
    plate,
    ...dressing[style],
    { kind: 'text', text: words, x, y: top + (beneath ? (style === 'block' ? 44 : 48) : 62), sizePx: name.sizePx, face: 'display', colour: nameInk },
    ...(beneath
      ? [
          {
            kind: 'text' as const,
            text: beneath,
            x,
            y: top + (style === 'block' ? 87 : 80),
            sizePx: caption.sizePx,
            face: 'text' as const,
            colour: mixed(ink, ground, 0.12),
          },
        ]
      : []),
  ];
}

const moreLegible = (on: string, ...inks: readonly string[]): string => {
  const contrast = (ink: string) => contrastRatio(rgbOf(ink), rgbOf(on));
  return inks.reduce((best, ink) => (contrast(ink) > contrast(best) ? ink : best));
};

/** A panel at the left, as tall as its lines. */
function list(heading: string, lines: readonly string[], { ground, ink, accent }: Palette, measure: Measure): GraphicDrawing[] {
  const widthPx = LIST.width - 2 * LIST.pad;
  const head = fitText(heading, { widthPx, lines: 2, largestPx: 38, smallestPx: 24, face: 'display' }, measure);
  const x = SAFE_MARGIN_PX + LIST.pad;
  let y = LIST.top + LIST.pad;
  const drawn: GraphicDrawing[] = [];
  const put = (text: string, sizePx: number, face: 'display' | 'text', colour: string) => {
    y += sizePx;
    drawn.push({ kind: 'text', text, x, y, sizePx, face, colour });
    y += Math.round(sizePx * 0.36);
  };
  for (const line of head.lines) put(line, head.sizePx, 'display', ink);
  y += 8;
  const shown = lines.length > LIST.most ? [...lines.slice(0, LIST.most - 1), `and ${lines.length - LIST.most + 1} more`] : lines;
  for (const line of shown) {
    const { sizePx, lines: cut } = fitText(line, { widthPx, lines: 1, largestPx: 26, smallestPx: 20, face: 'text' }, measure);
    put(cut[0] ?? '', sizePx, 'text', mixed(ink, ground, 0.1));
  }
  const height = y + LIST.pad - LIST.top - 8;
  return [
    { kind: 'plate', colour: ground, opacity: 0.92, radius: 0, x: SAFE_MARGIN_PX, y: LIST.top, width: LIST.width, height },
    { kind: 'plate', colour: accent, opacity: 1, radius: 0, x: SAFE_MARGIN_PX, y: LIST.top, width: LIST.width, height: 6 },
    ...drawn,
  ];
}

/** What somebody asks, in up to three lines, and who they are beneath it: taller than a name, and with the edge above it, so that it is none. */
function question(words: string, from: string, { ground, ink, accent }: Palette, measure: Measure): GraphicDrawing[] {
  const { sizePx, lines } = fitText(words, { widthPx: QUESTION.most, lines: 3, largestPx: 36, smallestPx: 24, face: 'display' }, measure);
  const caption = fitText(from, { widthPx: QUESTION.most, lines: 1, largestPx: 24, smallestPx: 18, face: 'text' }, measure);
  const beneath = caption.lines[0] ?? '';
  const step = Math.round(sizePx * 1.2);
  const height = QUESTION.pad + lines.length * step + 12 + caption.sizePx + QUESTION.pad;
  const widest = Math.max(measure(beneath, caption.sizePx, 'text'), ...lines.map((line) => measure(line, sizePx, 'display')));
  const whole: Box = { x: SAFE_MARGIN_PX, y: BAND.foot - height, width: Math.ceil(widest) + 2 * QUESTION.pad, height };
  const x = whole.x + QUESTION.pad;
  const top = whole.y + QUESTION.pad;
  return [
    { kind: 'plate', colour: ground, opacity: 0.94, radius: 0, ...whole },
    { kind: 'plate', colour: accent, opacity: 1, radius: 0, ...whole, height: 6 },
    ...lines.map((text, at) => ({ kind: 'text' as const, text, x, y: top + at * step + sizePx, sizePx, face: 'display' as const, colour: ink })),
    {
      ...{ kind: 'text', text: beneath, x, y: top + lines.length * step + 8 + caption.sizePx, sizePx: caption.sizePx, face: 'text' },
      colour: mixed(ink, ground, 0.12),
    },
  ];
}

/** A question to everybody, with a bar for each answer as votes come: by words and figures as well as by length. `lines`: see `asPictureLines`. */
function poll(words: string, lines: string, { ground, ink, accent }: Palette, measure: Measure): GraphicDrawing[] {
  const rows = lines.split('\n');
  const caption = rows.pop() ?? '';
  const options = rows.map((row) => ({ votes: Number(row.split('\t')[0]) || 0, name: row.split('\t')[1] ?? '' }));
  const said = shares(options.map(({ votes }) => votes));
  const widthPx = POLL.width - 2 * POLL.pad;
  const head = fitText(words, { widthPx, lines: 3, largestPx: 30, smallestPx: 22, face: 'display' }, measure);
  const step = Math.round(head.sizePx * 1.2);
  const height = POLL.pad + head.lines.length * step + 8 + options.length * POLL.row + 30 + POLL.pad;
  const whole: Box = { x: SAFE_MARGIN_PX, y: BAND.foot - height, width: POLL.width, height };
  const x = whole.x + POLL.pad;
  const right = whole.x + whole.width - POLL.pad;
  const top = whole.y + POLL.pad;
  const rowsTop = top + head.lines.length * step + 8;
  const most = Math.max(1, ...options.map(({ votes }) => votes));
  const bar = (y: number, width: number, opacity: number): GraphicDrawing => ({
    kind: 'plate',
    colour: accent,
    opacity,
    radius: 0,
    x,
    y,
    width,
    height: POLL.bar,
  });
  return [
    { kind: 'plate', colour: ground, opacity: 0.94, radius: 0, ...whole },
    { kind: 'plate', colour: accent, opacity: 1, radius: 0, ...whole, height: 6 },
    ...head.lines.map((text, at) => ({
      kind: 'text' as const,
      text,
      x,
      y: top + at * step + head.sizePx,
      sizePx: head.sizePx,
      face: 'display' as const,
      colour: ink,
    })),
    ...options.flatMap(({ votes, name }, at): GraphicDrawing[] => {
      const y = rowsTop + at * POLL.row;
      const label = fitText(name, { widthPx: widthPx - POLL.shareWidth, lines: 1, largestPx: 22, smallestPx: 16, face: 'text' }, measure);
      const share = `${said[at]} %`;
      return [
        { kind: 'text', text: label.lines[0] ?? '', x, y: y + 22, sizePx: label.sizePx, face: 'text', colour: ink },
        { kind: 'text', text: share, x: right - Math.ceil(measure(share, 22, 'text')), y: y + 22, sizePx: 22, face: 'text', colour: ink },
        bar(y + 29, widthPx, 0.22),
        ...(votes ? [bar(y + 29, Math.round((widthPx * votes) / most), 1)] : []),
      ];
    }),
    { kind: 'text', text: caption, x, y: whole.y + height - POLL.pad, sizePx: 18, face: 'text', colour: mixed(ink, ground, 0.12) },
  ];
}

/** A line that moves, from edge to edge of what can be read. */
function crawl(text: string, { ground, ink, accent }: Palette, since: Instant): GraphicDrawing[] {
  const top = PROGRAMME.height - SAFE_MARGIN_PX - CRAWL.height;
  const box: Box = { x: SAFE_MARGIN_PX, y: top, width: WIDEST, height: CRAWL.height };
  return [
    { kind: 'plate', colour: ground, opacity: 0.94, radius: 0, ...box },
    { kind: 'plate', colour: accent, opacity: 1, radius: 0, ...box, height: 4 },
    {
      kind: 'crawl',
      text: text.replace(/\s+/g, ' ').trim(),
      sizePx: CRAWL.sizePx,
      face: 'text',
      colour: ink,
      since,
      pxPerS: CRAWL.pxPerS,
      ...box,
      y: top + 4,
      height: CRAWL.height - 4,
    },
  ];
}

/** The graphic that is next: what comes with the cue that has begun since, else the one after the last that was shown. */
export function graphicAfter<Any extends Pick<Graphic, 'id' | 'cue'>>(all: readonly Any[], last: string | null, begunCue: string | null): Any | null {
  const ofCue = begunCue === null ? undefined : all.find(({ cue }) => cue === begunCue);
  if (ofCue) return ofCue;
  return all[last === null ? 0 : all.findIndex(({ id }) => id === last) + 1] ?? null;
}

/** A show that was moved by less is the same evening. */
const SAME_EVENING_MS = 12 * HOUR_MS;

/** Whether it was made for another evening, and nobody has looked at it since. */
export const isStale = ({ lookedAtFor }: Pick<Graphic, 'lookedAtFor'>, startsAt: Instant): boolean =>
  lookedAtFor !== null && Math.abs(startsAt - lookedAtFor) >= SAME_EVENING_MS;
