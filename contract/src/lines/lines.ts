// Lines of channels: named ways in, their keys, and what an outside encoder is given.
import type { ChannelFacts, EncoderSet, LineFacts, LineUse } from '@lantern/core';
import { IsIn, IsNotEmpty, IsOptional, IsString, MaxLength } from 'class-validator';
import { IsIngestAddress, IsIngestKey } from '../channels/channels';

/** How long a key that was asked for may stand on the page. */
export const KEY_SHOWN_MS = 20_000;
/** How long after giving the password keys may be asked for. */
export const PASSWORD_GOOD_MS = 5 * 60_000;

export interface LineView {
  id: string;
  name: string;
  /** Null while the network has not told it. */
  address: string | null;
  backupAddress: string | null;
  singleUse: boolean;
  /** Whether the network issues the key; otherwise it was typed in. */
  fromNetwork: boolean;
  /** Who was given the key: an encoder, a person; empty: nobody. */
  heldBy: string;
  /** False when a typed-in key cannot be read any more, because the key file was lost. */
  readable: boolean;
  lastUsedAt: number | null;
  /** Coming shows that go out on it. `outside`: an encoder sends to it. */
  shows: { id: string; title: string; startsAt: number; zone: string; outside: boolean }[];
}

export interface LinesOfChannel {
  lines: LineView[];
  mayAdd: boolean;
  /** Why the list may be out of date: the network did not answer. */
  stale: string | null;
}

/** A new line. Address and key only where the channel is typed in; otherwise the network issues them. */
export class LineRequest {
  @IsString()
  @IsNotEmpty({ message: 'Say what the line is for, such as “Encoder in the hall”.' })
  @MaxLength(60, { message: 'Keep the name to 60 characters.' })
  name!: string;

  @IsOptional()
  @IsString()
  @MaxLength(80, { message: 'Keep it to 80 characters.' })
  heldBy?: string;

  @IsOptional()
  @IsIngestAddress()
  @MaxLength(500, { message: 'This address is too long.' })
  address?: string;

  @IsOptional()
  @IsIngestAddress()
  @MaxLength(500, { message: 'This address is too long.' })
  backupAddress?: string;

  @IsOptional()
  @IsIngestKey()
  @MaxLength(500, { message: 'This key is too long.' })
  key?: string;
}

export class LineChange {
  @IsString()
  @IsNotEmpty({ message: 'Say what the line is for, such as “Encoder in the hall”.' })
  @MaxLength(60, { message: 'Keep the name to 60 characters.' })
  name!: string;

  @IsString()
  @MaxLength(80, { message: 'Keep it to 80 characters.' })
  heldBy!: string;
}

/** Rotating: the network issues the new key; for a typed-in channel the host pastes it. */
export class RotateRequest {
  @IsOptional()
  @IsIngestKey()
  @MaxLength(500, { message: 'This key is too long.' })
  key?: string;
}

export interface RotateResult {
  line: LineView;
  /** Whoever must be given the new key, in words. */
  tell: string[];
}

export class RevealRequest {
  @IsIn(['show', 'copy', 'file'])
  purpose!: 'show' | 'copy' | 'file';
}

export interface RevealedKey {
  key: string;
}

export interface RevealedEncoderSet {
  set: EncoderSet;
  text: string;
  fileName: string;
}

/** All lines and planned uses of a station, with their names: enough to find clashes while a sheet is being typed. */
export interface PlanView {
  uses: LineUse[];
  lines: (LineFacts & { name: string })[];
  channels: (ChannelFacts & { name: string })[];
  /** With what beyond lines can be wanted twice. */
  shows: { id: string; title: string; startsAt: number; lengthMs: number; people: string[]; room: string }[];
}

export interface AuditEntryView {
  at: number;
  person: string;
  words: string;
}
