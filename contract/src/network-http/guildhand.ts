// Guildhand's HTTP interface, as published by Guildhand. Bodies are enveloped as in JSON:API 1.1;
// refusals are problem details (RFC 9457); lengths are ISO 8601 durations.
import { IsBase64, IsIn, IsISO8601, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { IsPart } from '../part';

export interface GuildhandAccounts {
  data: { type: 'member' | 'organisation'; id: string; attributes: { name: string; portrait: string } }[];
}

export interface GuildhandStanding {
  data: { type: 'standing'; id: string; attributes: { opened: string; connections: number } };
}

const DURATION = /^PT(\d+H)?(\d+M)?$/;

export class GuildhandTalkFacts {
  @IsString()
  @MaxLength(50_000)
  title!: string;

  @IsString()
  @MaxLength(50_000)
  summary!: string;

  @IsISO8601()
  begins!: string;

  @Matches(DURATION)
  lasts!: string;

  @IsIn(['everyone', 'invited'])
  audience!: 'everyone' | 'invited';
}

class GuildhandTalkData {
  @IsIn(['talk'])
  type!: 'talk';

  @IsPart(() => GuildhandTalkFacts)
  attributes!: GuildhandTalkFacts;
}

export class GuildhandTalkRequest {
  @IsPart(() => GuildhandTalkData)
  data!: GuildhandTalkData;
}

export class GuildhandTalkChangeFacts {
  @IsOptional()
  @IsString()
  @MaxLength(50_000)
  title?: string;

  @IsOptional()
  @IsString()
  @MaxLength(50_000)
  summary?: string;

  @IsOptional()
  @IsISO8601()
  begins?: string;

  @IsOptional()
  @Matches(DURATION)
  lasts?: string;

  @IsOptional()
  @IsIn(['everyone', 'invited'])
  audience?: 'everyone' | 'invited';
}

class GuildhandTalkChangeData {
  @IsIn(['talk'])
  type!: 'talk';

  @IsPart(() => GuildhandTalkChangeFacts)
  attributes!: GuildhandTalkChangeFacts;
}

export class GuildhandTalkChange {
  @IsPart(() => GuildhandTalkChangeData)
  data!: GuildhandTalkChangeData;
}

class GuildhandPictureFacts {
  @IsBase64()
  bytes!: string;

  /** What the picture shows, for those who cannot see it. */
  @IsString()
  @MaxLength(1_000)
  words!: string;
}

class GuildhandPictureData {
  @IsIn(['picture'])
  type!: 'picture';

  @IsPart(() => GuildhandPictureFacts)
  attributes!: GuildhandPictureFacts;
}

export class GuildhandPictureRequest {
  @IsPart(() => GuildhandPictureData)
  data!: GuildhandPictureData;
}

/** What an account has announced, the earliest first. */
export interface GuildhandTalks {
  data: GuildhandTalk['data'][];
}

export interface GuildhandTalk {
  data: {
    type: 'talk';
    id: string;
    attributes: {
      state: 'announced' | 'open' | 'closed' | 'cancelled';
      title: string;
      summary: string;
      begins: string;
      lasts: string;
      audience: 'everyone' | 'invited';
      picture_seen: boolean;
      attending: number;
    };
    links: { page: string; invitation: string | null };
  };
}

export interface GuildhandLine {
  data: { type: 'line'; id: string; attributes: { ingest: string; secret: string } };
}

/** Limits that will change: characters, days, minutes or hours as the name says. */
export interface GuildhandRuleChanges {
  data: {
    type: 'rule-change';
    id: string;
    attributes: { rule: 'title' | 'summary' | 'days-ahead' | 'minutes-before' | 'longest-hours'; becomes: number; from: string };
  }[];
}

export interface GuildhandProblem {
  type: string;
  title: string;
  status: number;
  detail: string;
}
