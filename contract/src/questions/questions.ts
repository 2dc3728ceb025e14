// Questions that visitors ask on a show's house page, and the place on the picture that one of them may be offered.
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsNotEmpty, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { BROWSER_KEY } from '../house/browser';
import { NO_CONTROLS } from '../house/house';

export const LONGEST_QUESTION = 300;
/** So many of their own a browser follows. */
export const MOST_OWN_QUESTIONS = 10;

/** Whether it waits for the host, was answered in the show, or is not going to be. */
export type QuestionState = 'open' | 'answered' | 'put aside';
/** Whether whoever asked is to ask it themselves, on the picture. */
export type QuestionPlace = 'none' | 'offered' | 'accepted' | 'declined';

export class QuestionAsked {
  @Matches(BROWSER_KEY, { message: 'This browser asks in a way that is not understood. Load the page anew.' })
  key!: string;

  @IsString()
  @IsNotEmpty({ message: 'Say how you are called.' })
  @MaxLength(60, { message: 'Keep your name to 60 characters.' })
  @Matches(NO_CONTROLS, { message: 'A name has no line breaks.' })
  name!: string;

  @IsString()
  @IsNotEmpty({ message: 'Write your question.' })
  @MaxLength(LONGEST_QUESTION, { message: `Keep your question to ${LONGEST_QUESTION} characters.` })
  words!: string;
}

/** A question as whoever asked it sees it. */
export interface OwnQuestion {
  words: string;
  state: QuestionState;
  place: QuestionPlace;
}

/** In the body: what is in an address is in logs. */
export class KeysShown {
  @IsArray()
  @ArrayMaxSize(MOST_OWN_QUESTIONS)
  @Matches(BROWSER_KEY, { each: true })
  keys!: string[];
}

export class PlaceAnswer {
  @Matches(BROWSER_KEY, { message: 'This browser has asked nothing here.' })
  key!: string;

  @IsBoolean()
  comes!: boolean;
}

/** `door`: the address of their own guest pass; null: they do not come. */
export interface PlaceAnswered {
  question: OwnQuestion;
  door: string | null;
}

/** A question as the team sees it. */
export interface QuestionView {
  id: string;
  name: string;
  words: string;
  /** Where it was asked: “the house page”, or a network’s name. */
  from: string;
  onHousePage: boolean;
  askedAt: number;
  state: QuestionState;
  /** When it was said to be answered; null: it was not. */
  answeredAt: number | null;
  /** As it may stand on the picture: without addresses and keys, and as the team has shortened it; empty: nothing is left of it. */
  onPicture: string;
  place: QuestionPlace;
}

export interface QuestionsView {
  /** Whether the house page takes questions. */
  taken: boolean;
  /** As they came. */
  questions: QuestionView[];
}

export class QuestionChange {
  @IsOptional()
  @IsIn(['open', 'answered', 'put aside'])
  state?: QuestionState;

  /** Empty: as it was written. */
  @IsOptional()
  @IsString()
  @MaxLength(LONGEST_QUESTION, { message: `Keep it to ${LONGEST_QUESTION} characters.` })
  onPicture?: string;
}

export class QuestionsTaken {
  @IsBoolean()
  taken!: boolean;
}
