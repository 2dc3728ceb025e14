// What holds for all shows of a station: its cities, the times of its milestones, its calendar.
import { DATE_ORDERS, type City, type DateOrder, type MilestoneTimes } from '@lantern/core';
import { Type } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsIn, IsInt, IsNotEmpty, IsOptional, IsString, IsUUID, Max, MaxLength, Min, ValidateNested } from 'class-validator';
import { IsPart } from '../rules/part';
import { EARLIEST_START, IsZoneName, LATEST_START } from '../rules/times';
import { IsMilestoneTime } from '../shows/milestones';
import { TITLE_MAX } from '../shows/sheet';

export class CityDraft implements City {
  @IsString()
  @IsNotEmpty({ message: 'Give the city a name.' })
  @MaxLength(40, { message: 'Keep the name to 40 characters.' })
  name!: string;

  @IsZoneName()
  zone!: string;
}

export class StationMilestones implements MilestoneTimes {
  @IsMilestoneTime() artwork!: number | null;
  @IsMilestoneTime() announce!: number | null;
  @IsMilestoneTime() guests!: number | null;
  @IsMilestoneTime() 'tech check'!: number | null;
  @IsMilestoneTime() 'holding card'!: number | null;
  @IsMilestoneTime() 'replay down'!: number | null;
}

export class StationSettings {
  @IsZoneName()
  zone!: string;

  @IsArray()
  @ArrayMaxSize(8, { message: 'Keep to eight cities: the strip must stay readable.' })
  @ValidateNested({ each: true })
  @Type(() => CityDraft)
  cities!: CityDraft[];

  @IsPart(() => StationMilestones)
  milestoneTimes!: StationMilestones;

  /** In which order the parts of a date are shown, and numbers alone are read. */
  @IsIn(DATE_ORDERS, { message: 'Say in which order dates are written.' })
  dateOrder!: DateOrder;
}

export interface StationView extends StationSettings {
  name: string;
  /** Whether the made-up networks are set up beside this server. */
  standIns: boolean;
  /** Whether somebody can subscribe to the calendar. Its address is told once, when it is made. */
  feedOpen: boolean;
  /** The station's public page. */
  pageUrl: string;
  /** How many hear of every new show by mail. */
  subscribers: number;
  /** Whether supporters have a code. */
  supportersCode: boolean;
}

/** The address under which the calendar can be subscribed to; whoever has it can read the plans. */
export interface FeedAddress {
  url: string;
}

/** A prepared show to start from. */
export interface TemplateView {
  id: string;
  name: string;
  title: string;
  lengthMin: number;
  channelNames: string[];
}

export class NewShow {
  @IsString()
  @MaxLength(TITLE_MAX, { message: 'Keep the title to 300 characters.' })
  title!: string;

  @IsOptional()
  @IsUUID(undefined, { message: 'There is no such template.' })
  templateId?: string;

  /** Where and when, as it was swept in the almanac. Ms since the epoch; ms. */
  @IsOptional()
  @IsInt({ message: 'Choose a start.' })
  @Min(EARLIEST_START, { message: 'Choose a start from the year 2000 on.' })
  @Max(LATEST_START, { message: 'Choose a start before the year 2200.' })
  startsAt?: number;

  @IsOptional()
  @IsInt()
  @Min(60_000, { message: 'A show lasts at least a minute.' })
  @Max(172_800_000, { message: 'A show lasts at most 48 hours.' })
  lengthMs?: number;

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(40)
  @IsUUID(undefined, { each: true, message: 'One of these channels is not known here.' })
  channelIds?: string[];
}

export class TemplateRequest {
  @IsString()
  @IsNotEmpty({ message: 'Give the template a name.' })
  @MaxLength(80, { message: 'Keep the name to 80 characters.' })
  name!: string;
}
