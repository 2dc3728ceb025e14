// Where everything stands on a scene, as a list of things to draw. Measuring text comes in from outside, so that the same layout runs in a
// worker, on the server and in a test.
import type { Box, Drawing, Measure, Palette } from '../drawing/drawing';
import { isDark, mixed } from '../drawing/colours';
import { fitText } from '../drawing/fit-text';
import type { Instant } from '../time/instant';
import { SPONSOR_TURN_MS, type StrapStyle } from '../looks/look';
import { cardStaysUntil, drawCard, onPaper, type CardContent, type CardSource } from './cards';
import { band, drawGraphic, groundOf, type ShownGraphic } from './graphics';
import { besideColumn, drawColumn, type ColumnMessage } from './column';
import { isPersonSeat, type Scene, type SceneSeat, type Seat } from './scene';
import { PROGRAMME, SAFE_MARGIN_PX, WHOLE } from '../drawing/programme';
import { placesFor } from './slots';

/** Who or what fills a seat. */
export interface Seated {
  /** Empty: nothing is written with it. */
  name: string;
  caption: string;
  /** Whether there is a picture of it. A seat whose camera was pulled out is unseen, and keeps its place and name. */
  seen: boolean;
}

/** What the scenes of a show are made of. */
export interface SceneContent extends CardContent {
  /** The seats that are filled. */
  seated: Readonly<Partial<Record<Seat, Seated>>>;
  /** What is laid over it; null: nothing. */
  graphic: ShownGraphic | null;
  /** What was written, the oldest first, for scenes with a column of it; missing: nothing. */
  messages?: readonly ColumnMessage[];
  /** How names and captions are drawn; missing: with an edge. */
  straps?: StrapStyle;
  /** Whether the marks of sponsors stand in a corner by turns, wherever the station's own does. */
  sponsorsInCorner?: boolean;
}

/** The shapes of pictures, width by height; what is not known is taken for 16:9. */
export type Shapes = Readonly<Partial<Record<Seat, number>>>;

export type ProgrammeDrawing = Drawing<Seat | CardSource>;

/** Until when the drawing list of a scene stays as it is at `now`, if its content does. Infinity: nothing on it moves by itself. */
export const staysUntil = (scene: Scene, content: SceneContent, now: Instant): number =>
  scene.layout === 'card'
    ? cardStaysUntil(scene.card ?? 'holding', content, now)
    : sponsorAt(scene, content, now) === null
      ? Infinity
      : (Math.floor(now / SPONSOR_TURN_MS) + 1) * SPONSOR_TURN_MS;

/** Which sponsor stands in the corner at `now`; null: none does. */
function sponsorAt({ bug: marked }: Scene, { sponsors = 0, sponsorsInCorner }: SceneContent, now: Instant): number | null {
  return marked && sponsorsInCorner && sponsors > 0 ? Math.floor(now / SPONSOR_TURN_MS) % sponsors : null;
}

/** The drawing list of one scene at `now`, first at the back, in programme pixels. */
export function layOut(scene: Scene, content: SceneContent, now: Instant, measure: Measure, shapes: Shapes = {}): ProgrammeDrawing[] {
  if (scene.layout === 'card') return drawCard(scene.card ?? 'holding', content, now, measure);
  const column = scene.messages && content.messages?.length ? content.messages : null;
  const all = placesOn(scene, (seat) => content.seated[seat] !== undefined, shapes);
  const placed = column ? all.map((each) => ({ ...each, place: besideColumn(each.place) })) : all;
  const drawings = placed.flatMap(({ place, seat, view }) => seatIn(place, { seat, view }, content));
  // The strap is the first one's who fills the picture; beside each other everybody has a name of their own.
  const graphic = content.graphic ? drawGraphic(content.graphic, content.palette, placed.length < 2 || scene.layout === 'inset', measure, content.straps) : [];
  const covered = groundOf(graphic);
  const named = scene.straps ? placed.map(({ place, seat }) => nameIn(place, seat, content, measure)) : [];
  // A name that would stand beneath the graphic makes way.
  const names = named.filter(([plate]) => !covered || !plate || !('width' in plate) || apart(plate, covered)).flat();
  // A seat that fills the whole hides what is behind it.
  const ground: ProgrammeDrawing[] = placed[0] && fills(placed[0].place) ? [] : [background()];
  const sponsor = sponsorAt(scene, content, now);
  const marks = [...(scene.bug ? bug(content.palette) : []), ...(sponsor === null ? [] : onPaper(content.palette, SPONSOR_CORNER, sponsor))];
  const written = column ? drawColumn(column, content.palette, graphic, measure) : [];
  return [...ground, ...drawings, ...written, ...names, ...graphic, ...marks];
}

/** Where the filled seats of a scene stand. */
export function placesOn({ layout, seats }: Scene, filled: (seat: Seat) => boolean, shapes: Shapes = {}): (SceneSeat & { place: Box })[] {
  const taken = seats.filter(({ seat }) => filled(seat));
  const places = placesFor(
    layout,
    taken.map(({ seat }) => ({ shape: shapes[seat] ?? WIDE, whole: !isPersonSeat(seat) })),
  );
  return places.map((place, at) => ({ ...taken[at]!, place }));
}

