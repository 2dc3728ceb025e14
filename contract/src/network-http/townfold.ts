// Townfold's HTTP interface, as published by Townfold.
import { IsCount, IsIdentifier, IsIngestAddress, IsListOf, IsOneOf, IsSecret, IsWebAddress, IsWords, IsYesOrNo, OrNull } from './kinds';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsInt, IsOptional, IsString, Matches, Max, MaxLength, Min } from 'class-validator';

/** Codes of countries as they are published: of two capital letters. */
const IsCountries = (): PropertyDecorator => (target, name) =>
  [IsArray(), ArrayMaxSize(250), IsString({ each: true }), Matches(/^[A-Z]{2}$/, { each: true })].forEach((decorate) => decorate(target, name));

const SHARED_FROM = ['announced', 'begun', 'over'] as const;

export class TownfoldPlace {
  @IsIdentifier() place_ref!: string;
  @IsOneOf(['page', 'group', 'profile']) place_kind!: 'page' | 'group' | 'profile';
  @IsWords(1_000) display_name!: string;
  @IsWebAddress() portrait!: string;
}

export class TownfoldPlaces {
  @IsListOf(() => TownfoldPlace) places!: TownfoldPlace[];
}

/** Whether the sign-in may host there: its role on a page, and whether a group allows it at all. */
export class TownfoldHosting {
  @IsOneOf(['owner', 'editor', 'reader']) role!: 'owner' | 'editor' | 'reader';
  /** Null for places that are no group. */
  @OrNull() @IsYesOrNo() group_allows!: boolean | null;
}

/** What may be chosen about a gathering, when it is announced and afterwards. */
export class TownfoldChoices {
  @IsOptional()
  @IsIn(['everyone', 'followers'])
  talk?: 'everyone' | 'followers';

  /** How old one has to be: 0 or 18. */
  @IsOptional()
  @IsIn([0, 18])
  from_age?: 0 | 18;

  /** Countries in which alone it is shown, by their codes of two letters (ISO 3166-1); empty: in all. */
  @IsOptional()
  @IsCountries()
  only_in?: string[];

  /** Countries in which it is not shown. */
  @IsOptional()
  @IsCountries()
  not_in?: string[];

  /** On whose pages it stands too, and from when on; partners are asked, own groups are not. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @IsString({ each: true })
  share_with?: string[];

  @IsOptional()
  @IsIn(SHARED_FROM)
  shared_from?: (typeof SHARED_FROM)[number];

  /** How many characters a remark has at least. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(100)
  shortest_remark?: number;
}

export class TownfoldGatheringRequest extends TownfoldChoices {
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
}

export class TownfoldGatheringEdit extends TownfoldChoices {
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
}

/** A page on which a gathering stands too, or is to. */
export class TownfoldShare {
  @IsIdentifier() place_ref!: string;
  @IsWords(1_000) display_name!: string;
  @IsOneOf(['asked', 'accepted', 'declined']) answer!: 'asked' | 'accepted' | 'declined';
}

/** A page that may be asked to share what is announced at a place. */
export class TownfoldPartner {
  @IsIdentifier() place_ref!: string;
  @IsWords(1_000) display_name!: string;
  /** One's own: it is not asked. */
  @IsYesOrNo() own!: boolean;
}

export class TownfoldPartners {
  @IsListOf(() => TownfoldPartner) partners!: TownfoldPartner[];
}

export class TownfoldGathering {
  @IsIdentifier() gathering_ref!: string;
  @IsOneOf(['waiting', 'showing', 'done', 'called_off']) phase!: 'waiting' | 'showing' | 'done' | 'called_off';
  @IsWords() headline!: string;
  @IsWords() words!: string;
  @IsCount() begins_at!: number;
  @IsCount() lasts_minutes!: number;
  @IsOneOf(['everyone', 'members']) shown_to!: 'everyone' | 'members';
  /** Who may say something at it. */
  @IsOneOf(['everyone', 'followers']) talk!: 'everyone' | 'followers';
  @IsOneOf([0, 18]) from_age!: 0 | 18;
  @IsCountries() only_in!: string[];
  @IsCountries() not_in!: string[];
  @IsCount() shortest_remark!: number;
  @IsOneOf(SHARED_FROM) shared_from!: (typeof SHARED_FROM)[number];
  @IsListOf(() => TownfoldShare) shares!: TownfoldShare[];
  @IsYesOrNo() picture_in!: boolean;
  @IsCount() onlookers!: number;
  @IsWebAddress() page_address!: string;
  /** What the page plays; null before it is public. */
  @OrNull() @IsWebAddress() stream_address!: string | null;
  /** Lets group members in without their sign-in; null for gatherings that everyone sees. */
  @OrNull() @IsWebAddress() members_address!: string | null;
}

/** What is planned at a place, the earliest first. */
export class TownfoldGatherings {
  @IsListOf(() => TownfoldGathering) gatherings!: TownfoldGathering[];
}

/** The single-use line of a gathering, told to its owner only. */
export class TownfoldLine {
  @IsIngestAddress() send_to!: string;
  @IsSecret() pass_phrase!: string;
}

/** A limit that will change: characters, days, minutes or hours as the name says. */
export class TownfoldNotice {
  @IsIdentifier() notice_ref!: string;
  /** Others may be added: whoever does not know one passes over it. */
  @IsWords(100) about!: 'headline' | 'words' | 'days_ahead' | 'lead_minutes' | 'longest_hours';
  @IsCount() becomes!: number;
  @IsCount() since!: number;
}

export class TownfoldNotices {
  @IsListOf(() => TownfoldNotice) notices!: TownfoldNotice[];
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

export class TownfoldNote {
  @IsIdentifier() note_ref!: string;
  @IsWords() words!: string;
  @IsWebAddress() page_address!: string;
}

/** What somebody says at a gathering. */
export class TownfoldRemark {
  @IsIdentifier() remark_ref!: string;
  /** In ms since 1970. */
  @IsCount() said_at!: number;
  @IsWords(1_000) by!: string;
  /** Others may be added. */
  @IsWords(100) bond!: 'host' | 'follower' | 'passer-by';
  @IsWords() words!: string;
  @IsYesOrNo() hidden!: boolean;
}

/** What was said after `after`, in order; `upto` is what to ask with the next time. */
export class TownfoldTalk {
  @IsListOf(() => TownfoldRemark) remarks!: TownfoldRemark[];
  @IsCount() upto!: number;
}

/** An Idempotency-Key gives the same remark again. */
export class TownfoldRemarkRequest {
  @IsString()
  @MaxLength(5_000)
  words!: string;
}

export class TownfoldRemarkChange {
  @IsBoolean()
  hidden!: boolean;
}

/** Whether whoever made a remark says nothing more at the gathering. */
export class TownfoldBarring {
  @IsBoolean()
  barred!: boolean;
}

/** How many have looked at it, then and later. */
export class TownfoldLookers {
  @IsCount() looked_then!: number;
  @IsCount() looked_later!: number;
}
