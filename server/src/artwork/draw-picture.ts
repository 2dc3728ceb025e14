// Turns the drawing list of a composed picture into pixels.
import { initialsOf, OWN_PALETTE, type PictureBackground, type PictureDrawing } from '@lantern/core';
import sharp from 'sharp';
import type { Letters } from './lettering';
import { SKY_VIEW_BOX, skyMarkup } from './sky';

/** The pictures that a drawing list speaks of, as files; null where there is none. */
export interface PictureAssets {
  background: Buffer | null;
  /** By the number of the guest. */
  portraits: ({ file: Buffer | null } | undefined)[];
  logo: Buffer | null;
  letters: Letters;
}

const BEHIND_NOBODY = '#10201f';
/** Amber stands for what is public; a picture is only ever seen by the public. */
const LIT = '#f2b658';

/** What lies behind all pictures of a look, alone, as SVG. */
export async function backgroundSvg(size: { width: number; height: number }, background: PictureBackground, file: Buffer | null): Promise<string> {
  const whole = { kind: 'picture', of: 'background', fit: 'filling', shape: 'box', view: null, x: 0, y: 0, ...size } as const;
  const inside = await backgroundMarkup(whole, background, OWN_PALETTE, { background: file }, 0);
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${size.width}" height="${size.height}">${inside}</svg>`;
}

/** The drawing as SVG; without its letters where only what lies behind them is wanted. */
export async function pictureSvg(
  drawings: readonly PictureDrawing[],
  size: { width: number; height: number },
  background: PictureBackground,
  palette: { ground: string; accent: string; ink: string },
  assets: PictureAssets,
  written = true,
): Promise<string> {
  const parts = await Promise.all(
    drawings.map(async (drawing, index): Promise<string> => {
      switch (drawing.kind) {
        case 'picture': {
          const round = drawing.shape === 'ellipse';
          const clip = round
            ? `<clipPath id="clip${index}"><ellipse cx="${drawing.x + drawing.width / 2}" cy="${drawing.y + drawing.height / 2}" rx="${drawing.width / 2}" ry="${drawing.height / 2}"/></clipPath>`
            : '';
          const inside = await backgroundMarkup(drawing, background, palette, assets, index);
          return round ? `${clip}<g clip-path="url(#clip${index})">${inside}</g>` : inside;
        }
        case 'plate':
          return `<rect ${box(drawing)} rx="${drawing.radius}" fill="${drawing.colour}" fill-opacity="${drawing.opacity}"/>`;
        case 'shade': {
          const [from, to] = { bottom: ['0,0', '0,1'], top: ['0,1', '0,0'], left: ['1,0', '0,0'] }[drawing.towards].map((end) => end.split(','));
          return `<linearGradient id="shade${index}" x1="${from![0]}" y1="${from![1]}" x2="${to![0]}" y2="${to![1]}"><stop offset="0" stop-color="${drawing.colour}" stop-opacity="0"/><stop offset="0.55" stop-color="${drawing.colour}" stop-opacity="${drawing.opacity * 0.72}"/><stop offset="1" stop-color="${drawing.colour}" stop-opacity="${drawing.opacity}"/></linearGradient><rect ${box(drawing)} fill="url(#shade${index})"/>`;
        }
        case 'portrait':
          return portraitMarkup(drawing, assets.portraits[drawing.of], palette, index, written ? assets.letters : null);
        case 'mark':
          return assets.logo
            ? `<image ${box(drawing)} preserveAspectRatio="xMidYMid meet" href="${dataUrl(assets.logo)}"/>`
            : lanternMarkup(drawing.x, drawing.y, drawing.height, drawing.colour);
        case 'crawl':
        case 'code':
          // Graphics of the programme: no picture has them.
          return '';
        case 'text':
          return written ? `<path d="${assets.letters.path(drawing.text, drawing.x, drawing.y, drawing.sizePx, drawing.face)}" fill="${drawing.colour}"/>` : '';
      }
    }),
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${size.width}" height="${size.height}" viewBox="0 0 ${size.width} ${size.height}">${parts.join('')}</svg>`;
}

async function backgroundMarkup(
  drawing: Extract<PictureDrawing, { kind: 'picture' }>,
  background: PictureBackground,
  palette: { ground: string; accent: string },
  { background: file }: Pick<PictureAssets, 'background'>,
  index: number,
): Promise<string> {
  const { x, y, width, height } = drawing;
  if (background.kind === 'sky')
    return `<svg x="${x}" y="${y}" width="${width}" height="${height}" viewBox="${SKY_VIEW_BOX}" preserveAspectRatio="xMidYMid slice">${skyMarkup(background.mood, background.seed, `sky${index}`)}</svg>`;
  // Plain colour still lets a disc be seen against the ground.
  if (background.kind === 'colour' || !file) return `<rect ${box(drawing)} fill="${drawing.shape === 'ellipse' ? palette.accent : palette.ground}"/>`;
  const fitted = await sharp(file)
    .resize({ width, height, fit: 'cover', position: 'attention' })
    .flatten({ background: BEHIND_NOBODY })
    .jpeg({ quality: 95 })
    .toBuffer();
  return `<image ${box(drawing)} href="${dataUrl(fitted)}"/>`;
}

async function portraitMarkup(
  { x, y, width, height, ring, name }: Extract<PictureDrawing, { kind: 'portrait' }>,
  guest: PictureAssets['portraits'][number],
  { accent, ground }: { accent: string; ground: string },
  index: number,
  letters: Letters | null,
): Promise<string> {
  const [cx, cy, r] = [x + width / 2, y + height / 2, width / 2];
  const frame = `<circle cx="${cx}" cy="${cy}" r="${r}" fill="${ring}"/>`;
  const inner = r * 0.94;
  if (guest?.file) {
    const fitted = await sharp(guest.file)
      .resize({ width: Math.round(inner * 2), height: Math.round(inner * 2), fit: 'cover', position: 'attention' })
      .flatten({ background: accent })
      .jpeg({ quality: 94 })
      .toBuffer();
    return `${frame}<clipPath id="face${index}"><circle cx="${cx}" cy="${cy}" r="${inner}"/></clipPath><image x="${cx - inner}" y="${cy - inner}" width="${inner * 2}" height="${inner * 2}" clip-path="url(#face${index})" href="${dataUrl(fitted)}"/>`;
  }
  // No portrait yet: the initials, so that the place is taken by the right person.
  const initials = initialsOf(name);
  const sizePx = inner * 0.8;
  const across = letters?.measure(initials, sizePx, 'display') ?? 0;
  const drawn = letters ? `<path d="${letters.path(initials, cx - across / 2, cy + sizePx * 0.34, sizePx, 'display')}" fill="${ground}"/>` : '';
  return `${frame}<circle cx="${cx}" cy="${cy}" r="${inner}" fill="${accent}"/>${drawn}`;
}

function lanternMarkup(x: number, y: number, size: number, colour: string): string {
  return `<g transform="translate(${x - size * 0.22} ${y}) scale(${size / 100})" stroke="${colour}" stroke-width="5" stroke-linejoin="round" fill="none"><path d="M34 36h32l6 44H28z" fill="${LIT}"/><path d="M38 24h24l4 12H34zM50 8v16M26 80h48v9H26z"/></g>`;
}

const box = ({ x, y, width, height }: { x: number; y: number; width: number; height: number }): string =>
  `x="${x}" y="${y}" width="${width}" height="${height}"`;

function dataUrl(file: Buffer): string {
  const png = file[0] === 0x89 && file[1] === 0x50;
  return `data:image/${png ? 'png' : 'jpeg'};base64,${file.toString('base64')}`;
}
