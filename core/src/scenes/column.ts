// A column of messages as they come, at the right of a scene: people make room for it, so that it stands over no face.
import type { Box, Drawing, Measure, Palette } from '../drawing/drawing';
import { fitText } from '../drawing/fit-text';
import { PROGRAMME, SAFE_MARGIN_PX } from '../drawing/programme';

export interface ColumnMessage {
  name: string;
  words: string;
}

/** More has no room. */
export const MOST_IN_COLUMN = 8;

const WIDTH = 344;
/** Players cover what lies further out; the station's mark has the upper corner. */
const BOX: Box = { x: PROGRAMME.width - WIDTH, y: 0, width: WIDTH, height: PROGRAMME.height };
const LEFT = BOX.x + 24;
const TEXT_WIDTH = PROGRAMME.width - SAFE_MARGIN_PX - LEFT;
const HEAD = 136;
const NAME = { sizePx: 20, line: 26 } as const;
const WORDS = { sizePx: 24, line: 30, lines: 4 } as const;
const GAP = 20;

/** Where a picture stands beside the column. */
export function besideColumn<Place extends Box>(place: Place): Place {
  const scale = BOX.x / PROGRAMME.width;
  const x = Math.round(place.x * scale);
  return { ...place, x, width: Math.round((place.x + place.width) * scale) - x };
}

/** The newest messages, the last at the foot, as many as there is room for above what lies over the scene. */
export function drawColumn(
  messages: readonly ColumnMessage[],
  { ground, ink, accent }: Palette,
  over: readonly Drawing<never>[],
  measure: Measure,
): Drawing<never>[] {
  const drawings: Drawing<never>[] = [
    { kind: 'plate', colour: ground, opacity: 1, radius: 0, ...BOX },
    { kind: 'plate', colour: accent, opacity: 1, radius: 0, ...BOX, width: 4 },
  ];
  const reaching = over.filter((each) => 'width' in each && each.x + each.width > BOX.x);
  let below = Math.min(PROGRAMME.height - SAFE_MARGIN_PX, ...reaching.map(({ y }) => y - GAP));
  for (const { name, words } of messages.slice(-MOST_IN_COLUMN).reverse()) {
    const fit = (text: string, { sizePx }: { sizePx: number }, lines: number, face: 'text') =>
      fitText(text, { widthPx: TEXT_WIDTH, lines, largestPx: sizePx, smallestPx: sizePx, face }, measure).lines;
    const said = fit(words, WORDS, WORDS.lines, 'text');
    const top = below - said.length * WORDS.line - NAME.line;
    if (top < HEAD) break;
    const [who = ''] = fit(name, NAME, 1, 'text');
    drawings.push({ kind: 'text', text: who, x: LEFT, y: top + NAME.sizePx, sizePx: NAME.sizePx, face: 'text', colour: accent });
    said.forEach((text, at) =>
      drawings.push({ kind: 'text', text, x: LEFT, y: top + NAME.line + at * WORDS.line + WORDS.sizePx, sizePx: WORDS.sizePx, face: 'text', colour: ink }),
    );
    below = top - GAP;
  }
  return drawings;
}
