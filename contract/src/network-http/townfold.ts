// Townfold's HTTP interface, as published by Townfold.
import { IsIn, IsInt, IsOptional, IsString, MaxLength } from 'class-validator';

export interface TownfoldPlaces {
  places: { place_ref: string; place_kind: 'page' | 'group' | 'profile'; display_name: string; portrait: string }[];
}

export class TownfoldGatheringRequest {
  @IsString()
  @MaxLength(5_000)
  headline!: string;

  @IsString()
  @MaxLength(50_000)
  words!: string;

  /** Seconds since 1970; null: at once. */
  @IsOptional()
  @IsInt()
  begins_at!: number | null;

  @IsIn(['everyone', 'members'])
  shown_to!: 'everyone' | 'members';
}

export class TownfoldGatheringEdit {
  @IsOptional()
  @IsString()
  @MaxLength(5_000)
  headline?: string;

  @IsOptional()
  @IsString()
  @MaxLength(50_000)
  words?: string;

  @IsOptional()
  @IsInt()
  begins_at?: number;
}

export interface TownfoldGathering {
  gathering_ref: string;
  phase: 'waiting' | 'showing' | 'done' | 'called_off';
  headline: string;
  words: string;
  begins_at: number;
  picture_in: boolean;
  onlookers: number;
  page_address: string;
}

/** The single-use line of a gathering, told to its owner only. */
export interface TownfoldLine {
  send_to: string;
  pass_phrase: string;
}

export interface TownfoldRefusal {
  refused: string;
  because: string;
}
