// Words beneath the picture: read from WebVTT and SubRip, written as both, and checked for whoever has to read them.
import type { Passage } from './parts';

/** In ms of the recording. `text`: at most two lines are shown well. */
export interface Caption extends Passage {
  text: string;
}

/** Files of others: an hour of quick speech has a thousand. */
export const MOST_CAPTIONS = 20_000;
export const LONGEST_CAPTION = 500;
/** With its marks. */
const LONGEST_RAW = 4 * LONGEST_CAPTION;

export interface CaptionsRead {
  captions: Caption[];
  /** What could not be read, with the line of the file, counted from 1; the rest is there all the same. */
  troubles: { line: number; words: string }[];
}

/** 00:01:02.345, without hours where there are none, and with the comma of SubRip (W3C WebVTT, section 4.3). */
const TIME = /^(?:(\d{2,3}):)?([0-5]\d):([0-5]\d)[.,](\d{3})$/;
const ARROW = /^(\S+)[ \t]+-->[ \t]+(\S+)(?:[ \t]+.*)?$/;
const MOST_TROUBLES = 20;

/** In ms; null: it is none. */
export function readCaptionTime(text: string): number | null {
  const found = TIME.exec(text);
  return found ? Number(found[1] ?? 0) * 3_600_000 + Number(found[2]) * 60_000 + Number(found[3]) * 1_000 + Number(found[4]) : null;
}

