// Text that fits its place: as large as it may be, in as few lines as it may take, cut only where nothing else helps.
import type { Measure, TypeFace } from './drawing';

interface Fit {
  widthPx: number;
  lines: number;
  largestPx: number;
  smallestPx: number;
  face: TypeFace;
}

/** The largest size, and the lines, in which `text` fits; at the smallest size what is too much ends in an ellipsis. */
export function fitText(text: string, fit: Fit, measure: Measure): { sizePx: number; lines: string[] } {
  for (let sizePx = fit.largestPx; sizePx > fit.smallestPx; sizePx -= 4) {
    const lines = breakLines(text, sizePx, fit, measure);
    if (lines.length <= fit.lines && lines.every((line) => measure(line, sizePx, fit.face) <= fit.widthPx)) return { sizePx, lines };
  }
  const sizePx = fit.smallestPx;
  const lines = breakLines(text, sizePx, fit, measure);
  const kept = lines.slice(0, fit.lines);
  const overflows = lines.length > fit.lines;
  return { sizePx, lines: kept.map((line, at) => cutToWidth(line, overflows && at === kept.length - 1, sizePx, fit, measure)) };
}

function breakLines(text: string, sizePx: number, fit: Fit, measure: Measure): string[] {
  const lines: string[] = [];
  for (const { word, space } of breakable(text)) {
    const longer = lines.length ? `${lines[lines.length - 1]}${space}${word}` : word;
    if (lines.length && measure(longer, sizePx, fit.face) <= fit.widthPx) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines;
}

/** Scripts that are written without spaces between words. */
const UNSPACED = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}\p{Script=Khmer}\p{Script=Lao}\p{Script=Myanmar}]/u;

/** The words of a text, each with what stands before it in a line. */
function breakable(text: string): { word: string; space: '' | ' ' }[] {
  const words = text.trim().split(/\s+/).filter(Boolean);
  return words.flatMap((word): { word: string; space: '' | ' ' }[] => {
    if (!UNSPACED.test(word)) return [{ word, space: ' ' }];
    const parts = [...new Intl.Segmenter(undefined, { granularity: 'word' }).segment(word)].map(({ segment }) => segment);
    return parts.map((part, at) => ({ word: part, space: at ? '' : ' ' }));
  });
}

function cutToWidth(line: string, mustCut: boolean, sizePx: number, fit: Fit, measure: Measure): string {
  if (!mustCut && measure(line, sizePx, fit.face) <= fit.widthPx) return line;
  const characters = [...line];
  while (characters.length && measure(`${characters.join('')}…`, sizePx, fit.face) > fit.widthPx) characters.pop();
  return `${characters.join('').trimEnd()}…`;
}
