// Shows, their airings, and what the show sheet sends and receives.
import {
  CATEGORIES,
  dayNumber,
  EARLIEST_DATE,
  isZone,
  isZoneName,
  LATEST_DATE,
  MILESTONE_MAX_MS,
  MILESTONES,
  readWallTime,
  type AiringChoices,
  type AiringField,
  type Announcement,
  type AnnouncementTime,
  type Audience,
  type Category,
  type Crop,
  type Difference,
  type LetteringTrouble,
  type MessageRule,
  type MilestoneName,
  type MilestoneTimes,
  type NetworkId,
  type PictureRecipe,
  type Repeat,
  type Visibility,
} from '@lantern/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  Max,
  MaxLength,
  Min,
  registerDecorator,
  ValidateNested,
  type ValidationArguments,
} from 'class-validator';
import { IsPart } from '../part';
import type { ChannelIdentity } from '../channels/channels';
import type { HouseVisibility } from '../house/house';

/** The largest picture that may be uploaded, in bytes and in pixels. */
export const THUMBNAIL_MAX_BYTES = 12_000_000;
export const THUMBNAIL_MAX_PIXELS = 50_000_000;

export function IsZoneName() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isZoneName',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) => typeof value === 'string' && isZoneName(value),
        defaultMessage: () => 'Choose a zone from the list, such as Europe/Dublin.',
      },
    });
}

/** The time of a draft must be one that its zone's clocks really show, once. */
function IsWallTimeThere() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isWallTimeThere',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (_value: unknown, args: ValidationArguments) => wallTimeTrouble(args.object as ShowDraft) === null,
        defaultMessage: (args: ValidationArguments) => wallTimeTrouble(args.object as ShowDraft) ?? '',
      },
    });
}

/** A day within the years in which shows are planned: all else is a slip of the keys. */
export function IsPlannableDate() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isPlannableDate',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) => typeof value === 'string' && dayNumber(value) !== null && value >= EARLIEST_DATE && value <= LATEST_DATE,
        defaultMessage: () => `Choose a date between ${EARLIEST_DATE.slice(0, 4)} and ${LATEST_DATE.slice(0, 4)}.`,
      },
    });
}

/** The instants within those years, in ms since the epoch. */
export const EARLIEST_START = Date.parse(`${EARLIEST_DATE}T00:00:00Z`);
export const LATEST_START = Date.parse(`${LATEST_DATE}T00:00:00Z`);

function wallTimeTrouble(draft: ShowDraft): string | null {
  if (typeof draft.date !== 'string' || dayNumber(draft.date) === null || typeof draft.zone !== 'string' || !isZone(draft.zone)) return null; // Said at those fields.
  const reading = readWallTime({ date: draft.date, time: draft.time }, draft.zone);
  switch (reading.kind) {
    case 'unreadable':
      return 'Type the day and the time as they stand in a calendar, for example 20:30.';
    case 'skipped':
      return `Clocks in ${draft.zone} jump over ${draft.time} that night. Choose an earlier or a later time.`;
    case 'twice':
      return draft.fold ? null : `Clocks in ${draft.zone} show ${draft.time} twice that night. Say which of the two is meant.`;
    case 'once':
      return null;
  }
}

/** Which line of a channel the show goes out on. Channels that are not named use their only or first one. */
export class LineChoice {
  @IsUUID(undefined, { message: 'One of these channels is not known here.' })
  channelId!: string;

  @IsUUID(undefined, { message: 'This line is not known here.' })
  lineId!: string;
}

/** Where the picture comes from: this product's stage, or an outside encoder that sends straight to each channel. */
export type PictureFrom = 'stage' | 'encoder';

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

export const TITLE_MAX = 300;
export const TEXT_MAX = 20_000;
const TITLE_WORDS = `No network takes a title longer than ${TITLE_MAX} characters.`;
const TEXT_WORDS = 'Keep the text to 20,000 characters.';

/** How one channel's airing differs from the common text. Null: it does not. */
export class VariantDraft {
  @IsUUID(undefined, { message: 'One of these channels is not known here.' })
  channelId!: string;

  @IsOptional()
  @IsString()
  @MaxLength(TITLE_MAX, { message: TITLE_WORDS })
  title: string | null = null;

