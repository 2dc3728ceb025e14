// Pipwire's HTTP interface, as published by Pipwire. A cast is one post with a picture that moves: it
// is made in one go, begins when its picture arrives, and cannot be changed.
import { IsOptional, IsString, Length, MaxLength } from 'class-validator';

export interface PipwireHandles {
  handles: { handle: string; shown_as: string; face: string; followers: number }[];
}

export class PipwireCastRequest {
  /** Everything that the post says. A web address counts 24 characters. */
  @IsString()
  @MaxLength(50_000)
  say!: string;

  /** A picture that was sent before. */
  @IsOptional()
  @IsString()
  picture?: string;

  /** The same nonce gives the same cast again. */
  @IsString()
  @Length(8, 80)
  nonce!: string;
}

export interface PipwireCast {
  cast: string;
  is: 'waiting' | 'live' | 'gone' | 'removed';
  say: string;
  picture_comes: boolean;
  eyes: number;
  link: string;
}

export interface PipwirePicture {
  picture: string;
}

export class PipwirePostRequest {
  /** A web address counts 24 characters. */
  @IsString()
  @MaxLength(50_000)
  say!: string;

  /** The same nonce gives the same post again. */
  @IsString()
  @Length(8, 80)
  nonce!: string;
}

export interface PipwirePost {
  post: string;
  say: string;
  link: string;
}

export interface PipwireLine {
  push_to: string;
  key: string;
}

/** Limits that will change: characters or hours as the name says. */
export interface PipwireChanges {
  changes: { id: string; what: 'characters' | 'longest_hours'; to: number; at: number }[];
}

export interface PipwireNo {
  no: string;
  say: string;
}
