// Townfold's HTTP interface, as published by Townfold.
import { IsIn, IsInt, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator';

export interface TownfoldPlaces {
  places: { place_ref: string; place_kind: 'page' | 'group' | 'profile'; display_name: string; portrait: string }[];
}

/** Whether the sign-in may host there: its role on a page, and whether a group allows it at all. */
export interface TownfoldHosting {
  role: 'owner' | 'editor' | 'reader';
  /** Null for places that are no group. */
  group_allows: boolean | null;
}

export class TownfoldGatheringRequest {
  @IsString()
  @MaxLength(50_000)
  headline!: string;

  @IsString()
  @MaxLength(50_000)
  words!: string;

  /** Seconds since 1970; null: at once. */
  @IsOptional()
  @IsInt()
  begins_at!: number | null;

  @IsInt()
  @Min(1)
  @Max(10_000)
  lasts_minutes!: number;

  @IsIn(['everyone', 'members'])
  shown_to!: 'everyone' | 'members';

  @IsOptional()
  @IsIn(['everyone', 'followers'])
  talk?: 'everyone' | 'followers';

  /** How old one has to be: 0 or 18. */
  @IsOptional()
  @IsIn([0, 18])
  from_age?: 0 | 18;
}

export class TownfoldGatheringEdit {
  @IsOptional()
  @IsString()
  @MaxLength(50_000)
  headline?: string;

  @IsOptional()
  @IsString()
  @MaxLength(50_000)
  words?: string;

  @IsOptional()
  @IsInt()
  begins_at?: number;

  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(10_000)
  lasts_minutes?: number;

  @IsOptional()
  @IsIn(['everyone', 'members'])
  shown_to?: 'everyone' | 'members';

  @IsOptional()
  @IsIn(['everyone', 'followers'])
  talk?: 'everyone' | 'followers';

  @IsOptional()
  @IsIn([0, 18])
  from_age?: 0 | 18;
}

/** What is planned at a place, the earliest first. */
export interface TownfoldGatherings {
  gatherings: TownfoldGathering[];
}

export interface TownfoldGathering {
  gathering_ref: string;
  phase: 'waiting' | 'showing' | 'done' | 'called_off';
  headline: string;
  words: string;
  begins_at: number;
  lasts_minutes: number;
  shown_to: 'everyone' | 'members';
  picture_in: boolean;
  onlookers: number;
  page_address: string;
  /** Lets group members in without their sign-in; null for gatherings that everyone sees. */
  members_address: string | null;
}

/** The single-use line of a gathering, told to its owner only. */
export interface TownfoldLine {
  send_to: string;
  pass_phrase: string;
}

/** Limits that will change: characters, days, minutes or hours as the name says. */
export interface TownfoldNotices {
  notices: { notice_ref: string; about: 'headline' | 'words' | 'days_ahead' | 'lead_minutes' | 'longest_hours'; becomes: number; since: number }[];
}

export interface TownfoldRefusal {
  refused: string;
  because: string;
}

export class TownfoldNoteRequest {
  @IsString()
  @MaxLength(50_000)
  words!: string;
}

export interface TownfoldNote {
  note_ref: string;
  words: string;
  page_address: string;
}
