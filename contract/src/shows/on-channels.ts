// What is asked of channels about a show, and what they answer.
import { type AiringChoices, type AiringField, type Difference, EARLIEST_DATE, LATEST_DATE, type Visibility, type Share } from '@lantern/core';
import { ArrayMaxSize, IsArray, IsBoolean, IsInt, IsObject, IsOptional, IsString, IsUUID, Max, MaxLength, Min } from 'class-validator';
import type { ChannelIdentity } from '../channels/channels';
import { EARLIEST_START, LATEST_START } from '../rules/times';
import type { PlacingState, UntoldField } from './states';

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
  /** On whose pages there it is shared, and what they have answered, as of when it was last looked at. */
  shares: Share[];
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
