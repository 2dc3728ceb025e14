// Reelmoor's HTTP interface, as published by Reelmoor.
import { IsCount, IsIdentifier, IsIngestAddress, IsListOf, IsMoment, IsOf, IsOneOf, IsSecret, IsWebAddress, IsWords, IsYesOrNo, OrNull } from './kinds';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsInt, IsISO8601, IsOptional, IsString, Max, MaxLength, Min, ValidateIf } from 'class-validator';

export class ReelmoorChannel {
  @IsIdentifier() channelId!: string;
  @IsWords(1_000) name!: string;
  @IsWebAddress() avatarUrl!: string;
}

export class ReelmoorChannelList {
  @IsListOf(() => ReelmoorChannel) items!: ReelmoorChannel[];
}

/** Whether a channel may broadcast: its phone is verified and a day has passed since it first asked. */
export class ReelmoorStanding {
  @IsYesOrNo() phoneVerified!: boolean;
  @OrNull() @IsMoment() firstAskedAt!: string | null;
  @OrNull() @IsMoment() allowedFrom!: string | null;
}

export class ReelmoorLineRequest {
  @IsString()
  @MaxLength(60)
  label!: string;
}

export class ReelmoorLine {
  @IsIdentifier() lineId!: string;
  @IsWords(1_000) label!: string;
  @IsIngestAddress() primaryAddress!: string;
  @IsIngestAddress() backupAddress!: string;
  @IsSecret() streamKey!: string;
}

export class ReelmoorLineList {
  @IsListOf(() => ReelmoorLine) items!: ReelmoorLine[];
}

const VISIBILITIES = ['everyone', 'link-holders', 'invited', 'supporters'] as const;
export type ReelmoorVisibility = (typeof VISIBILITIES)[number];
const MESSAGES = ['everyone', 'followers', 'off'] as const;
const LICENCES = ['all-rights-kept', 'CC-BY-4.0'] as const;
const AUDIENCES = ['everybody', 'adults', 'children'] as const;
export const REELMOOR_CATEGORIES = ['science', 'community', 'learning', 'music', 'other'] as const;

/** What may be chosen about a broadcast, when it is made and afterwards. */
export class ReelmoorChoices {
  @IsOptional()
  @IsIn(REELMOOR_CATEGORIES)
  category?: (typeof REELMOOR_CATEGORIES)[number];

  /** BCP 47 language tag. */
  @IsOptional()
  @IsString()
  @MaxLength(35)
  language?: string;

  @IsOptional()
  @IsIn(MESSAGES)
  messages?: (typeof MESSAGES)[number];

  /** Children’s programmes have no messages. */
  @IsOptional()
  @IsIn(AUDIENCES)
  audience?: (typeof AUDIENCES)[number];

  @IsOptional()
  @IsArray()
  @IsString({ each: true })
  @MaxLength(40, { each: true })
  tags?: string[];

  /** Whether other sites may show it. */
  @IsOptional()
  @IsBoolean()
  embeddable?: boolean;

  @IsOptional()
  @IsBoolean()
  paidMention?: boolean;

  /** How many seconds lie between two messages of one writer, and how many days old their account is, at least. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(300)
  messageEverySeconds?: number;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(365)
  writerAgeDays?: number;

  /** Terms under which others may use the recording. */
  @IsOptional()
  @IsIn(LICENCES)
  licence?: (typeof LICENCES)[number];

  /** How many days before its start the channel's page lists it; 0, as it is unless told otherwise: at its start. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(30)
  listedDaysBefore?: number;

  /** The playlist of the channel that it is put into, which is made where there is none of that name; empty: none. */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  playlist?: string;

  /** The watch address of another broadcast, shown to viewers after this one; empty: nothing. */
  @IsOptional()
  @IsString()
  @MaxLength(500)
  nextUrl?: string;

  /** Whether there are adverts in it; there are unless told otherwise. */
  @IsOptional()
  @IsBoolean()
  adverts?: boolean;

  /** Whether messages stay beneath the recording; they do unless told otherwise. */
  @IsOptional()
  @IsBoolean()
  messagesStay?: boolean;
}

