// Shows, their airings, and what the show sheet sends and receives.
import { isZone, readWallTime, type NetworkId, type Visibility } from '@lantern/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsInt,
  IsNotEmpty,
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
import type { ChannelIdentity } from '../channels/channels';

/** The largest picture that may be uploaded, in bytes and in pixels. */
export const THUMBNAIL_MAX_BYTES = 12_000_000;
export const THUMBNAIL_MAX_PIXELS = 50_000_000;

function IsZoneName() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isZoneName',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) => typeof value === 'string' && isZone(value),
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

function wallTimeTrouble(draft: ShowDraft): string | null {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(draft.date) || !isZone(draft.zone)) return null; // Said at those fields.
  const reading = readWallTime({ date: draft.date, time: draft.time }, draft.zone);
  switch (reading.kind) {
    case 'unreadable':
      return 'Type the day and the time as they stand in a calendar, for example 20:30.';
    case 'skipped':
      return `Clocks in ${draft.zone} jump over ${draft.time} that night. Choose an earlier or a later time.`;
    case 'twice':
      return `Clocks in ${draft.zone} show ${draft.time} twice that night. Choose a time before or after that hour.`;
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

/** Everything a host types about a show. The same rules hold on the sheet and at the endpoint. */
export class ShowDraft {
  @IsString()
  @IsNotEmpty({ message: 'Give the show a title.' })
  @MaxLength(300, { message: 'No network takes a title longer than 300 characters.' })
  title!: string;

  @IsString()
  @MaxLength(20_000, { message: 'Keep the text to 20,000 characters.' })
  description!: string;

  @Matches(/^\d{4}-\d{2}-\d{2}$/, { message: 'Choose a date.' })
  date!: string;

  @IsWallTimeThere()
  @Matches(/^\d{2}:\d{2}$/, { message: 'Choose a time.' })
  time!: string;

  @IsZoneName()
  zone!: string;

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
}

export type ShowState = 'draft' | 'placed' | 'onAir' | 'interrupted' | 'over' | 'withdrawn';

/**
 * How the placing of an airing stands. `unsure`: we asked and heard no answer; asking again is safe.
 * `awaits air`: the channel takes nothing in advance, so the event is made when the show goes on air.
 */
export type PlacingState = 'none' | 'placed' | 'refused' | 'unsure' | 'withdrawn' | 'awaits air';

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
}

export interface ThumbnailView {
  url: string;
  /** Of the picture as it was chosen, in pixels. Each channel is sent a rendition by its own rules. */
  width: number;
  height: number;
}

export interface ShowSummary {
  id: string;
  title: string;
  state: ShowState;
  startsAt: number;
  zone: string;
  lengthMs: number;
  airings: { network: NetworkId | 'typed-in'; channelName: string; placing: PlacingState }[];
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
  thumbnailAlternative: string;
  pictureFrom: PictureFrom;
  houseUrl: string;
  airings: AiringView[];
  channelIds: string[];
}

/** What happened on one channel when it was asked for something. */
export interface ChannelResult {
  airingId: string;
  channelName: string;
  done: boolean;
  words: string;
}

export interface PlaceResult {
  show: ShowView;
  results: ChannelResult[];
}
