// Words beneath the picture of a recording.
import type { Caption, CaptionTrouble } from '@lantern/core';
import { IsIn, IsInt, IsOptional, IsString, IsUUID, Matches, MaxLength, Min } from 'class-validator';

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
}