  @IsOptional()
  @IsString()
  @MaxLength(TEXT_MAX, { message: TEXT_WORDS })
  description: string | null = null;

  @IsPart(() => ChoicesDraft)
  choices: ChoicesDraft = new ChoicesDraft();
}

/** Somebody who is on the picture. */
export class PersonOnShow {
  @IsString()
  @IsNotEmpty({ message: 'Give the name, or take the line out.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;

  @IsIn(['host', 'guest'])
  role!: 'host' | 'guest';

  /** Where they are, as an IANA zone; null: with the show. */
  @IsOptional()
  @IsZoneName()
  zone: string | null = null;
}

/** A text to be said somewhere at a time. */
export class AnnouncementDraft implements Announcement {
  @IsString()
  @MaxLength(40)
  id!: string;

  @IsString()
  @MaxLength(80, { message: 'Keep the place to 80 characters.' })
  place!: string;

  @IsString()
  @MaxLength(4_000, { message: 'Keep the text to 4,000 characters.' })
  text!: string;

  @IsAnnouncementTime()
  time!: AnnouncementTime;

  @IsOptional()
  @IsUUID(undefined, { message: 'One of these channels is not known here.' })
  channelId: string | null = null;
}

function IsAnnouncementTime() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isAnnouncementTime',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) =>
          value === 'placed' || value === 'start' || (Number.isInteger(value) && (value as number) > 0 && (value as number) <= MILESTONE_MAX_MS),
        defaultMessage: () => 'Say when it is to be said.',
      },
    });
}

/** Times of a show's steps that differ from the station's, in ms; null: not needed. */
export class MilestoneTimesDraft implements Partial<MilestoneTimes> {
  @IsMilestoneTime() artwork?: number | null;
  @IsMilestoneTime() announce?: number | null;
  @IsMilestoneTime() guests?: number | null;
  @IsMilestoneTime() 'tech check'?: number | null;
  @IsMilestoneTime() 'holding card'?: number | null;
  @IsMilestoneTime() 'replay down'?: number | null;
}

export function IsMilestoneTime() {
  return (target: object, propertyName: string) => {
    IsOptional()(target, propertyName);
    IsInt({ message: 'Give whole minutes, hours or days.' })(target, propertyName);
    Min(0, { message: 'This cannot be negative.' })(target, propertyName);
    Max(MILESTONE_MAX_MS, { message: 'This is more than a year.' })(target, propertyName);
  };
}

/** Everything a host types about a show. The same rules hold on the sheet and at the endpoint. */
export class ShowDraft {
  /** May be empty while the sheet is being written; placing wants one. */
  @IsString()
  @MaxLength(TITLE_MAX, { message: TITLE_WORDS })
  title!: string;

  @IsString()
  @MaxLength(TEXT_MAX, { message: TEXT_WORDS })
  description!: string;

  @IsPlannableDate()
  date!: string;

  @IsWallTimeThere()
  @Matches(/^\d{2}:\d{2}$/, { message: 'Choose a time.' })
  time!: string;

  @IsZoneName()
  zone!: string;

  /** Which of the two is meant, where clocks show the time twice. */
  @IsOptional()
  @IsIn(['earlier', 'later'])
  fold: 'earlier' | 'later' | null = null;

  @IsInt({ message: 'Give the length in whole minutes.' })
  @Min(1, { message: 'A show lasts at least a minute.' })
  @Max(2_880, { message: 'A show lasts at most 48 hours.' })
  lengthMin!: number;

  @IsArray()
  @ArrayUnique({ message: 'Each channel can be ticked once.' })
  @ArrayMaxSize(40, { message: 'Tick at most 40 channels.' })
  @IsUUID(undefined, { each: true, message: 'One of these channels is not known here.' })
  channelIds!: string[];

  @IsArray()
  @ArrayMaxSize(40)
  @ValidateNested({ each: true })
  @Type(() => LineChoice)
  lines!: LineChoice[];

  @IsIn(['stage', 'encoder'], { message: 'Say where the picture comes from.' })
  pictureFrom!: PictureFrom;

  /** What the picture shows, for those who cannot see it. */
  @IsString()
  @MaxLength(1_000, { message: 'Keep it to 1,000 characters.' })
  thumbnailAlternative!: string;

