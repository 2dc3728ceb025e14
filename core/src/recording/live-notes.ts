// What somebody at a keyboard wrote down while a show was on, as captions of its recording.
import { LONGEST_CAPTION, type Caption } from './captions';
import { inRecording, type RecordedPart } from './parts';

/** `begunAt`: when they began to write it; in ms since the epoch, as is `at`, when they had written it. */
export interface LiveNote {
  begunAt: number;
  at: number;
  words: string;
}

const LINE = 42;
const LINES = 2;
/** So many characters a second can be read along, and nothing is read in less or stands for longer. */
const PER_SECOND = 15;
const LEAST_MS = 1_500;
const MOST_MS = 7_000;

/**
 * A note begins when its writer began to write it, which is as it was said, and stands until it is read or the next begins. What is longer than two
 * lines becomes several, one after the other. `wentOnAir` in ms since the epoch; `parts`: which times of the show are in the recording.
 */
export function captionsOfNotes(notes: readonly LiveNote[], wentOnAir: number, parts: readonly RecordedPart[], lengthMs: number): Caption[] {
  const begun = notes
    .flatMap(({ begunAt, words }) => {
      const fromMs = begunAt < wentOnAir ? null : inRecording(parts, begunAt - wentOnAir);
      return fromMs === null || !words.trim() ? [] : [{ fromMs: Math.round(fromMs), words: words.trim().slice(0, LONGEST_CAPTION) }];
    })
    .sort((a, b) => a.fromMs - b.fromMs);
  return begun.flatMap(({ fromMs, words }, index) => {
    const until = Math.min(lengthMs, begun[index + 1]?.fromMs ?? Infinity);
    const captions: Caption[] = [];
    let at = fromMs;
    for (const text of piecesOf(words)) {
      const toMs = Math.round(Math.min(until, at + Math.min(MOST_MS, Math.max(LEAST_MS, (1_000 * text.length) / PER_SECOND))));
      if (toMs > at) captions.push({ fromMs: at, toMs, text });
      at = toMs;
    }
    return captions;
  });
}

/** In lines that are easy to read, two of them at once. */
function piecesOf(words: string): string[] {
  const lines: string[] = [];
  for (const word of words.split(/\s+/)) {
    const last = lines.at(-1);
    if (last !== undefined && `${last} ${word}`.length <= LINE) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return Array.from({ length: Math.ceil(lines.length / LINES) }, (_, at) => lines.slice(at * LINES, (at + 1) * LINES).join('\n'));
}
