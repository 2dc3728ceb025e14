// Cuts of a recording: what is kept of it, and how making them stands.
import { MOST_PASSAGES, type Chapter, type Passage, type Suggestion } from '@lantern/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { NO_CONTROLS } from '../house/house';

export const MOST_CUTS = 20;
export const LONGEST_CUT_NAME = 80;
export const MOST_CHAPTERS = 200;
export const CARD_LENGTHS_MS: readonly number[] = [0, 3_000, 5_000, 8_000];
const LONGEST_RECORDING_MS = 24 * 3_600_000;

export class KeptPassage implements Passage {
  @IsInt()
  @Min(0)
  @Max(LONGEST_RECORDING_MS)
  fromMs!: number;

  @IsInt()
  @Min(0)
  @Max(LONGEST_RECORDING_MS)
  toMs!: number;
}

export class CutDraft {
  @IsString()
  @IsNotEmpty({ message: 'Give the cut a name.' })
  @MaxLength(LONGEST_CUT_NAME, { message: `Keep the name to ${LONGEST_CUT_NAME} characters.` })
  @Matches(NO_CONTROLS, { message: 'A name has no line breaks.' })
  name!: string;

  @IsArray()
  @ArrayMinSize(1, { message: 'Keep something of the recording.' })
  @ArrayMaxSize(MOST_PASSAGES, { message: `A cut has at most ${MOST_PASSAGES} passages.` })
  @ValidateNested({ each: true })
  @Type(() => KeptPassage)
  kept!: KeptPassage[];

  /** Whether its sound is brought to what shows are usually made at. */
  @IsBoolean()
  levelled!: boolean;

  /** For how long a card with the title stands before it, in ms; missing: it has none. */
  @IsOptional()
  @IsIn(CARD_LENGTHS_MS, { message: 'A title card stands for three, five or eight seconds.' })
  cardMs?: number;
}

/** Over the state that was looked at, and over no other. */
export class CutChange extends CutDraft {
  @IsInt()
  @Min(0)
  base!: number;
}

/** Whether it stands on the house page in the place of the whole recording. */
export class CutShown {
  @IsBoolean()
  shown!: boolean;
}

export class NamedMoment implements Chapter {
  @IsInt()
  @Min(0)
  @Max(LONGEST_RECORDING_MS)
  atMs!: number;

  @IsString()
  @IsNotEmpty({ message: 'Give each chapter a name.' })
  @MaxLength(100, { message: 'Keep a name to 100 characters.' })
  @Matches(NO_CONTROLS, { message: 'A name has no line breaks.' })
  name!: string;
}

/** All of them, in ms of the recording; none: those of the running order again. */
export class ChaptersDraft {
  @IsInt()
  @Min(0)
  base!: number;

  @IsArray()
  @ArrayMaxSize(MOST_CHAPTERS, { message: `A recording has at most ${MOST_CHAPTERS} chapters.` })
  @ValidateNested({ each: true })
  @Type(() => NamedMoment)
  chapters!: NamedMoment[];
}

export interface CutView {
  id: string;
  name: string;
  /** Counts its changes. */
  revision: number;
  kept: Passage[];
  levelled: boolean;
  /** 0: it has no card before it. */
  cardMs: number;
  lengthMs: number;
  state: 'idle' | 'making' | 'failed';
  /** From 0 to 1, while it is being made. */
  progress: number;
  /** Why it could not be made; empty: it could. */
  trouble: string;
  /** What was made last. `revision`: of what; another than the cut's own has been changed since. */
  made: { revision: number; lengthMs: number; bytes: number; at: number; url: string } | null;
  shown: boolean;
}

/** What of a recording can be seen at a glance: small pictures on one sheet, `columns` in a row, one every `everyMs`. */
export interface SurveyView {
  strip: { url: string; everyMs: number; columns: number; count: number; width: number; height: number };
  /** Where its loudness is, one byte for each `everyMs`: dB relative to full scale plus 100. */
  sound: { url: string; everyMs: number; count: number };
}

export interface CutsView {
  showId: string;
  title: string;
  recordingUrl: string;
  lengthMs: number;
  /** Null: it is being looked through. */
  survey: SurveyView | null;
  /** Why it could not be looked through; empty: it could. */
  surveyTrouble: string;
  suggestions: Suggestion[];
  /** The cues as they ran, in ms of the recording. */
  ran: Chapter[];
  chapters: Chapter[];
  /** Of chapters that were changed by hand; 0: they are those of the running order. */
  chaptersRevision: number;
  cuts: CutView[];
}
