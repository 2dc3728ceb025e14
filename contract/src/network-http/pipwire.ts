// Pipwire's HTTP interface, as published by Pipwire. A cast is one post with a picture that moves: it
// is made in one go, begins when its picture arrives, and cannot be changed.
import { IsCount, IsIdentifier, IsIngestAddress, IsListOf, IsOneOf, IsSecret, IsWebAddress, IsWords, IsYesOrNo, OrNull } from './kinds';
import { IsBoolean, IsOptional, IsString, Length, MaxLength } from 'class-validator';

export class PipwireHandle {
  @IsIdentifier() handle!: string;
  @IsWords(1_000) shown_as!: string;
  @IsWebAddress() face!: string;
  @IsCount() followers!: number;
}

export class PipwireHandles {
  @IsListOf(() => PipwireHandle) handles!: PipwireHandle[];
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

export class PipwireCast {
  @IsIdentifier() cast!: string;
  @IsOneOf(['waiting', 'live', 'gone', 'removed']) is!: 'waiting' | 'live' | 'gone' | 'removed';
  @IsWords() say!: string;
  @IsYesOrNo() picture_comes!: boolean;
  @IsCount() eyes!: number;
  @IsWebAddress() link!: string;
  /** What is played there; null before it is public. */
  @OrNull() @IsWebAddress() plays!: string | null;
}

export class PipwirePicture {
  @IsIdentifier() picture!: string;
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

export class PipwirePost {
  @IsIdentifier() post!: string;
  @IsWords() say!: string;
  @IsWebAddress() link!: string;
}

export class PipwireLine {
  @IsIngestAddress() push_to!: string;
  @IsSecret() key!: string;
}

/** A limit that will change: characters or hours as the name says. */
export class PipwireChange {
  @IsIdentifier() id!: string;
  /** Others may be added: whoever does not know one passes over it. */
  @IsWords(100) what!: 'characters' | 'longest_hours';
  @IsCount() to!: number;
  /** In ms since 1970. */
  @IsCount() at!: number;
}

export class PipwireChanges {
  @IsListOf(() => PipwireChange) changes!: PipwireChange[];
}

export interface PipwireNo {
  no: string;
  say: string;
}

/** A reply to a cast; what comes on the socket, one in each text frame. `place` grows, and is what to begin after the next time. */
export class PipwireReply {
  @IsCount() place!: number;
  @IsIdentifier() reply!: string;
  /** In ms since 1970. */
  @IsCount() at!: number;
  @IsWords(1_000) from!: string;
  /** Others may be added. */
  @IsWords(100) who!: 'own' | 'follower' | 'newcomer';
  @IsWords() say!: string;
  /** The reply that it replies to. */
  @OrNull() @IsIdentifier() to!: string | null;
  @IsYesOrNo() folded!: boolean;
}

export class PipwireReplyRequest {
  @IsString()
  @MaxLength(5_000)
  say!: string;

  @IsOptional()
  @IsString()
  to?: string;

  /** The same nonce gives the same reply again. */
  @IsString()
  @Length(8, 80)
  nonce!: string;
}

export class PipwireFold {
  @IsBoolean()
  folded!: boolean;
}

/** Whether whoever wrote a reply writes no more beneath the cast. */
export class PipwireHush {
  @IsBoolean()
  hushed!: boolean;
}
