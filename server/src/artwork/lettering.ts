// Letters as outlines, from the fonts that ship with the product: the same on every machine, and measured exactly as
// they are drawn, or from a font of the station's own. Texts of other scripts are set in fonts that hold them; what no font holds is told.
import { isShipped, OWN_LETTERS, type LookLetters, type Measure, type TypeFace } from '@lantern/core';
import bidiFactory from 'bidi-js';
import * as fontkit from 'fontkit';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

interface Family {
  name: string;
  folder: string;
  weight: number;
  /** Ranges of characters, by the name of the file that holds them. */
  subsets: [string, [number, number][]][];
}

/** How heavy the two faces of a look are written, then families for other scripts, in the order in which they are asked. */
const WEIGHTS: Record<TypeFace, number> = { display: 700, text: 600 };
const FALLBACKS: [string, number][] = [
  ['noto-sans', 700],
  ['noto-sans-hebrew', 700],
  ['noto-sans-arabic', 700],
  ['noto-sans-thai', 700],
  ['do-hyeon', 400],
];
/** Han characters are asked of the one of these that holds most of the text: two hands in one line look broken. */
const HAN: [string, number][] = [
  ['kosugi', 400],
  ['zcool-xiaowei', 400],
];
const LAST: [string, number][] = [['noto-emoji', 700]];
/** Joins letters or chooses how one is shown; has no shape of its own. */
const SHAPELESS = /[\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufe00-\ufe0f\u{1f3fb}-\u{1f3ff}\u00ad]/u;

const bidi = bidiFactory();
const families = new Map<string, Family>();
const fonts = new Map<string, fontkit.Font>();
const advances = new Map<string, number>();
const MOST_REMEMBERED = 20_000;

/** A stretch of a text in one font and one direction, in the order of writing. */
interface Run {
  text: string;
  font: fontkit.Font;
  level: number;
}

/** The letters of a look. */
export class Letters {
  /** `names`: those of the look. `own`: the files of its own fonts, by their identifiers; without its file the product's letters stand for one. */
  constructor(
    private readonly names: LookLetters = OWN_LETTERS,
    private readonly own: ReadonlyMap<string, Buffer> = new Map(),
  ) {}

  /** The width of a line in pixels. */
  readonly measure: Measure = (text, sizePx, face) => {
    const key = `${this.names[face]} ${face} ${text}`;
    let advance = advances.get(key);
    if (advance === undefined) {
      advance = this.runsOf(text, face).runs.reduce((sum, { text: part, font }) => sum + font.layout(part).advanceWidth / font.unitsPerEm, 0);
      if (advances.size > MOST_REMEMBERED) advances.clear();
      advances.set(key, advance);
    }
    return advance * sizePx;
  };

  /** The outlines of a line as SVG path data, its baseline beginning at `x`, `y`. */
  path(text: string, x: number, y: number, sizePx: number, face: TypeFace): string {
    let at = x;
    let path = '';
    for (const { text: part, font, level } of inReadingOrder(this.runsOf(text, face).runs)) {
      const scale = sizePx / font.unitsPerEm;
      const { glyphs, positions } = font.layout(part, undefined, undefined, undefined, level % 2 ? 'rtl' : 'ltr');
      for (const [index, glyph] of glyphs.entries()) {
        const { xAdvance, xOffset, yOffset } = positions[index]!;
        path += glyph.path
          .scale(scale, -scale)
          .translate(at + xOffset * scale, y - yOffset * scale)
          .toSVG();
        at += xAdvance * scale;
      }
    }
    return path;
  }

  /** Characters of a text that no font here can draw. */
  undrawable(text: string, face: TypeFace = 'text'): string[] {
    return this.runsOf(text, face).missing;
  }

  private runsOf(text: string, face: TypeFace): { runs: Run[]; missing: string[] } {
    const name = this.names[face];
    const own = this.own.get(name);
    return runsOf(text, own ? ownFont(name, own) : [isShipped(name) ? name : OWN_LETTERS[face], WEIGHTS[face]]);
  }
}

const ownFonts = new Map<string, fontkit.Font>();
const MOST_OWN_FONTS = 20;