const WIDE = 16 / 9;

/**
 * The size in pixels in which the picture of a seat is best brought, so that it fills its place without being made smaller first: whoever
 * captures a picture makes it smaller at far less cost than whoever draws it.
 */
export function sizeWanted({ seat, view, place }: SceneSeat & { place: Box }, shape = WIDE): { width: number; height: number } {
  const scale = view?.zoom ?? 1;
  const height = isPersonSeat(seat) ? Math.max(place.height, place.width / shape) * scale : place.height * scale;
  const down = Math.min(PROGRAMME.height, Math.ceil(height));
  return { width: Math.min(PROGRAMME.width, Math.ceil(down * shape)), height: down };
}

const background = (): ProgrammeDrawing => ({ kind: 'picture', of: 'background', fit: 'filling', shape: 'box', view: null, ...WHOLE });
const apart = (a: Box, b: Box): boolean => a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y;
const fills = ({ width, height }: Box): boolean => width === PROGRAMME.width && height === PROGRAMME.height;

function seatIn(place: Box, { seat, view }: SceneSeat, { seated, palette }: SceneContent): ProgrammeDrawing[] {
  const { name, seen } = seated[seat]!;
  if (seen) return [{ kind: 'picture', of: seat, fit: isPersonSeat(seat) ? 'filling' : 'whole', shape: 'box', view, ...place }];
  // Nobody to be seen: the place is kept, with who it is.
  const size = Math.round(Math.min(place.width, place.height) * 0.42);
  const middle = { x: Math.round(place.x + (place.width - size) / 2), y: Math.round(place.y + (place.height - size) / 2), width: size, height: size };
  return [
    { kind: 'plate', colour: unseenGround(palette), opacity: 1, radius: 0, ...place },
    isPersonSeat(seat) ? { kind: 'portrait', of: -1, name, ring: palette.ground, ...middle } : { kind: 'mark', colour: palette.ink, ...middle },
  ];
}

const unseenGround = ({ ground, ink }: Palette): string => mixed(ground, ink, isDark(ground) ? 0.08 : 0.12);

/** Of a whole picture the strap across its lower part; of a smaller one a plate in its lower corner. */
function nameIn(place: Box, seat: Seat, { seated, palette, straps }: SceneContent, measure: Measure): ProgrammeDrawing[] {
  const { name, caption } = seated[seat]!;
  if (!isPersonSeat(seat) || !name) return [];
  return fills(place)
    ? band(name, caption, { ground: palette.ground, ink: palette.ink, edge: palette.accent }, measure, straps)
    : plateIn(place, name, palette, measure);
}

const PLATE = { height: 42, pad: 14, edge: 5, inset: 12 } as const;

/** The name alone, in the lower left corner of a picture: beneath a face, and inside what players leave free. */
function plateIn(place: Box, name: string, palette: Palette, measure: Measure): ProgrammeDrawing[] {
  const left = Math.max(place.x + PLATE.inset, SAFE_MARGIN_PX);
  const right = Math.min(place.x + place.width - PLATE.inset, PROGRAMME.width - SAFE_MARGIN_PX);
  const foot = Math.min(place.y + place.height - PLATE.inset, PROGRAMME.height - SAFE_MARGIN_PX);
  const widthPx = right - left - 2 * PLATE.pad;
  if (widthPx < 40) return [];
  const { sizePx, lines } = fitText(name, { widthPx, lines: 1, largestPx: 24, smallestPx: 16, face: 'text' }, measure);
  const words = lines[0] ?? '';
  const width = Math.ceil(measure(words, sizePx, 'text')) + 2 * PLATE.pad;
  const top = foot - PLATE.height;
  return [
    { kind: 'plate', colour: palette.ground, opacity: 0.92, radius: 0, x: left, y: top, width, height: PLATE.height },
    { kind: 'plate', colour: palette.accent, opacity: 1, radius: 0, x: left, y: top, width: PLATE.edge, height: PLATE.height },
    { kind: 'text', text: words, x: left + PLATE.pad, y: top + 29, sizePx, face: 'text', colour: palette.ink },
  ];
}

const BUG_PX = 52;
/** The upper left corner: the station's own mark has the right one. */
const SPONSOR_CORNER: Box = { x: SAFE_MARGIN_PX, y: SAFE_MARGIN_PX - 20, width: 168, height: 72 };

/** The station's mark in the upper right corner, over what keeps it seen. */
function bug({ ground, ink }: Palette): ProgrammeDrawing[] {
  const box = { x: PROGRAMME.width - SAFE_MARGIN_PX - BUG_PX, y: SAFE_MARGIN_PX - 12, width: BUG_PX, height: BUG_PX };
  return [
    { kind: 'plate', colour: ground, opacity: 0.55, radius: BUG_PX, x: box.x - 8, y: box.y - 8, width: BUG_PX + 16, height: BUG_PX + 16 },
    { kind: 'mark', colour: ink, ...box },
  ];
}