  @IsArray()
  @ArrayMaxSize(40)
  @ValidateNested({ each: true })
  @Type(() => VariantDraft)
  variants: VariantDraft[] = [];

  @IsArray()
  @ArrayMaxSize(30, { message: 'Name at most 30 people.' })
  @ValidateNested({ each: true })
  @Type(() => PersonOnShow)
  people: PersonOnShow[] = [];

  /** Where the cameras stand. */
  @IsString()
  @MaxLength(60, { message: 'Keep it to 60 characters.' })
  room = '';

  @IsOptional()
  @IsInt({ message: 'Give the episode as a whole number.' })
  @Min(1, { message: 'Episodes are counted from 1.' })
  @Max(100_000, { message: 'This number is too large.' })
  episode: number | null = null;

  @IsArray()
  @ArrayMaxSize(30, { message: 'Plan at most 30 announcements.' })
  @ValidateNested({ each: true })
  @Type(() => AnnouncementDraft)
  announcements: AnnouncementDraft[] = [];

  /** Announcements that were made, by identifier. */
  @IsArray()
  @ArrayMaxSize(60)
  @IsString({ each: true })
  said: string[] = [];

  /** Who may see the show's own page. */
  @IsIn(['everyone', 'link holders', 'invited people', 'supporters'], { message: 'Say who may see the page.' })
  houseVisibility: HouseVisibility = 'everyone';

  /** Whether visitors can ask to be reminded by mail. */
  @IsBoolean()
  reminders = true;

  /** Whether the recording takes the picture's place on the page afterwards. */
  @IsBoolean()
  houseReplay = true;

  /** Sites that may show the page within theirs, as https://example.org. */
  @IsArray()
  @ArrayMaxSize(20, { message: 'List at most 20 sites.' })
  @Matches(/^https?:\/\/[a-z0-9.-]+(:\d+)?$/i, { each: true, message: 'Write a site as https://example.org, without a path.' })
  embedSites: string[] = [];

  @IsPart(() => MilestoneTimesDraft)
  milestoneTimes: MilestoneTimesDraft = new MilestoneTimesDraft();

  @IsArray()
  @ArrayUnique()
  @IsIn(MILESTONES, { each: true })
  ticked: MilestoneName[] = [];

  /** Fields that were carried over from an earlier date and wait for a look. */
  @IsArray()
  @ArrayMaxSize(20)
  @IsIn(['title', 'description', 'people', 'picture', 'time'], { each: true })
  toLook: FieldToLook[] = [];
}

export type FieldToLook = 'title' | 'description' | 'people' | 'picture' | 'time';
export type DraftField = keyof ShowDraft;
/** What may differ on one date of a series: a field of the sheet, or the picture. */
export type SeriesField = DraftField | 'thumbnail';

/**
 * What somebody has typed since version `base` of the sheet: whole fields; of `variants` only those that changed.
 * Fields that somebody else changed meanwhile are not overwritten but answered as conflicts.
 */
export class ShowChange {
  @IsInt()
  @Min(0)
  base!: number;

  @IsObject()
  changes!: Partial<ShowDraft>;
}

export interface SaveConflict {
  field: DraftField;
  /** Who changed it meanwhile. */
  by: string;
}

export interface SaveResult {
  show: ShowView;
  conflicts: SaveConflict[];
}

export type ShowState = 'draft' | 'placed' | 'onAir' | 'interrupted' | 'over' | 'withdrawn';

/**
 * How the placing of an airing stands. `unsure`: we asked and heard no answer; asking again is safe.
 * `awaits air`: the channel takes nothing in advance, so the event is made when the show goes on air.
 * `awaits reach`: it is too far ahead for the channel, and is placed by itself once it is not.
 */
export type PlacingState = 'none' | 'placed' | 'refused' | 'unsure' | 'withdrawn' | 'awaits air' | 'awaits reach';

/** `choices`: category, messages and whatever else the channel is told beside the facts. */
export type UntoldField = AiringField | 'picture' | 'choices';

/** What was found on the channel when it was last looked at. `gone`: the event is not there any more. */
export interface DriftView {
  lookedAt: number;
  gone: boolean;
  differences: Difference[];
}