/** A font of a station's own, which was looked at when it came. */
function ownFont(id: string, file: Buffer): fontkit.Font {
  let font = ownFonts.get(id);
  if (!font) {
    font = fontkit.create(file) as fontkit.Font;
    if (ownFonts.size >= MOST_OWN_FONTS) ownFonts.clear();
    ownFonts.set(id, font);
  }
  return font;
}

function runsOf(text: string, first: [string, number] | fontkit.Font): { runs: Run[]; missing: string[] } {
  const { levels } = bidi.getEmbeddingLevels(text, 'auto');
  const own = Array.isArray(first) ? null : first;
  const order = [
    ...(Array.isArray(first) ? [first] : [[OWN_LETTERS.text, WEIGHTS.text] satisfies [string, number]]),
    ...FALLBACKS,
    ...byCoverage(text),
    ...LAST,
  ];
  const runs: Run[] = [];
  const missing: string[] = [];
  let offset = 0;
  for (const character of text) {
    const level = levels[offset] ?? 0;
    offset += character.length;
    const last = runs.at(-1);
    const code = character.codePointAt(0)!;
    if (SHAPELESS.test(character)) {
      if (last?.level === level) last.text += character;
      continue;
    }
    // Marks and spaces stay with the letters before them where that font has them.
    const stays = last?.level === level && last.font.hasGlyphForCodePoint(code) && /[\s\p{M}\p{P}]/u.test(character);
    const font = stays ? last.font : own?.hasGlyphForCodePoint(code) ? own : fontFor(code, order);
    if (!font) {
      if (!missing.includes(character)) missing.push(character);
      continue;
    }
    const shown = level % 2 ? (bidi.getMirroredCharacter(character) ?? character) : character;
    if (last?.font === font && last.level === level) last.text += shown;
    else runs.push({ text: shown, font, level });
  }
  return { runs, missing };
}

/** Unicode Bidirectional Algorithm, rule L2: from the highest level to the lowest odd one, stretches are turned round. */
function inReadingOrder(runs: Run[]): Run[] {
  const ordered = [...runs];
  const highest = Math.max(0, ...ordered.map(({ level }) => level));
  for (let level = highest; level > 0; level--) {
    for (let from = 0; from < ordered.length; from++) {
      if (ordered[from]!.level < level) continue;
      let to = from;
      while (to + 1 < ordered.length && ordered[to + 1]!.level >= level) to++;
      ordered.splice(from, to - from + 1, ...ordered.slice(from, to + 1).reverse());
      from = to;
    }
  }
  return ordered;
}

function byCoverage(text: string): [string, number][] {
  const han = [...text].filter((character) => /\p{Script=Han}/u.test(character));
  if (!han.length) return HAN;
  const held = (family: [string, number]) => han.filter((character) => fontFor(character.codePointAt(0)!, [family])).length;
  return [...HAN].sort((a, b) => held(b) - held(a));
}

function fontFor(code: number, order: readonly [string, number][]): fontkit.Font | null {
  for (const [name, weight] of order) {
    const family = familyOf(name, weight);
    for (const [subset, ranges] of family.subsets) {
      if (!ranges.some(([from, to]) => code >= from && code <= to)) continue;
      const font = fontOf(family, subset);
      if (font?.hasGlyphForCodePoint(code)) return font;
    }
  }
  return null;
}

function familyOf(name: string, weight: number): Family {
  let family = families.get(name);
  if (!family) {
    const folder = dirname(require.resolve(`@fontsource/${name}/package.json`));
    const written = JSON.parse(readFileSync(join(folder, 'unicode.json'), 'utf8')) as Record<string, string>;
    const subsets = Object.entries(written).map(([subset, ranges]): Family['subsets'][number] => [
      subset.replace(/[[\]]/g, ''),
      ranges.split(',').map((range) => {
        const [from, to = from] = range.replace('U+', '').split('-') as [string, string?];
        return [parseInt(from, 16), parseInt(to, 16)];
      }),
    ]);
    family = { name, folder, weight, subsets };
    families.set(name, family);
  }
  return family;
}

function fontOf({ name, folder, weight }: Family, subset: string): fontkit.Font | null {
  const path = join(folder, 'files', `${name}-${subset}-${weight}-normal.woff2`);
  let font = fonts.get(path);
  if (!font) {
    if (!existsSync(path)) return null;
    font = fontkit.openSync(path) as fontkit.Font;
    fonts.set(path, font);
  }
  return font;
}
