// Artwork of the demo station: the dome under its sky, portraits of guests who do not exist, and the club's sign.
import { Letters } from '../artwork/lettering';
import type { SkyMood } from '@lantern/core';
import { SKY_VIEW_BOX, skyMarkup } from '../artwork/sky';

const SIZE = { width: 1600, height: 900 };

/** The club's dome on the fell. */
export function drawDome(mood: SkyMood, seed: number): string {
  const day = mood === 'day';
  const [wall, slit, foot] = day ? ['#fdfaf0', '#3f7a63', '#2f6350'] : ['#2b5a60', '#0a1c22', '#061419'];
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${SIZE.width}" height="${SIZE.height}" viewBox="${SKY_VIEW_BOX}">${skyMarkup(mood, seed, 'sky')}
<path d="M1010 740a180 180 0 0 1 360 0v70h-360z" fill="${wall}"/><path d="M1170 562l52 182" stroke="${slit}" stroke-width="20"/>
<path d="M0 900V842C420 790 760 834 1010 806 1260 780 1420 800 1600 826V900z" fill="${foot}"/></svg>`;
}

export interface Figure {
  skin: string;
  hair: string;
  coat: string;
  behind: string;
  /** How the hair falls. */
  cut: 'short' | 'long' | 'knot';
  glasses: boolean;
}

/** A head and shoulders in plain shapes. */
export function drawPortrait({ skin, hair, coat, behind, cut, glasses }: Figure): string {
  const backHair = {
    short: '',
    long: `<path d="M196 250c0-150 208-150 208 0v190H196z" fill="${hair}"/>`,
    knot: `<circle cx="300" cy="92" r="46" fill="${hair}"/>`,
  }[cut];
  const rims = glasses
    ? `<g fill="none" stroke="#12272b" stroke-width="7"><circle cx="258" cy="266" r="30"/><circle cx="342" cy="266" r="30"/><path d="M288 264h24"/></g>`
    : '';
  return `<svg xmlns="http://www.w3.org/2000/svg" width="600" height="600" viewBox="0 0 600 600"><rect width="600" height="600" fill="${behind}"/>${backHair}
<path d="M90 600c0-150 90-196 210-196s210 46 210 196z" fill="${coat}"/><path d="M262 360h76v66a38 38 0 0 1-76 0z" fill="${skin}"/>
<ellipse cx="300" cy="270" rx="98" ry="120" fill="${skin}"/><path d="M198 262c-8-150 212-150 204 0-20-66-64-92-102-92s-82 26-102 92z" fill="${hair}"/>
<circle cx="260" cy="268" r="8" fill="#12272b"/><circle cx="340" cy="268" r="8" fill="#12272b"/><path d="M264 330q36 26 72 0" fill="none" stroke="#7a3b2e" stroke-width="8" stroke-linecap="round"/>${rims}</svg>`;
}

/** The club's sign: a lantern with a star in its glass. */
export function drawSign(colour: string): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400" viewBox="0 0 100 100"><g stroke="${colour}" stroke-width="4.5" stroke-linejoin="round" fill="none"><path d="M34 36h32l6 44H28z"/><path d="M38 24h24l4 12H34zM50 8v16M26 80h48v9H26z"/></g><path d="M50 43l4 11 11 1-9 7 3 11-9-6-9 6 3-11-9-7 11-1z" fill="#f2b658"/></svg>`;
}

const SPONSOR = { width: 720, height: 400 } as const;

/** A sponsor's mark: a drawing over two lines of letters, as outlines, dark enough for paper. */
function sponsorMark(drawing: string, colour: string, [first, second]: [string, string]): string {
  const letters = new Letters();
  const line = (text: string, y: number, sizePx: number) => {
    const x = (SPONSOR.width - letters.measure(text, sizePx, 'display')) / 2;
    return `<path d="${letters.path(text, x, y, sizePx, 'display')}" fill="${colour}"/>`;
  };
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${SPONSOR.width}" height="${SPONSOR.height}">${drawing}${line(first, 296, 72)}${line(second, 372, 60)}</svg>`;
}

/** Two lenses, one behind the other. */
export const drawOptics = (): string =>
  sponsorMark(
    '<g fill="none" stroke="#1d4f7a" stroke-width="16"><circle cx="310" cy="116" r="88"/><circle cx="420" cy="116" r="64"/></g><circle cx="310" cy="116" r="40" fill="#1d4f7a" opacity="0.25"/>',
    '#1d4f7a',
    ['Fell Valley', 'Optics'],
  );

/** A loaf with three cuts, on a barrel's stave. */
export const drawLoaf = (): string =>
  sponsorMark(
    '<path d="M206 190c0-150 308-150 308 0z" fill="#8a4b22"/><g stroke="#f4e3c6" stroke-width="14" stroke-linecap="round"><path d="M284 128l34-44M346 120l34-50M408 122l34-42"/></g><rect x="186" y="196" width="348" height="16" rx="8" fill="#5b2f14"/>',
    '#5b2f14',
    ['The Cooper’s', 'Loaf'],
  );
