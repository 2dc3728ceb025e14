// What a show asks of a channel beyond its words.
import {
  type AiringChoices,
  type Audience,
  CATEGORIES,
  type Category,
  type CountryLimit,
  isCountry,
  type Licence,
  type MessageRule,
  SHARED_WHEN,
  type Sharing,
  type Visibility,
} from '@lantern/core';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsInt, IsOptional, IsString, IsUrl, MaxLength, ValidateBy, ValidateIf } from 'class-validator';
import { IsPart } from '../rules/part';

const VISIBILITIES: Visibility[] = ['everyone', 'link holders', 'invited people', 'supporters', 'group members'];
const AUDIENCES: Audience[] = ['everybody', 'adults', 'children'];
const MESSAGE_RULES: MessageRule[] = ['everyone', 'followers', 'members', 'off'];
const NOT_OFFERED = 'This channel offers no such choice.';
const LICENCES: Licence[] = ['all rights kept', 'CC BY 4.0'];
export const TAG_MAX = 40;
export const PLAYLIST_MAX = 60;

export class SharingDraft implements Sharing {
  @IsArray()
  @ArrayMaxSize(50, { message: 'Share it with fifty pages at most.' })
  @IsString({ each: true })
  @MaxLength(200, { each: true })
  with!: string[];

  @IsIn(SHARED_WHEN, { message: NOT_OFFERED })
  when!: Sharing['when'];
}

export class CountryLimitDraft implements CountryLimit {
  @IsIn(['only in', 'everywhere but in'], { message: NOT_OFFERED })
  rule!: CountryLimit['rule'];

  @IsArray()
  @ArrayMaxSize(250, { message: 'These are more countries than there are.' })
  @ValidateBy({ name: 'isCountry', validator: { validate: isCountry, defaultMessage: () => 'This is no country.' } }, { each: true })
  of!: string[];
}

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

  @IsOptional()
  @IsIn(LICENCES, { message: NOT_OFFERED })
  licence?: Licence;

  @IsOptional()
  @IsInt({ message: NOT_OFFERED })
  listedDays?: number;

  @IsOptional()
  @IsBoolean()
  adverts?: boolean;

  @IsOptional()
  @IsBoolean()
  keepsMessages?: boolean;

  @IsOptional()
  @IsInt({ message: NOT_OFFERED })
  messagesEveryS?: number;

  @IsOptional()
  @IsInt({ message: NOT_OFFERED })
  writersAgedDays?: number;

  @IsOptional()
  @IsInt({ message: NOT_OFFERED })
  shortestMessage?: number;

  @IsOptional()
  @IsPart(() => SharingDraft)
  sharing?: SharingDraft;

  @IsOptional()
  @IsPart(() => CountryLimitDraft)
  countries?: CountryLimitDraft;

  @IsOptional()
  @IsString()
  @MaxLength(PLAYLIST_MAX, { message: `Keep the playlist’s name to ${PLAYLIST_MAX} characters.` })
  playlist?: string;

  /** Empty: nothing of ours. */
  @IsOptional()
  @ValidateIf(({ next }: ChoicesDraft) => next !== '')
  @IsUrl({ require_tld: false, protocols: ['http', 'https'], require_protocol: true }, { message: 'Write the whole address of what is shown next.' })
  @MaxLength(500)
  next?: string;
}
