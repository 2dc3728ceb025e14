// Many shows, as lists ask for them and show them.
import type { Announcement, MilestoneName, MilestoneTimes, NetworkId } from '@lantern/core';
import { Type } from 'class-transformer';
import { IsInt, IsOptional, IsString, MaxLength } from 'class-validator';
import { PersonOnShow } from './sheet';
import type { FieldToLook, PlacingState, ShowState } from './states';

/** Which shows of a station are asked for; without anything those that are near: on air, to come, or past for a few weeks. */
export class ShowsAsked {
  /** Those that began before, the latest of them; ms since the epoch. For paging back. */
  @IsOptional()
  @Type(() => Number)
  @IsInt({ message: 'A moment is a whole number of milliseconds.' })
  before?: number;

  /** Those of any time in whose title, text, room or people these words stand, the latest first. */
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
  pictureUrl: string | null;
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
  /** Of the picture as small as lists show it; null: there is none. */
  pictureUrl: string | null;
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
  /** When it was drafted. */
  madeAt: number;
}