/** How a broadcast stands, as far as it was chosen. Null: nothing was. */
export class ReelmoorChosen {
  @OrNull() @IsOneOf(REELMOOR_CATEGORIES) category!: (typeof REELMOOR_CATEGORIES)[number] | null;
  @OrNull() @IsWords(35) language!: string | null;
  @IsOneOf(AUDIENCES) audience!: (typeof AUDIENCES)[number];
  @IsArray() @ArrayMaxSize(50) @IsString({ each: true }) @MaxLength(40, { each: true }) tags!: string[];
  @IsYesOrNo() embeddable!: boolean;
  @IsYesOrNo() paidMention!: boolean;
  @IsCount() messageEverySeconds!: number;
  @IsCount() writerAgeDays!: number;
  @IsOneOf(LICENCES) licence!: (typeof LICENCES)[number];
  @IsCount() listedDaysBefore!: number;
  @IsWords(60) playlist!: string;
  @IsWords(500) nextUrl!: string;
  @IsYesOrNo() adverts!: boolean;
  @IsYesOrNo() messagesStay!: boolean;
}

export class ReelmoorBroadcastRequest extends ReelmoorChoices {
  @IsString()
  @MaxLength(50_000)
  title!: string;

  @IsString()
  @MaxLength(50_000)
  description!: string;

  @IsISO8601()
  scheduledStart!: string;

  @IsInt()
  @Min(1)
  @Max(10_000)
  durationMinutes!: number;

  @IsString()
  lineId!: string;

  @IsIn(VISIBILITIES)
  visibility!: ReelmoorVisibility;

  /** Whether the show becomes public when told, or by itself when a picture arrives. */
  @IsIn(['told', 'picture'])
  beginsBy!: 'told' | 'picture';

  @IsOptional()
  @IsIn([4, 10, 25])
  delaySeconds?: 4 | 10 | 25;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(3)
  rewindHours?: number;

  @IsOptional()
  @IsBoolean()
  replay?: boolean;
}

export class ReelmoorBroadcastChange extends ReelmoorChoices {
  @IsOptional()
  @IsString()
  @MaxLength(50_000)
  title?: string;

  @IsOptional()
  @IsString()
  @MaxLength(50_000)
  description?: string;

  @IsOptional()
  @IsISO8601()
  scheduledStart?: string;

  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(10_000)
  durationMinutes?: number;

  @IsOptional()
  @IsString()
  lineId?: string;

  @IsOptional()
  @IsIn(VISIBILITIES)
  visibility?: ReelmoorVisibility;

  /** These and the line only until the show is public. */
  @IsOptional()
  @IsIn(['told', 'picture'])
  beginsBy?: 'told' | 'picture';

  @IsOptional()
  @IsIn([4, 10, 25])
  delaySeconds?: 4 | 10 | 25;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(3)
  rewindHours?: number;

  @IsOptional()
  @IsBoolean()
  replay?: boolean;
}

export class ReelmoorBroadcast {
  @IsIdentifier() broadcastId!: string;
  @IsOneOf(['scheduled', 'public', 'ended', 'cancelled']) status!: 'scheduled' | 'public' | 'ended' | 'cancelled';
  @IsWords() title!: string;
  @IsWords() description!: string;
  @IsMoment() scheduledStart!: string;
  @IsCount() durationMinutes!: number;
  @IsIdentifier() lineId!: string;
  @IsOneOf(VISIBILITIES) visibility!: ReelmoorVisibility;
  @IsOneOf(['told', 'picture']) beginsBy!: 'told' | 'picture';
  @IsCount() delaySeconds!: number;
  @IsCount() rewindHours!: number;
  @IsYesOrNo() replay!: boolean;
  /** Who may write beneath it. */
  @IsOneOf(MESSAGES) messages!: (typeof MESSAGES)[number];
  @IsOf(() => ReelmoorChosen) chosen!: ReelmoorChosen;
  @IsYesOrNo() receiving!: boolean;
  @IsCount() watchingNow!: number;
  @IsWebAddress() watchUrl!: string;
  /** The playlist that the page plays; null before it is public. */
  @OrNull() @IsWebAddress() playbackUrl!: string | null;
  /** The address that lets invited people or supporters in; null where anybody may come. */
  @OrNull() @IsWebAddress() admissionUrl!: string | null;
}

