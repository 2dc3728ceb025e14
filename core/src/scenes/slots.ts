// Where pictures stand in a layout, for any number of them and any shape. Only an inset lies over another, and means to.
import type { Box } from '../drawing/drawing';
import { PROGRAMME, WHOLE } from '../drawing/programme';
import type { SceneLayout } from './scene';

/** Where pictures stand that do not fill the whole. */
const FLOOR: Box = { x: 40, y: 40, width: PROGRAMME.width - 80, height: PROGRAMME.height - 80 };
const GAP = 16;
/** The part of the width that the one has that leads. */
const LEADS = 0.76;
/** People fill a place between these two shapes; what is shown whole has its own. */
const FACES = { tallest: 1, widest: 16 / 9 } as const;
const INSET = { width: 288, height: 192 } as const;

/** What is to be placed: the shape of its picture, width by height, and whether all of it has to be seen. */
export interface ToPlace {
  shape: number;
  whole: boolean;
}

/** A place for each, in their order. One that is alone has all there is, whatever the layout. */
export function placesFor(layout: SceneLayout, pictures: readonly ToPlace[]): Box[] {
  const [first, ...others] = pictures;
  if (!first || layout === 'card') return [];
  if (!others.length || layout === 'one') return [within(WHOLE, first)];
  switch (layout) {
    case 'row':
      return inRows(FLOOR, pictures, 1);
    case 'grid':
      return inRows(FLOOR, pictures, bestRows(pictures));
    case 'lead':
      return leading(first, others);
    case 'inset':
      return [within(WHOLE, first), ...insets(others.length)];
  }
}

/** The largest box for a picture in the middle of another. */
function within({ x, y, width, height }: Box, { shape, whole }: ToPlace): Box {
  if (!whole) return { x, y, width, height };
  const across = Math.min(width, Math.round(height * shape));
  const down = Math.min(height, Math.round(width / shape));
  return { x: Math.round(x + (width - across) / 2), y: Math.round(y + (height - down) / 2), width: across, height: down };
}

/** A cell of a row, no wider and no taller than faces want it. */
function cellFor(width: number, height: number): { width: number; height: number } {
  return { width: Math.floor(Math.min(width, height * FACES.widest)), height: Math.floor(Math.min(height, width / FACES.tallest)) };
}

const perRow = (count: number, rows: number): number => Math.ceil(count / rows);

/** In how many rows the pictures become largest. */
function bestRows(pictures: readonly ToPlace[]): number {
  const count = pictures.length;
  const area = (rows: number) => {
    const columns = perRow(count, rows);
    const cell = cellFor((FLOOR.width - GAP * (columns - 1)) / columns, (FLOOR.height - GAP * (rows - 1)) / rows);
    return cell.width * cell.height;
  };
  return Array.from({ length: count }, (_, at) => at + 1).reduce((best, rows) => (area(rows) > area(best) ? rows : best), 1);
}

/** All alike, the last row in the middle. */
function inRows(floor: Box, pictures: readonly ToPlace[], rows: number): Box[] {
  const columns = perRow(pictures.length, rows);
  const cell = cellFor((floor.width - GAP * (columns - 1)) / columns, (floor.height - GAP * (rows - 1)) / rows);
  const top = floor.y + (floor.height - rows * cell.height - (rows - 1) * GAP) / 2;
  return pictures.map((picture, at) => {
    const row = Math.floor(at / columns);
    const inThisRow = Math.min(columns, pictures.length - row * columns);
    const left = floor.x + (floor.width - inThisRow * cell.width - (inThisRow - 1) * GAP) / 2;
    const box = { x: Math.round(left + (at % columns) * (cell.width + GAP)), y: Math.round(top + row * (cell.height + GAP)), ...cell };
    return within(box, picture);
  });
}

/** One large at the left, the others in a column beside it, as high as the large one at most. */
function leading(first: ToPlace, others: readonly ToPlace[]): Box[] {
  const width = Math.round((FLOOR.width - GAP) * LEADS);
  const largest = within({ ...FLOOR, width, height: Math.min(FLOOR.height, Math.round(width / FACES.widest)) }, first);
  const large = { ...largest, y: Math.round(FLOOR.y + (FLOOR.height - largest.height) / 2) };
  const column = { x: FLOOR.x + width + GAP, y: FLOOR.y, width: FLOOR.width - width - GAP, height: FLOOR.height };
  return [large, ...inRows(column, others, others.length)];
}

/** Along the lower edge, from the right. */
function insets(count: number): Box[] {
  const shrink = Math.min(1, (FLOOR.width - (count - 1) * GAP) / (count * INSET.width));
  const [width, height] = [Math.floor(INSET.width * shrink), Math.floor(INSET.height * shrink)];
  return Array.from({ length: count }, (_, at) => ({
    x: FLOOR.x + FLOOR.width - (count - at) * width - (count - 1 - at) * GAP,
    y: FLOOR.y + FLOOR.height - height,
    width,
    height,
  }));
}
