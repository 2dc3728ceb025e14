// Letters as outlines, from the fonts that ship with the product: the same on every machine, and measured exactly as
// they are drawn. Texts of other scripts are set in fonts that hold them; what no font holds is told.
import type { Measure, TypeFace } from '@lantern/core';
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

/** Two ways of writing the look's faces, then families for other scripts, in the order in which they are asked. */
const FACES: Record<TypeFace, [string, number]> = { display: ['bricolage-grotesque', 700], text: ['atkinson-hyperlegible-next', 600] };
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

/** The width of a line in pixels. */
export const measureLetters: Measure = (text, sizePx, face) => {
  const key = `${face} ${text}`;
  let advance = advances.get(key);
  if (advance === undefined) {
    advance = runsOf(text, face).runs.reduce((sum, { text: part, font }) => sum + font.layout(part).advanceWidth / font.unitsPerEm, 0);
    if (advances.size > MOST_REMEMBERED) advances.clear();
    advances.set(key, advance);
  }
  return advance * sizePx;
};

/** The outlines of a line as SVG path data, its baseline beginning at `x`, `y`. */
export function letterPath(text: string, x: number, y: number, sizePx: number, face: TypeFace): string {
  let at = x;
  let path = '';
  for (const { text: part, font, level } of inReadingOrder(runsOf(text, face).runs)) {
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
export function undrawable(text: string, face: TypeFace = 'text'): string[] {
  return runsOf(text, face).missing;
}

function runsOf(text: string, face: TypeFace): { runs: Run[]; missing: string[] } {
  const { levels } = bidi.getEmbeddingLevels(text, 'auto');
  const order = [FACES[face], ...FALLBACKS, ...byCoverage(text), ...LAST];
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
    const font = stays ? last.font : fontFor(code, order);
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
  const path = join(folder, 'files', `${name}-${subset}-${weight}-normal.woff`);
  let font = fonts.get(path);
  if (!font) {
    if (!existsSync(path)) return null;
    font = fontkit.openSync(path) as fontkit.Font;
    fonts.set(path, font);
  }
  return font;
}
