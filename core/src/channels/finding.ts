// A finding is what a check has to say: never a sentence, always facts. Words are made in words/findings.ts.

import type { Visibility } from './rules';

export type Severity = 'objection' | 'caution';

/** The field of a show that a finding is about. */
export type Subject = 'title' | 'description' | 'startsAt' | 'length' | 'thumbnail' | 'channels' | 'visibility';

/**
 * One finding on one channel. `objection` stops the placing of that airing; `caution` does not.
 * `facts` are the inputs of the message, by name; `fix`, where there is one, is the value that
 * removes the objection when put into `subject`.
 */
export interface Finding {
  code: FindingCode;
  severity: Severity;
  subject: Subject;
  facts: Record<string, string | number>;
  fix?: { startsAt: number } | { text: string } | { lengthMs: number } | { visibility: Visibility };
}

export type FindingCode =
  | 'private-in-text'
  | 'placeholder-unknown'
  | 'placeholder-empty'
  | 'visibility-not-offered'
  | 'visibility-locked'
  | 'children-no-messages'
  | 'title-missing'
  | 'title-too-long'
  | 'text-too-long'
  | 'text-shortened'
  | 'start-past'
  | 'start-too-soon'
  | 'start-too-far'
  | 'start-off-grid'
  | 'start-late'
  | 'start-locked'
  | 'begins-on-air'
  | 'length-none'
  | 'length-too-long'
  | 'recording-cut'
  | 'thumbnail-missing'
  | 'thumbnail-too-small'
  | 'thumbnail-needed'
  | 'alternative-missing';
