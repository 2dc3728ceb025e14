// Messages from all channels of a show, as one list.
import type { HoldingRules, MessagePlace, MessageRule, TalkRules, WriterStanding, Writing, WRITING } from '@lantern/core';
import type { Silence } from '../house/talk';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsInt, IsNotEmpty, IsOptional, IsString, Matches, MaxLength } from 'class-validator';

/** Nothing longer is sent to any network. */
const LONGEST_ANSWER = 1_000;
/** So many come at once; whoever asks goes on from the last one. */
export const MESSAGES_AT_ONCE = 500;
/** So many of the newest a list begins with. */
export const MESSAGES_AT_FIRST = 1_000;

/** `removed`: it is gone on its network for good. */
export type MessageState = 'shown' | 'hidden' | 'removed';

export interface MessageView {
  id: string;
  /** In the order of arrival. */
  place: number;
  channelId: string;
  writer: string;
  standing: WriterStanding;
  words: string;
  /** The message of this list that it answers; null: none, or none that is known. */
  answers: string | null;
  /** In ms since the epoch, by the network's clock. */
  writtenAt: number;
  state: MessageState;
  /** When it was answered from here or as the channel; null: it was not. */
  answeredAt: number | null;
  /** Whether it was gathered as a question. */
  gathered: boolean;
  /** Why the station’s rules held it back; null: they did not, or somebody has looked at it since. */
  held: HeldReason | null;
  /** Of the house page: how late its writer saw the show as they wrote, in ms; null: they did not see it, or it is not known. */
  behindMs: number | null;
  /** Of the house page: how many others said that they ask this too. */
  askedToo: number;
  /** For how long whoever wrote it writes nothing more there; null: nobody can be kept from writing there, or it is the team’s own. */
  silence: Silence | null;
}

/** What keeps a message from being seen until somebody has looked at it. */
export type HeldReason = 'word' | 'link' | 'looked at first';

/** Where messages come from. `trouble`: why nothing comes at this moment; empty: it comes. */
export interface MessageSource {
  channelId: string;
  name: string;
  network: MessagePlace;
  trouble: string;
  /** How the house page takes them; null: this is a network. */
  talk: TalkRules | null;
  /** Who may write there, as it was chosen; null: the network knows no such choice. */
  writers: MessageRule | null;
  /** What may be chosen of who writes, how often and what, with what was chosen. */
  offers: WritingOffer[];
}

/** Something that is chosen of writing there, of at least two. */
export interface WritingOffer {
  name: (typeof WRITING)[number];
  now: MessageRule | number;
  from: readonly (MessageRule | number)[];
}

export interface MessagesView {
  /** What is held back as it comes. */
  rules: HoldingRules;
  /** Answers that the station has prepared. */
  prepared: string[];
  sources: MessageSource[];
  /** Messages that are new or other since the revision that was asked for, in the order of arrival. */
  messages: MessageView[];
  /** What to ask with the next time. */
  revision: number;
  /** There are more than came at once. */
  more: boolean;
}

/** Names what is written, so that it is written once, however often it is asked for. */
const KEY = /^[\w-]{16,64}$/;

export class MessageAnswer {
  @Matches(KEY, { message: 'This page writes in a way that is not understood. Load it anew.' })
  key!: string;

  @IsString()
  @IsNotEmpty({ message: 'Write something.' })
  @MaxLength(LONGEST_ANSWER, { message: `Keep it to ${LONGEST_ANSWER} characters.` })
  words!: string;
}

/** What became of it on each channel; without words it stands there. */
export interface SaidView {
  said: { channelId: string; name: string; refusal: string }[];
}

/** What is chosen anew of who writes on a channel, how often and what; what is left out stays. */
export class WritingChoice implements Writing {
  @IsOptional()
  @IsIn(['everyone', 'followers', 'members', 'off'])
  messages?: MessageRule;

  @IsOptional()
  @IsInt()
  messagesEveryS?: number;

  @IsOptional()
  @IsInt()
  writersAgedDays?: number;

  @IsOptional()
  @IsInt()
  shortestMessage?: number;
}

export const MOST_HELD_WORDS = 200;

/** What is held back from now on; what is there already stays as it is. */
export class HoldingChoice implements HoldingRules {
  @IsArray()
  @ArrayMaxSize(MOST_HELD_WORDS, { message: `Keep it to ${MOST_HELD_WORDS} words.` })
  @IsString({ each: true })
  @MaxLength(60, { each: true, message: 'Keep each word to 60 characters.' })
  words!: string[];

  @IsBoolean()
  links!: boolean;
}

export const MOST_PREPARED_ANSWERS = 30;
export const LONGEST_PREPARED_ANSWER = 250;

/** Answers that are given often, in the order in which they are offered. */
export class PreparedAnswers {
  @IsArray()
  @ArrayMaxSize(MOST_PREPARED_ANSWERS, { message: `Keep it to ${MOST_PREPARED_ANSWERS} answers.` })
  @IsString({ each: true })
  @MaxLength(LONGEST_PREPARED_ANSWER, { each: true, message: `Keep each answer to ${LONGEST_PREPARED_ANSWER} characters.` })
  answers!: string[];
}

export class MessageHiding {
  @IsBoolean()
  hidden!: boolean;
}
