// What the planning server and the air process say to each other. The planning server knows shows, people and networks;
// the air process knows pictures. Neither sees more of the other than this.
import 'reflect-metadata'; // the rules on nested messages need it
import {
  SCENE_ID,
  type CueRan,
  type OutsideFacts,
  type RelayState,
  type RenditionNow,
  type SceneId,
  type SourceId,
  type SwitchReason,
  type Takes,
} from '@lantern/core';
import { plainToInstance, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  MaxLength,
  ValidateIf,
  ValidateNested,
  validateSync,
} from 'class-validator';

const SOURCE = /^(stage|break card|line:[0-9a-f-]{36})$/;

export class HolderState {
  @IsString() @MaxLength(64) personId!: string;
  @IsString() @MaxLength(200) name!: string;
  @IsOptional() @IsString() @MaxLength(64) tab!: string | null;
}

export class CueBegun implements CueRan {
  @IsString() @MaxLength(40) cue!: string;
  @IsInt() at!: number;
}

/** When these pictures of a show went out: small and grey (`PRINT`), in base64. */
export class WhenOutQuestion {
  @IsUUID() showId!: string;
  @IsArray() @ArrayMaxSize(50) @IsString({ each: true }) @MaxLength(4_000, { each: true }) pictures!: string[];
}

/** In ms since the epoch, of the machine's clock; null: it cannot be told. */
export interface WhenOutAnswer {
  at: (number | null)[];
}

/** Have a show carried, from now on or still. What stands already stays as it is. */
export class CarryOrder {
  @IsUUID() showId!: string;
  @IsString() stationId!: string;
  /** Where its picture comes from unless a person chooses otherwise. */
  @Matches(SOURCE) base!: SourceId;
  /** By the end of its address: the folder of its house page's picture. */
  @Matches(/^[\w-]{1,200}$/) slug!: string;
  /** Whether its house page is for everybody: then its picture is served beside where it is packed. Said again with each order. */
  @IsBoolean() open!: boolean;
  /** When it went on air, in ms since the epoch: the programme's time counts from here. */
  @IsInt() onAirSince!: number;
  /** How much of it was recorded before, in ms. */
  @IsNumber() recordedMs!: number;
  @Matches(SCENE_ID) scene!: SceneId;
  /** The last cues that were begun. */
  @ValidateNested({ each: true }) @Type(() => CueBegun) ran!: CueBegun[];
  /** The outside line that stands on its stage. */
  @IsOptional() @IsUUID() lineOnStage!: string | null;
  @Matches(SOURCE) chosen!: SourceId;
  @IsOptional() @IsInt() backAt!: number | null;
  /** Where its break card lies; null: it is still being made. */
  @IsOptional() @IsString() cardPath!: string | null;
  /** And its music; null: it is silent. */
  @IsOptional() @IsString() musicPath!: string | null;
  /** Who had the stage when it was last known. */
  @ValidateNested() @Type(() => HolderState) holder!: HolderState;
  /** Airings that may be sent; which of them are is said one by one. */
  @IsArray() @IsUUID('all', { each: true }) airingIds!: string[];
  /** Whether it is sent to an end of our own, and looked at there: as a rehearsal is. */
  @IsBoolean() farEnd!: boolean;
}

export class ShowNamed {
  @IsUUID() showId!: string;
}

/** Something is sent to an airing's channel from now on, no longer, or by a new connection. */
export class RelayOrder extends ShowNamed {
  @IsUUID() airingId!: string;
  @IsIn(['start', 'stop', 'anew']) to!: 'start' | 'stop' | 'anew';
  @IsString() why!: string;
}

export class CardOrder extends ShowNamed {
  @IsString() cardPath!: string;
  @IsOptional() @IsString() musicPath!: string | null;
}

export class SessionEnded {
  /** Digest of the session's token. */
  @IsString() session!: string;
}

export class Nothing {}

/** Whose browser this is, and what they may do on a show's stage. The token is in no log and on no disk of the air process. */
export class WhoQuestion extends ShowNamed {
  @IsString() @MaxLength(200) token!: string;
}

/** Whose pass this is. It is in no log and on no disk of the air process. */
export class GuestQuestion extends ShowNamed {
  @IsString() @MaxLength(200) pass!: string;
}

/** A guest goes by this name from now on; null: their pass is good no more. */
export class GuestNow {
  @IsString() @MaxLength(64) guestId!: string;
  @IsOptional() @IsString() @MaxLength(200) name!: string | null;
  @IsString() @MaxLength(200) caption!: string;
}

export class GuestHereNow {
  @IsString() @MaxLength(64) id!: string;
  @IsIn(['green room', 'on air']) place!: 'green room' | 'on air';
}

/** Who is in the green room of a show at this moment. */
export class GuestsHere extends ShowNamed {
  @ValidateNested({ each: true }) @Type(() => GuestHereNow) guests!: GuestHereNow[];
}

export class LineQuestion extends ShowNamed {
  @IsUUID() airingId!: string;
}

