// Words beneath the picture of a recording.
import { LONGEST_CAPTION, type Caption, type CaptionTrouble } from '@lantern/core';
import { IsIn, IsInt, IsNotEmpty, IsOptional, IsString, IsUUID, Matches, Max, MaxLength, Min } from 'class-validator';

export const CAPTIONS_TEXT_MAX = 2_000_000;
/** Language tags as they are usually written: en, en-IE, pt-BR (BCP 47). */
export const LANGUAGE_TAG = /^[a-z]{2,3}(-[A-Za-z0-9]{2,8}){0,2}$/;

/** All of them as WebVTT or SubRip, over the state that was looked at. */
export class CaptionsDraft {
  @IsInt()
  @Min(0)
  base!: number;

  @IsString()
  @MaxLength(CAPTIONS_TEXT_MAX, { message: 'This is more than the captions of any show.' })
  text!: string;

  @Matches(LANGUAGE_TAG, { message: 'Write the language as en, or en-IE.' })
  language!: string;

  /** `strict`: with anything that cannot be read nothing is kept. `what can be read`: the rest is left out, and told. */
  @IsIn(['strict', 'what can be read'])
  take!: 'strict' | 'what can be read';

  /** The cut whose times they have; missing: those of the recording. */
  @IsOptional()
  @IsUUID()
  cutId?: string;
}

export interface CaptionsView {
  revision: number;
  language: string;
  captions: Caption[];
  troubles: CaptionTrouble[];
  /** Of the file that was just read: what was left out, by its lines. */
  unread: { line: number; words: string }[];
  /** What was written down while it was on, as it would stand beneath the recording. */
  notes: Caption[];
}

/** The latest of them. */
export const MOST_NOTES_SHOWN = 200;

/** A line that somebody wrote down while a show is on. */
export class NoteDraft {
  /** Of the page that it was written on: the same line is kept once. */
  @Matches(/^[0-9a-f]{24}$/, { message: 'This line has no name.' })
  id!: string;

  @IsString()
  @IsNotEmpty({ message: 'Write something.' })
  @MaxLength(LONGEST_CAPTION, { message: `Keep a line to ${LONGEST_CAPTION} characters.` })
  words!: string;

  /** How long ago they began to write it, in ms. */
  @IsInt()
  @Min(0)
  @Max(3_600_000)
  begunMsAgo!: number;
}

export interface NotesView {
  showId: string;
  title: string;
  /** Whether anything can be written down now. */
  open: boolean;
  count: number;
  notes: { id: string; at: number; by: string; words: string }[];
}
