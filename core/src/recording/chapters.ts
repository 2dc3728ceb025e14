// Chapters of a recording: where in it a moment of the programme stands, and the running order and questions as they really ran, as WebVTT.
import { sayClock } from '../time/zones';
import { keptOver } from './cut';
import { inRecording, type RecordedPart } from './parts';
import { escapedForVtt, writeCaptionTime } from './captions';

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

/** The same in a cut: those of which something is kept, where that begins; the first with whatever stands before the cut. `lengthMs`: of the recording. */
export function chaptersOfCut(chapters: readonly Chapter[], parts: readonly RecordedPart[], lengthMs: number): Chapter[] {
  const over = chapters.map(({ atMs, name }, at) => ({ fromMs: atMs, toMs: chapters[at + 1]?.atMs ?? lengthMs, name }));
  return keptOver(parts, over).map(({ fromMs, name }, at) => ({ atMs: at === 0 && fromMs === parts[0]?.atMs ? 0 : fromMs, name }));
}

/** As lines for a text: each with its time, the first at 0:00. */
export const chapterLines = (chapters: readonly Chapter[]): string => chapters.map(({ atMs, name }) => `${sayClock(atMs)} ${name}`).join('\n');

/** As WebVTT (W3C, sections 4.1 and 6.1), each until the next. */
export function chaptersVtt(chapters: readonly Chapter[], lengthMs: number): string {
  const cues = chapters.flatMap(({ atMs, name }, at) => {
    const until = chapters[at + 1]?.atMs ?? lengthMs;
    return until > atMs ? [`${writeCaptionTime(atMs)} --> ${writeCaptionTime(until)}\n${escapedForVtt(name)}\n`] : [];
  });
  return ['WEBVTT\n', ...cues].join('\n');
}
