// Guildhand's HTTP interface, as published by Guildhand. Bodies are enveloped as in JSON:API 1.1;
// refusals are problem details (RFC 9457); lengths are ISO 8601 durations.
import { IsCount, IsIdentifier, IsIngestAddress, IsListOf, IsMoment, IsOf, IsOneOf, IsSecret, IsWebAddress, IsWords, IsYesOrNo, OrNull } from './kinds';
import { IsBase64, IsIn, IsISO8601, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { IsPart } from '../rules/part';

export class GuildhandAccountFacts {
  @IsWords(1_000) name!: string;
  @IsWebAddress() portrait!: string;
}

export class GuildhandAccount {
  @IsOneOf(['member', 'organisation']) type!: 'member' | 'organisation';
  @IsIdentifier() id!: string;
  @IsOf(() => GuildhandAccountFacts) attributes!: GuildhandAccountFacts;
}

export class GuildhandAccounts {
  @IsListOf(() => GuildhandAccount) data!: GuildhandAccount[];
}

export class GuildhandStandingFacts {
  @IsMoment() opened!: string;
  @IsCount() connections!: number;
}

export class GuildhandStandingData {
  @IsOneOf(['standing']) type!: 'standing';
  @IsIdentifier() id!: string;
  @IsOf(() => GuildhandStandingFacts) attributes!: GuildhandStandingFacts;
}

export class GuildhandStanding {
  @IsOf(() => GuildhandStandingData) data!: GuildhandStandingData;
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

export class GuildhandTalkState {
  @IsOneOf(['announced', 'open', 'closed', 'cancelled']) state!: 'announced' | 'open' | 'closed' | 'cancelled';
  @IsWords() title!: string;
  @IsWords() summary!: string;
  @IsMoment() begins!: string;
  @Matches(DURATION) lasts!: string;
  @IsOneOf(['everyone', 'invited']) audience!: 'everyone' | 'invited';
  @IsYesOrNo() picture_seen!: boolean;
  @IsCount() attending!: number;
}

export class GuildhandTalkLinks {
  @IsWebAddress() page!: string;
  @OrNull() @IsWebAddress() invitation!: string | null;
}

export class GuildhandTalkThere {
  @IsOneOf(['talk']) type!: 'talk';
  @IsIdentifier() id!: string;
  @IsOf(() => GuildhandTalkState) attributes!: GuildhandTalkState;
  @IsOf(() => GuildhandTalkLinks) links!: GuildhandTalkLinks;
}

/** What an account has announced, the earliest first. */
export class GuildhandTalks {
  @IsListOf(() => GuildhandTalkThere) data!: GuildhandTalkThere[];
}

export class GuildhandTalk {
  @IsOf(() => GuildhandTalkThere) data!: GuildhandTalkThere;
}

class GuildhandSpeakerAskedFacts {
  @IsString()
  @MaxLength(1_000)
  name!: string;

  @IsString()
  @MaxLength(1_000)
  about!: string;
}

class GuildhandSpeakerAsked {
  @IsIn(['speaker'])
  type!: 'speaker';

  /** Of whoever invites: by it the same speaker is known again. */
  @IsIdentifier()
  id!: string;

  @IsPart(() => GuildhandSpeakerAskedFacts)
  attributes!: GuildhandSpeakerAskedFacts;
}

/** All speakers of a talk, in order. */
export class GuildhandSpeakersRequest {
  @IsListOf(() => GuildhandSpeakerAsked)
  data!: GuildhandSpeakerAsked[];
}

export class GuildhandSpeakerFacts {
  @IsWords(1_000) name!: string;
  @IsOneOf(['invited', 'accepted', 'declined']) answer!: 'invited' | 'accepted' | 'declined';
}

export class GuildhandSpeakerLinks {
  /** Where the speaker answers; theirs alone. */
  @IsWebAddress() invitation!: string;
}

export class GuildhandSpeaker {
  @IsOneOf(['speaker']) type!: 'speaker';
  @IsIdentifier() id!: string;
  @IsOf(() => GuildhandSpeakerFacts) attributes!: GuildhandSpeakerFacts;
  @IsOf(() => GuildhandSpeakerLinks) links!: GuildhandSpeakerLinks;
}

export class GuildhandSpeakers {
  @IsListOf(() => GuildhandSpeaker) data!: GuildhandSpeaker[];
}

export class GuildhandLineFacts {
  @IsIngestAddress() ingest!: string;
  @IsSecret() secret!: string;
}

export class GuildhandLineData {
  @IsOneOf(['line']) type!: 'line';
  @IsIdentifier() id!: string;
  @IsOf(() => GuildhandLineFacts) attributes!: GuildhandLineFacts;
}

export class GuildhandLine {
  @IsOf(() => GuildhandLineData) data!: GuildhandLineData;
}

/** A limit that will change: characters, days, minutes or hours as the name says. */
export class GuildhandRuleChangeFacts {
  /** Others may be added: whoever does not know one passes over it. */
  @IsWords(100) rule!: 'title' | 'summary' | 'days-ahead' | 'minutes-before' | 'longest-hours';
  @IsCount() becomes!: number;
  @IsMoment() from!: string;
}

export class GuildhandRuleChange {
  @IsOneOf(['rule-change']) type!: 'rule-change';
  @IsIdentifier() id!: string;
  @IsOf(() => GuildhandRuleChangeFacts) attributes!: GuildhandRuleChangeFacts;
}

export class GuildhandRuleChanges {
  @IsListOf(() => GuildhandRuleChange) data!: GuildhandRuleChange[];
}

export interface GuildhandProblem {
  type: string;
  title: string;
  status: number;
  detail: string;
}

export class GuildhandCommentFacts {
  @IsWords() text!: string;
  @IsMoment() written!: string;
  @IsWords(1_000) author!: string;
  /** Others may be added. */
  @IsWords(100) standing!: 'organiser' | 'member';
}

export class GuildhandCommentData {
  @IsOneOf(['comment']) type!: 'comment';
  @IsIdentifier() id!: string;
  @IsOf(() => GuildhandCommentFacts) attributes!: GuildhandCommentFacts;
}

export class GuildhandComment {
  @IsOf(() => GuildhandCommentData) data!: GuildhandCommentData;
}

/** A comment with what answers it, the oldest first. */
export class GuildhandThread {
  @IsOf(() => GuildhandCommentData) opening!: GuildhandCommentData;
  @IsListOf(() => GuildhandCommentData) replies!: GuildhandCommentData[];
}

/** Threads, the one to which something was added last first; `more`: there is another page. */
export class GuildhandThreads {
  @IsListOf(() => GuildhandThread) data!: GuildhandThread[];
  @IsYesOrNo() more!: boolean;
}

class GuildhandCommentAskedFacts {
  @IsString()
  @MaxLength(5_000)
  text!: string;

  /** The comment that it answers. */
  @IsOptional()
  @IsString()
  answers?: string;
}

class GuildhandCommentAsked {
  @IsIn(['comment'])
  type!: 'comment';

  @IsPart(() => GuildhandCommentAskedFacts)
  attributes!: GuildhandCommentAskedFacts;
}

/** An Idempotency-Key gives the same comment again. */
export class GuildhandCommentRequest {
  @IsPart(() => GuildhandCommentAsked)
  data!: GuildhandCommentAsked;
}

class GuildhandAttendanceFacts {
  @IsCount() attended!: number;
}

class GuildhandAttendanceData {
  @IsIn(['attendance']) type!: 'attendance';
  @IsPart(() => GuildhandAttendanceFacts) attributes!: GuildhandAttendanceFacts;
}

/** How many came to a talk while it was open. */
export class GuildhandAttendance {
  @IsPart(() => GuildhandAttendanceData) data!: GuildhandAttendanceData;
}
