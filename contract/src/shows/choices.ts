// What a show asks of a channel beyond its words.
import { type AiringChoices, type Audience, CATEGORIES, type Category, type MessageRule, type Visibility } from '@lantern/core';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsInt, IsOptional, IsString, MaxLength } from 'class-validator';

const VISIBILITIES: Visibility[] = ['everyone', 'link holders', 'invited people', 'supporters', 'group members'];
const AUDIENCES: Audience[] = ['everybody', 'adults', 'children'];
const MESSAGE_RULES: MessageRule[] = ['everyone', 'followers', 'members', 'off'];
const NOT_OFFERED = 'This channel offers no such choice.';
export const TAG_MAX = 40;

/** What a show asks of one channel beyond the channel's own defaults. What is left out goes by those. */
export class ChoicesDraft implements AiringChoices {
  @IsOptional()
  @IsIn(VISIBILITIES, { message: NOT_OFFERED })
  visibility?: Visibility;

  @IsOptional()
  @IsIn(CATEGORIES, { message: NOT_OFFERED })
  category?: Category;

  @IsOptional()
  @IsString()
  @MaxLength(35, { message: 'This is no language tag, such as “en”.' })
  language?: string;

  @IsOptional()
  @IsIn(MESSAGE_RULES, { message: NOT_OFFERED })
  messages?: MessageRule;

  @IsOptional()
  @IsInt({ message: NOT_OFFERED })
  delayS?: number;

  @IsOptional()
  @IsBoolean()
  rewind?: boolean;

  @IsOptional()
  @IsBoolean()
  replay?: boolean;

  @IsOptional()
  @IsIn(AUDIENCES, { message: NOT_OFFERED })
  audience?: Audience;

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50, { message: 'These are too many tags.' })
  @IsString({ each: true })
  @MaxLength(TAG_MAX, { each: true, message: `Keep each tag to ${TAG_MAX} characters.` })
  tags?: string[];

  @IsOptional()
  @IsBoolean()
  embedding?: boolean;

  @IsOptional()
  @IsBoolean()
  paidMention?: boolean;

  @IsOptional()
  @IsBoolean()
  beginsByItself?: boolean;
}
