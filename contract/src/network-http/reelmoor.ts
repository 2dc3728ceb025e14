// Reelmoor's HTTP interface, as published by Reelmoor.
import { IsIn, IsISO8601, IsOptional, IsString, MaxLength } from 'class-validator';

export interface ReelmoorChannelList {
  items: { channelId: string; name: string; avatarUrl: string }[];
}

export class ReelmoorLineRequest {
  @IsString()
  @MaxLength(60)
  label!: string;
}

export interface ReelmoorLine {
  lineId: string;
  label: string;
  primaryAddress: string;
  backupAddress: string;
  streamKey: string;
}

export interface ReelmoorLineList {
  items: ReelmoorLine[];
}

export type ReelmoorVisibility = 'everyone' | 'link-holders' | 'invited' | 'supporters';

export class ReelmoorBroadcastRequest {
  @IsString()
  @MaxLength(5_000)
  title!: string;

  @IsString()
  @MaxLength(50_000)
  description!: string;

  @IsISO8601()
  scheduledStart!: string;

  @IsString()
  lineId!: string;

  @IsIn(['everyone', 'link-holders', 'invited', 'supporters'])
  visibility!: ReelmoorVisibility;

  /** Whether the show becomes public when told, or by itself when a picture arrives. */
  @IsIn(['told', 'picture'])
  beginsBy!: 'told' | 'picture';

  @IsOptional()
  @IsIn([4, 10, 25])
  delaySeconds?: 4 | 10 | 25;
}

export class ReelmoorBroadcastChange {
  @IsOptional()
  @IsString()
  @MaxLength(5_000)
  title?: string;

  @IsOptional()
  @IsString()
  @MaxLength(50_000)
  description?: string;

  @IsOptional()
  @IsISO8601()
  scheduledStart?: string;
}

export interface ReelmoorBroadcast {
  broadcastId: string;
  status: 'scheduled' | 'public' | 'ended' | 'cancelled';
  title: string;
  description: string;
  scheduledStart: string;
  lineId: string;
  receiving: boolean;
  watchingNow: number;
  watchUrl: string;
}

export interface ReelmoorError {
  error: { reason: string; text: string };
}
