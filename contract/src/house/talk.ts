// What visitors write to one another and to the host on a show's house page.
import { LONGEST_SAID, LOOKED_AT_FIRST, TALK_INTERVALS_S, type LookedAtFirst, type TalkRules } from '@lantern/core';
import { IsBoolean, IsIn, IsInt, IsNotEmpty, IsOptional, IsString, Matches, Max, MaxLength, Min } from 'class-validator';
import { BROWSER_KEY, BrowserNamed, KEY_NOT_UNDERSTOOD } from './browser';
import { NO_CONTROLS } from './house';

/** Stands for the house page where a channel is named. */
export const HOUSE_PAGE = 'house page';

/** So many of the newest a page begins with, and keeps. */
export const MOST_SAID_HERE = 200;

/** Nobody follows a show that is later; what says so is left out. */
export const MOST_BEHIND_MS = 120_000;

/** `writer` names the browser. */
export class TalkWritten extends BrowserNamed {
  /** Names this message, so that one whose answer got lost is written once. */
  @Matches(BROWSER_KEY, { message: KEY_NOT_UNDERSTOOD })
  key!: string;

  @IsString()
  @IsNotEmpty({ message: 'Say how you are called.' })
  @MaxLength(60, { message: 'Keep your name to 60 characters.' })
  @Matches(NO_CONTROLS, { message: 'A name has no line breaks.' })
  name!: string;

  @IsString()
  @IsNotEmpty({ message: 'Write something.' })
  @MaxLength(LONGEST_SAID, { message: `Keep it to ${LONGEST_SAID} characters.` })
  words!: string;

  /** How late the page showed the programme then, in ms; left out: it showed none, or it does not know. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(MOST_BEHIND_MS)
  behindMs?: number;
}

/** A message as everybody on the page sees it. */
export interface HouseMessage {
  id: string;
  /** In the order of arrival. */
  place: number;
  /** Grows with every change: of two, the one with the larger is as it is now. */
  revision: number;
  name: string;
  /** The host wrote it. */
  own: boolean;
  /** Empty where it is not shown any more. */
  words: string;
  shown: boolean;
  /** In ms since the epoch. */
  writtenAt: number;
  /** Whom it answers; null: nobody. */
  to: string | null;
  /** Whether it is a question that others can say they have too. */
  asks: boolean;
  /** How many browsers said so. */
  askedToo: number;
  answered: boolean;
}

export interface HouseTalk {
  /** Why nothing can be written at this moment; empty: it can. */
  shut: string;
  messages: HouseMessage[];
}

/** What became of a message. `waits`: nobody sees it before somebody of the team has looked at it. */
export interface TalkKept {
  id: string;
  waits: boolean;
  message: HouseMessage | null;
}

export class TalkChoice implements TalkRules {
  @IsBoolean()
  open!: boolean;

  @IsIn(LOOKED_AT_FIRST)
  lookedAt!: LookedAtFirst;

  @IsIn(TALK_INTERVALS_S)
  everyS!: number;
}

export const SILENCES = ['no', 'ten minutes', 'this show'] as const;
/** For how long the browser of a message writes nothing more on the page. */
export type Silence = (typeof SILENCES)[number];

export class SilenceChoice {
  @IsIn(SILENCES)
  silence!: Silence;
}
