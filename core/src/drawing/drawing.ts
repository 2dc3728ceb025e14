// The one language in which everything is drawn: pictures of shows on the server, the programme in a worker of the browser. A list of things
// to draw, first at the back, in pixels of its picture. A picture names its source; whoever paints knows what that looks like at this moment.

export type TypeFace = 'display' | 'text';
/** How wide a text is in pixels. */
export type Measure = (text: string, sizePx: number, face: TypeFace) => number;

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Which part of a picture is taken: enlarged `zoom` times around a point of it, given in parts of its width and height. */
export interface View {
  zoom: number;
  x: number;
  y: number;
}

/** Colours as `#rrggbb`. */
export interface Palette {
  ground: string;
  ink: string;
  accent: string;
}

/** The colours of those who have chosen none. */
export const OWN_PALETTE: Palette = { ground: '#0c2227', ink: '#fbf8f0', accent: '#e7cf9a' };

/** A line of text: `x` is its left edge, `y` its baseline. */
export interface DrawnText {
  kind: 'text';
  text: string;
  x: number;
  y: number;
  sizePx: number;
  face: TypeFace;
  colour: string;
}

/** `Of`: the names of the sources that a list may speak of. */
export type Drawing<Of extends string = string> =
  /** A source: filling the box with its middle, or whole within it. `view`: which part of it fills the box; null: as much as can be. */
  | ({ kind: 'picture'; of: Of; fit: 'filling' | 'whole'; shape: 'box' | 'ellipse'; view: View | null } & Box)
  | ({ kind: 'plate'; colour: string; opacity: number; radius: number } & Box)
  /** From nothing to the whole colour towards one side. */
  | ({ kind: 'shade'; colour: string; opacity: number; towards: 'bottom' | 'left' } & Box)
  /** Somebody within a ring: their portrait, or where there is none the first letters of their name. */
  | ({ kind: 'portrait'; of: number; name: string; ring: string } & Box)
  /** The look's logo, or the lantern where it has none; drawn within the box, from its left edge. */
  | ({ kind: 'mark'; colour: string } & Box)
  /** A line of text that moves through its box from right to left, again and again, `since` a moment of the server's clock in ms. */
  | ({ kind: 'crawl'; text: string; sizePx: number; face: TypeFace; colour: string; since: number; pxPerS: number } & Box)
  /** A code that telephones read (ISO/IEC 18004), square, dark on light, with its quiet zone. */
  | ({ kind: 'code'; of: string } & Box)
  | DrawnText;

/** The first letters of the first and the last name; titles are no names. */
export function initialsOf(name: string): string {
  const words = name.split(/\s+/).filter((word) => word && !/^(dr|prof|mr|mrs|ms|mx)\.?$/i.test(word));
  const first = (word: string) => [...new Intl.Segmenter().segment(word)][0]?.segment.toUpperCase() ?? '';
  return words.length < 2 ? first(words[0] ?? '') : first(words[0]!) + first(words.at(-1)!);
}