export interface AiringView {
  id: string;
  channel: ChannelIdentity;
  placing: PlacingState;
  /** The start that the channel was told; null: none. */
  placedAt: number | null;
  visibility: Visibility;
  /** The line that was chosen; null: the channel's only or first one. */
  lineId: string | null;
  watchUrl: string | null;
  /** Why the network refused, in plain words with the way out; empty otherwise. */
  refusal: string;
  /** The variant of the text; null: the common one. */
  title: string | null;
  description: string | null;
  choices: AiringChoices;
  /** What the sheet says by now and the channel was not told. */
  untold: UntoldField[];
  drift: DriftView | null;
}

/** The picture of a show as one channel gets it. Lengths in pixels and bytes. */
export interface RenditionView {
  channelId: string;
  shape: number;
  width: number;
  height: number;
  bytes: number;
  quality: number;
  /** Structural similarity to what was not compressed, 0 to 1. */
  ssim: number;
  url: string;
  crop: Crop;
  byHand: boolean;
  /** `loses`: it was made light enough at a visible price; `badge`: a length badge covers something; `small`, `pale`: letters cannot be read where people meet it; `alike`: hardly told from the last date's. */
  warnings: ('loses' | 'badge' | 'alike' | LetteringTrouble)[];
}

/** The part of a picture that one shape takes, chosen by hand. */
export class CropRequest {
  @IsNumber()
  @Min(0.2)
  @Max(5)
  shape!: number;

  @IsNumber()
  @Min(0)
  @Max(1)
  x!: number;

  @IsNumber()
  @Min(0)
  @Max(1)
  y!: number;
}

/** What became of an announcement that a channel was to make. */
export interface PostedView {
  at: number;
  /** Where it stands; null: it was refused. */
  url: string | null;
  /** Why it was refused, with the way out; empty otherwise. */
  words: string;
}

/** Of a film, in bytes as it comes, and in ms as it is kept. */
export const TRAILER_MAX_BYTES = 300_000_000;
export const TRAILER_MAX_MS = 180_000;

export interface TrailerView {
  state: 'making' | 'ready' | 'failed';
  lengthMs: number;
  /** Why the last film could not be taken; empty otherwise. */
  words: string;
  url: string;
}

export interface ThumbnailView {
  url: string;
  /** What it is composed from; null: it came as a file. */
  recipe: PictureRecipe | null;
  /** A waiting picture that is made from the thumbnail’s parts. */
  follows: boolean;
  /** Of the picture as it was chosen, in pixels. Each channel is sent a rendition by its own rules. */
  width: number;
  height: number;
}

/** Which shows of a station are asked for; without anything those that are near: on air, to come, or past for a few weeks. */
export class ShowsAsked {
  /** Those that began before, the latest of them; ms since the epoch. For paging back. */
  @IsOptional()
  @Type(() => Number)
  @IsInt({ message: 'A moment is a whole number of milliseconds.' })
  before?: number;

  /** Those of any time in whose title, room or people these words stand, the latest first. */
  @IsOptional()
  @IsString()
  @MaxLength(100, { message: 'Keep what you look for to 100 characters.' })
  words?: string;
}
/** Pages of `before` have as many. */
export const SHOWS_ON_A_PAGE = 50;

/** What a station has typed into sheets before, to be suggested. */
export interface KnownWords {
  people: string[];
  rooms: string[];
}

/** An earlier show to begin anew from. */
export interface EarlierShow {
  id: string;
  title: string;
  startsAt: number;
  zone: string;
}

export interface ShowSummary {
  id: string;
  title: string;
  state: ShowState;
  startsAt: number;
  zone: string;
  lengthMs: number;
  airings: { channelId: string; network: NetworkId | 'typed-in'; channelName: string; placing: PlacingState; lineId: string | null; drifted: boolean }[];
  version: number;
  seriesId: string | null;
  people: PersonOnShow[];
  room: string;
  hasPicture: boolean;
  onAirSince: number | null;
  endedAt: number | null;
  milestoneTimes: Partial<MilestoneTimes>;
  ticked: MilestoneName[];
  toLook: FieldToLook[];
  announcements: Announcement[];
  said: string[];
  /** Announcements that a channel refused to make. */
  refusedPosts: string[];
  placedAt: number | null;
}