/** What is planned on a channel, the earliest first. */
export class ReelmoorBroadcastList {
  @IsListOf(() => ReelmoorBroadcast) items!: ReelmoorBroadcast[];
}

/** A limit that will change. Days, hours or characters as the name says. */
export class ReelmoorAnnouncement {
  @IsIdentifier() announcementId!: string;
  /** Others may be added: whoever does not know one passes over it. */
  @IsWords(100) limit!: 'titleCharacters' | 'descriptionCharacters' | 'daysAhead' | 'longestHours';
  @IsCount() value!: number;
  @IsMoment() inForceFrom!: string;
}

export class ReelmoorAnnouncements {
  @IsListOf(() => ReelmoorAnnouncement) items!: ReelmoorAnnouncement[];
}

export interface ReelmoorError {
  error: { reason: string; text: string };
}

/** A message beneath a broadcast. */
export class ReelmoorMessage {
  @IsIdentifier() messageId!: string;
  @IsMoment() writtenAt!: string;
  @IsWords(1_000) writerName!: string;
  /** Others may be added. */
  @IsWords(100) writerIs!: 'this channel' | 'follower' | 'newcomer';
  @IsWords() text!: string;
  /** The message that it answers. */
  @OrNull() @IsIdentifier() replyTo!: string | null;
  @IsYesOrNo() hidden!: boolean;
}

/** Messages in the order in which they were written; the cursor asks for what came after them. */
export class ReelmoorMessagePage {
  @IsListOf(() => ReelmoorMessage) items!: ReelmoorMessage[];
  @IsIdentifier() nextCursor!: string;
}

/** An Idempotency-Key gives the same message again. */
export class ReelmoorMessageRequest {
  @IsString()
  @MaxLength(5_000)
  text!: string;

  @IsOptional()
  @IsString()
  replyTo?: string;
}

export class ReelmoorMessageChange {
  @IsBoolean()
  hidden!: boolean;
}

/** For how many minutes whoever wrote a message writes nothing more beneath the broadcast. 0: they write; null: for as long as it is there. */
export class ReelmoorMuting {
  @ValidateIf(({ minutes }: ReelmoorMuting) => minutes !== null)
  @IsInt()
  @Min(0)
  @Max(1_440)
  minutes!: number | null;
}

/** A film that is put in the place of a recording. */
export class ReelmoorFilmRequest {
  @IsInt()
  @Min(1)
  bytes!: number;
}

const FILM_STATES = ['receiving', 'ready', 'refused'] as const;

/** `received`: how many bytes are there, from the first on; the next are sent from there. `words`: why it was refused. */
export class ReelmoorFilm {
  @IsIdentifier() filmId!: string;
  @IsCount() bytes!: number;
  @IsCount() received!: number;
  @IsOneOf(FILM_STATES) state!: (typeof FILM_STATES)[number];
  @IsWords(1_000) words!: string;
}

export class ReelmoorCaptions {
  /** BCP 47 language tag. */
  @IsString()
  @MaxLength(35)
  language!: string;

  /** WebVTT; empty: none. */
  @IsString()
  @MaxLength(4_000_000)
  vtt!: string;
}

const SHOWN = ['own', 'film', 'nothing'] as const;

/** What a broadcast shows once it is over. */
export class ReelmoorShown {
  @IsIn(SHOWN)
  shows!: (typeof SHOWN)[number];

  @IsOptional()
  @IsString()
  @MaxLength(100)
  filmId?: string;
}

export class ReelmoorRecording {
  @IsOneOf(SHOWN) shows!: (typeof SHOWN)[number];
  @OrNull() @IsIdentifier() filmId!: string | null;
}

/** How often it was played, while it was public and since. */
export class ReelmoorFigures {
  @IsCount() playsLive!: number;
  @IsCount() playsSince!: number;
}