/** hh:mm:ss.ttt */
export function writeCaptionTime(ms: number, mark: '.' | ',' = '.'): string {
  const whole = Math.max(0, Math.round(ms));
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(Math.floor(whole / 3_600_000))}:${two(Math.floor(whole / 60_000) % 60)}:${two(Math.floor(whole / 1_000) % 60)}${mark}${String(whole % 1_000).padStart(3, '0')}`;
}

/**
 * Reads WebVTT (W3C, section 6: blocks, cue timings; notes, styles and regions are passed over) or SubRip, which has a number before each
 * and a comma in its times. Marks for bold and the like are taken off. Captions come in order of time.
 */
export function readCaptions(file: string): CaptionsRead {
  const lines = file
    .replace(/^\uFEFF/, '')
    .replaceAll('\u0000', '\uFFFD')
    .split(/\r\n|\n|\r/);
  const captions: Caption[] = [];
  const troubles: CaptionsRead['troubles'] = [];
  const trouble = (at: number, words: string) => {
    if (troubles.length < MOST_TROUBLES) troubles.push({ line: at + 1, words });
  };
  const isVtt = /^WEBVTT(?:[ \t].*)?$/.test(lines[0] ?? '');
  let at = 0;
  const isBlank = (line: string | undefined) => line === undefined || line.trim() === '';
  const skipBlock = () => {
    while (at < lines.length && !isBlank(lines[at])) at += 1;
  };
  if (isVtt) skipBlock();
  while (at < lines.length) {
    if (isBlank(lines[at])) {
      at += 1;
      continue;
    }
    if (isVtt && /^(NOTE|STYLE|REGION)(?:[ \t]|$)/.test(lines[at]!)) {
      skipBlock();
      continue;
    }
    // Before its times a caption may have a name, or a number.
    const head = lines[at]!.includes('-->') ? at : at + 1;
    const times = ARROW.exec(lines[head]?.trim() ?? '');
    const fromMs = times && readCaptionTime(times[1]!);
    const toMs = times && readCaptionTime(times[2]!);
    if (fromMs === null || toMs === null) {
      trouble(
        at,
        lines[head]?.includes('-->') ? 'Its times cannot be read: they are written as 00:01:02.345 --> 00:01:05.000.' : 'This is no caption: it has no times.',
      );
      skipBlock();
      continue;
    }
    at = head + 1;
    const words: string[] = [];
    while (at < lines.length && !isBlank(lines[at]) && !lines[at]!.includes('-->')) words.push(lines[at++]!);
    const raw = words.join('\n');
    // Marks take some room; looking through what nobody can have meant would take for ever.
    const text = raw.length > LONGEST_RAW ? null : plain(raw);
    if (toMs <= fromMs) trouble(head, 'It ends before it begins.');
    else if (text === null) trouble(head, `It is longer than ${LONGEST_CAPTION} characters.`);
    else if (!text) trouble(head, 'It has no words.');
    else if (text.length > LONGEST_CAPTION) trouble(head, `It is longer than ${LONGEST_CAPTION} characters.`);
    else if (captions.length >= MOST_CAPTIONS) {
      trouble(head, `A recording has at most ${MOST_CAPTIONS} captions; the rest is left out.`);
      break;
    } else captions.push({ fromMs, toMs, text });
  }
  if (!captions.length && !troubles.length) trouble(0, 'There are no captions in it.');
  return { captions: captions.sort((a, b) => a.fromMs - b.fromMs || a.toMs - b.toMs), troubles };
}

/** W3C WebVTT, section 6.4: tags and escapes; SubRip borrows its tags from HTML, and some write places in braces. */
function plain(text: string): string {
  return text
    .replace(/<[^>]*>/g, '')
    .replace(/\{\\[^}]*\}/g, '')
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&nbsp;', '\u00a0')
    .replaceAll('&lrm;', '\u200e')
    .replaceAll('&rlm;', '\u200f')
    .replaceAll('&amp;', '&')
    .split('\n')
    .map((line) => line.replace(/[ \t]+/g, ' ').trim())
    .filter(Boolean)
    .join('\n');
}

export const escapedForVtt = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

export function writeVtt(captions: readonly Caption[]): string {
  const cues = captions.map(({ fromMs, toMs, text }) => `${writeCaptionTime(fromMs)} --> ${writeCaptionTime(toMs)}\n${escapedForVtt(text)}\n`);
  return ['WEBVTT\n', ...cues].join('\n');
}

export function writeSubRip(captions: readonly Caption[]): string {
  return captions.map(({ fromMs, toMs, text }, at) => `${at + 1}\n${writeCaptionTime(fromMs, ',')} --> ${writeCaptionTime(toMs, ',')}\n${text}\n`).join('\n');
}

/** What viewers read at ease, in characters a second, and how long a caption stands and is (BBC Subtitle Guidelines and similar practice). */
const MOST_PER_SECOND = 20;
const LONGEST_LINE = 42;
const MOST_LINES = 2;
const SHORTEST_MS = 700;
const LONGEST_MS = 7_000;

export interface CaptionTrouble {
  /** Which of them, counted from 0. */
  at: number;
  words: string;
}

/** What would be hard to read, or could not be shown. `captions` in order of time. */
export function checkCaptions(captions: readonly Caption[], lengthMs: number): CaptionTrouble[] {
  return captions.flatMap(({ fromMs, toMs, text }, at): CaptionTrouble[] => {
    const seconds = (toMs - fromMs) / 1_000;
    const lines = text.split('\n');
    const perSecond = Math.round(text.replaceAll('\n', '').length / Math.max(0.001, seconds));
    const longest = Math.max(...lines.map(({ length }) => length));
    const words = [
      fromMs >= lengthMs && 'It stands after the end of the recording.',
      fromMs < (captions[at - 1]?.toMs ?? 0) && 'It begins before the one before has gone.',
      toMs - fromMs < SHORTEST_MS && 'It is gone before anybody has read it.',
      toMs - fromMs > LONGEST_MS && `It stands for ${Math.round(seconds)} s: divide it.`,
      toMs - fromMs >= SHORTEST_MS && perSecond > MOST_PER_SECOND && `${perSecond} characters a second are too quick to read: ${MOST_PER_SECOND} at most.`,
      longest > LONGEST_LINE && `A line has ${longest} characters: break it before ${LONGEST_LINE}.`,
      lines.length > MOST_LINES && `It has ${lines.length} lines: ${MOST_LINES} at most.`,
    ];
    return words.flatMap((each) => (each ? [{ at, words: each }] : []));
  });
}