/** The series that a show is one date of. */
export interface SeriesOfShow {
  id: string;
  repeat: Repeat;
  time: string;
  zone: string;
  placesByItself: boolean;
  /** The date by the rule, YYYY-MM-DD; the show may have been moved from it. */
  date: string;
  /** What differs on this date from the rest of the series. */
  differs: SeriesField[];
}

export interface ShowView {
  id: string;
  title: string;
  description: string;
  state: ShowState;
  startsAt: number;
  zone: string;
  lengthMs: number;
  thumbnail: ThumbnailView | null;
  /** What early viewers see; null: the thumbnail. */
  waiting: ThumbnailView | null;
  thumbnailAlternative: string;
  pictureFrom: PictureFrom;
  houseUrl: string;
  airings: AiringView[];
  channelIds: string[];
  /** Grows with every change of the sheet. */
  version: number;
  changedBy: string | null;
  changedAt: number;
  people: PersonOnShow[];
  room: string;
  episode: number | null;
  houseVisibility: HouseVisibility;
  reminders: boolean;
  embedSites: string[];
  announcements: Announcement[];
  said: string[];
  /** What became of announcements that a channel was to make, by identifier. */
  posted: Record<string, PostedView>;
  houseReplay: boolean;
  trailer: TrailerView | null;
  /** When it was first placed anywhere; null: not yet. */
  placedAt: number | null;
  /** The short address, where the page is for everyone. */
  shortUrl: string | null;
  milestoneTimes: Partial<MilestoneTimes>;
  ticked: MilestoneName[];
  toLook: FieldToLook[];
  fold: 'earlier' | 'later' | null;
  onAirSince: number | null;
  endedAt: number | null;
  series: SeriesOfShow | null;
}

/** What happened on one channel when it was asked for something. */
export interface ChannelResult {
  airingId: string;
  channelName: string;
  done: boolean;
  words: string;
  /** What the channel itself says after placing, read back from it; missing: it was not asked or gave no answer. */
  proof?: { title: string; startsAt: number; lengthMs: number; visibility: Visibility; watchUrl: string | null; same: boolean };
}

/** Placing; channels that are objected to keep the others from being placed, unless it is said that the others alone are meant. */
export class PlaceScope {
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(40)
  @IsUUID(undefined, { each: true, message: 'One of these channels is not known here.' })
  airingIds?: string[];

  @IsOptional()
  @IsBoolean()
  partial?: boolean;
}

/** Which channels an action is for; none named: all. */
export class ChannelScope {
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(40)
  @IsUUID(undefined, { each: true, message: 'One of these channels is not known here.' })
  airingIds?: string[];
}

const START_WORDS = `Choose a start between ${EARLIEST_DATE.slice(0, 4)} and ${LATEST_DATE.slice(0, 4)}.`;

/** A new time or length from the almanac, with the version that was seen. */
export class MoveRequest {
  @IsInt({ message: 'Choose a start.' })
  @Min(EARLIEST_START, { message: START_WORDS })
  @Max(LATEST_START, { message: START_WORDS })
  startsAt!: number;

  @IsInt()
  @Min(60_000, { message: 'A show lasts at least a minute.' })
  @Max(172_800_000, { message: 'A show lasts at most 48 hours.' })
  lengthMs!: number;

  @IsInt()
  base!: number;
}

/** Which side wins, field by field. */
export class SettleRequest {
  @IsObject()
  sides!: Partial<Record<AiringField, 'ours' | 'theirs'>>;
}

/** An event on a channel that no show of the station stands for. */
export interface FoundEvent {
  remoteId: string;
  title: string;
  startsAt: number;
  lengthMs: number;
  watchUrl: string;
}

export class AttachRequest {
  @IsUUID(undefined, { message: 'This channel is not known here.' })
  channelId!: string;

  @IsString()
  @MaxLength(200)
  remoteId!: string;
}

/** Something that was removed a short while ago, and can be taken back. */
export interface RemovedView {
  id: string;
  title: string;
  /** Until when it can be taken back. */
  until: number;
}

export interface PlaceResult {
  show: ShowView;
  results: ChannelResult[];
}
