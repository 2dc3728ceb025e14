// Chapters of a recording: where in it a moment of the programme stands, and the running order and questions as they really ran, as WebVTT.
import { escapedForVtt, writeCaptionTime } from './captions';

/** A stretch of a recording: from `fromMs` of the programme's time on, at `atMs` of the recording's, for so long. In ms, in order of time. */
export interface RecordedPart {
  fromMs: number;
  atMs: number;
  lengthMs: number;
}

/** Where in the recording a moment of the programme stands, in ms; one that was not recorded, where the recording goes on after it; null: never more. */
export function inRecording(parts: readonly RecordedPart[], programmeMs: number): number | null {
  for (const { fromMs, atMs, lengthMs } of parts) if (programmeMs < fromMs + lengthMs) return atMs + Math.max(0, programmeMs - fromMs);
  return null;
}

export interface Chapter {
  /** In ms of the recording. */
  atMs: number;
  name: string;
}

/** A moment of the programme that has a name. */
export interface Mark {
  programmeMs: number;
  name: string;
}

/** Nearer to each other nobody finds them; the later one is what it came to. */
const APART_MS = 5_000;
const LONGEST_NAME = 100;
/** Before the first mark viewers see the card. */
const BEFORE = 'Before it begins';

/** Chapters from marks, in any order; the first begins with the recording. None: nothing has a name. */
export function chaptersOf(marks: readonly Mark[], parts: readonly RecordedPart[]): Chapter[] {
  const placed = marks.flatMap(({ programmeMs, name }): Chapter[] => {
    const atMs = inRecording(parts, programmeMs);
    const words = name.replace(/\s+/g, ' ').trim().slice(0, LONGEST_NAME);
    return atMs === null || !words ? [] : [{ atMs, name: words }];
  });
  placed.sort((a, b) => a.atMs - b.atMs);
  const chapters = placed.filter(({ atMs }, at) => (placed[at + 1]?.atMs ?? Infinity) - atMs >= APART_MS);
  const [first] = chapters;
  if (!first) return [];
  return first.atMs < APART_MS ? [{ ...first, atMs: 0 }, ...chapters.slice(1)] : [{ atMs: 0, name: BEFORE }, ...chapters];
}

/** As WebVTT (W3C, sections 4.1 and 6.1), each until the next. */
export function chaptersVtt(chapters: readonly Chapter[], lengthMs: number): string {
  const cues = chapters.flatMap(({ atMs, name }, at) => {
    const until = chapters[at + 1]?.atMs ?? lengthMs;
    return until > atMs ? [`${writeCaptionTime(atMs)} --> ${writeCaptionTime(until)}\n${escapedForVtt(name)}\n`] : [];
  });
  return ['WEBVTT\n', ...cues].join('\n');
}