/** What is pressed on a stage before its show is on air: a scene, or which outside line stands on it. */
export class RestingTake extends ShowNamed {
  @IsOptional() @Matches(SCENE_ID) scene?: SceneId;
  /** Missing: it stays as it is. */
  @ValidateIf((_, value) => value !== undefined && value !== null) @IsUUID() line?: string | null;
}

export class CardQuestion extends ShowNamed {
  @ValidateIf((_, value) => value !== null) @IsInt() backAt!: number | null;
}

/** Which browsers have a stage of a show open: nothing secret is shown in those. */
export class StagesOpen extends ShowNamed {
  @IsArray() @IsString({ each: true }) sessions!: string[];
  /** Those of them from which a screen is shared, whether the show is on air or not. */
  @IsArray() @IsString({ each: true }) sharing!: string[];
}

export class RelayNow {
  @IsUUID() airingId!: string;
  @IsIn(['idle', 'connecting', 'sending', 'waiting']) state!: RelayState['state'];
  @IsString() said!: string;
  @IsOptional() @IsNumber() nextTryAt!: number | null;
  /** What is made for its channel; null: it gets what goes out as it is. */
  @ValidateIf((_, value) => value !== null && value !== 'no room') @IsObject() rendition!: RenditionNow | null;
}

export class ArrivingThere {
  @IsObject() facts!: OutsideFacts;
  @IsBoolean() arrives!: boolean;
}

/** How a show that is carried stands. */
export class CarriedState extends ShowNamed {
  @IsInt() onAirSince!: number;
  @Matches(SCENE_ID) scene!: SceneId;
  /** The last cues that were begun. */
  @ValidateNested({ each: true }) @Type(() => CueBegun) ran!: CueBegun[];
  @IsOptional() @IsUUID() lineOnStage!: string | null;
  /** What is laid over the picture and what is played, by their identifiers; null: nothing. */
  @IsOptional() @IsString() @MaxLength(40) graphic!: string | null;
  @IsOptional() @IsString() @MaxLength(40) clip!: string | null;
  @IsOptional() @Matches(SOURCE) source!: SourceId | null;
  @IsIn(['chosen', 'nothing yet', 'silent', 'not steady yet']) reason!: SwitchReason;
  @Matches(SOURCE) chosen!: SourceId;
  @IsOptional() @IsInt() backAt!: number | null;
  /** Since when viewers see the break card; null: they do not. */
  @IsOptional() @IsInt() cardSince!: number | null;
  /** Since when nobody's stage has been there, in ms since the epoch; null: one is. */
  @IsOptional() @IsInt() aloneSince!: number | null;
  @IsBoolean() stageArrives!: boolean;
  @ValidateNested() @Type(() => HolderState) holder!: HolderState;
  @IsBoolean() connected!: boolean;
  @IsBoolean() microphoneOn!: boolean;
  @IsNumber() recordedMs!: number;
  /** Whether all that came is on the disk, or on its way. */
  @IsBoolean() kept!: boolean;
  @ValidateNested({ each: true }) @Type(() => RelayNow) relays!: RelayNow[];
  /** What arrives at our own far end; null: it has none, or nothing has arrived there yet. */
  @IsOptional() @ValidateNested() @Type(() => ArrivingThere) farEnd!: ArrivingThere | null;
}

/** Whose key an encoder shows. The key is in no log. */
export class KeyQuestion {
  @IsString() @MaxLength(300) key!: string;
}

export class LineClosed {
  @IsUUID() lineId!: string;
}

export class ArrivingLine {
  @IsUUID() lineId!: string;
  @IsObject() facts!: OutsideFacts;
  @IsBoolean() normalised!: boolean;
}

/** What comes on all outside lines at this moment. */
export class ArrivingNow {
  @ValidateNested({ each: true }) @Type(() => ArrivingLine) lines!: ArrivingLine[];
}

export interface OutsideOwner {
  lineId: string;
  stationId: string;
  name: string;
}

export interface Who {
  id: string;
  name: string;
  stationId: string;
  mayRun: boolean;
  mayHelp: boolean;
  /** The show whose guests come to its stage: of a rehearsal, the one that is rehearsed. */
  guestsOf: string;
}

export interface GuestAnswered {
  id: string;
  stationId: string;
  name: string;
  caption: string;
}

/** `takes`: of a picture, as its channel's rules say; null: nothing is known of that. */
export type LineAnswer = LineHad | { words: string };
export interface LineHad {
  address: string;
  key: string;
  takes: Takes | null;
}

/** Reads a message as what it has to be. Throws with the first thing that is wrong, and none of what it held. */
export function checkedAs<T extends object>(Class: new () => T, body: unknown): T {
  const made = plainToInstance(Class, body ?? {});
  const [first] = validateSync(made, { whitelist: true, forbidUnknownValues: false });
  if (first) throw new Error(`“${first.property}” is not as agreed: ${Object.keys(first.constraints ?? { children: 1 }).join(', ')}`);
  return made;
}
