// The files of letters: those that ship with the product, and those of a station's own. Nothing of them is fetched before somebody writes with them.
import bricolage from '@fontsource-variable/bricolage-grotesque/files/bricolage-grotesque-latin-wght-normal.woff2?url';
import atkinsonBold from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff2?url';
import atkinson from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff2?url';
import barlowBold from '@fontsource/barlow-condensed/files/barlow-condensed-latin-700-normal.woff2?url';
import barlow from '@fontsource/barlow-condensed/files/barlow-condensed-latin-400-normal.woff2?url';
import frauncesBold from '@fontsource/fraunces/files/fraunces-latin-700-normal.woff2?url';
import fraunces from '@fontsource/fraunces/files/fraunces-latin-400-normal.woff2?url';
import nunitoBold from '@fontsource/nunito/files/nunito-latin-700-normal.woff2?url';
import nunito from '@fontsource/nunito/files/nunito-latin-400-normal.woff2?url';
import sourceSerifBold from '@fontsource/source-serif-4/files/source-serif-4-latin-700-normal.woff2?url';
import sourceSerif from '@fontsource/source-serif-4/files/source-serif-4-latin-400-normal.woff2?url';
import zillaBold from '@fontsource/zilla-slab/files/zilla-slab-latin-700-normal.woff2?url';
import zilla from '@fontsource/zilla-slab/files/zilla-slab-latin-400-normal.woff2?url';
import { isShipped, OWN_LETTERS, SHIPPED_LETTERS, type LettersName, type ShippedLetters, type TypeFace } from '@lantern/core';
import type { FontFile } from '../programme/fonts';

const FILES: Record<ShippedLetters, Record<TypeFace, string>> = {
  'bricolage-grotesque': { display: bricolage, text: bricolage },
  'atkinson-hyperlegible-next': { display: atkinsonBold, text: atkinson },
  fraunces: { display: frauncesBold, text: fraunces },
  'source-serif-4': { display: sourceSerifBold, text: sourceSerif },
  nunito: { display: nunitoBold, text: nunito },
  'zilla-slab': { display: zillaBold, text: zilla },
  'barlow-condensed': { display: barlowBold, text: barlow },
};

/** The file in which a face of a look is written; `ownUrl`: where a font of the station's own is, where it still is. */
export function fontFile(letters: LettersName, face: TypeFace, ownUrl: (id: string) => string | null): FontFile {
  const own = isShipped(letters) ? null : ownUrl(letters);
  // One file, one weight: nothing is thickened by the browser.
  if (own) return { family: `Letters ${letters}`, descriptor: '400', weight: 400, url: own };
  const name = isShipped(letters) ? letters : (OWN_LETTERS[face] as ShippedLetters);
  const url = FILES[name][face];
  // The one family that comes with all its weights in one file, known to the product's own pages by this name.
  if (name === 'bricolage-grotesque') return { family: 'Bricolage Grotesque Variable', descriptor: '200 800', weight: face === 'display' ? 650 : 450, url };
  const weight = face === 'display' ? 700 : 400;
  return { family: SHIPPED_LETTERS[name].name, descriptor: String(weight), weight, url };
}
