// Polls of a show: prepared by the team, answered on the house page and in messages, shown on the picture.
import { FEWEST_OPTIONS, LONGEST_OPTION, LONGEST_POLL_QUESTION, MOST_OPTIONS, type PollState } from '@lantern/core';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsInt, IsNotEmpty, IsString, IsUUID, Matches, Max, MaxLength, Min } from 'class-validator';
import { BrowserNamed } from '../house/browser';
import { NO_CONTROLS } from '../house/house';

export interface PollView {
  id: string;
  question: string;
  options: string[];
  state: PollState;
  openedAt: number | null;
  closedAt: number | null;
  /** Votes for each option. */
  counts: number[];
  /** Votes by where they came from. */
  from: { name: string; votes: number }[];
}

export class PollDraft {
  @IsString()
  @IsNotEmpty({ message: 'Write what is asked.' })
  @MaxLength(LONGEST_POLL_QUESTION, { message: `Keep what is asked to ${LONGEST_POLL_QUESTION} characters.` })
  @Matches(NO_CONTROLS, { message: 'What is asked is one line.' })
  question!: string;

  @IsArray()
  @ArrayMinSize(FEWEST_OPTIONS, { message: 'Give two answers at least.' })
  @ArrayMaxSize(MOST_OPTIONS, { message: `Give ${MOST_OPTIONS} answers at the most.` })
  @IsString({ each: true })
  @IsNotEmpty({ each: true, message: 'An answer is empty.' })
  @MaxLength(LONGEST_OPTION, { each: true, message: `Keep each answer to ${LONGEST_OPTION} characters.` })
  @Matches(NO_CONTROLS, { each: true, message: 'Each answer is one line.' })
  options!: string[];
}

/** A poll as visitors of the house page see it: the newest that was opened. */
export interface HousePoll {
  id: string;
  question: string;
  options: string[];
  state: 'open' | 'closed';
  counts: number[];
  /** By the server's clock: of two, the later is as it is now. */
  at: number;
}

/** Beside it, what this browser answered; null: nothing yet. */
export interface HousePollMine {
  poll: HousePoll | null;
  mine: number | null;
}

export class HouseVote extends BrowserNamed {
  @IsUUID()
  poll!: string;

  @IsInt()
  @Min(0)
  @Max(MOST_OPTIONS - 1)
  option!: number;
}
