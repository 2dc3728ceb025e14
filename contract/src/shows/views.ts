// A whole show, as its sheet shows it.
import type { KeptOfSheet, Repeat } from '@lantern/core';
import type { PostedView } from './announcing';
import type { AiringView } from './on-channels';
import type { ThumbnailView, TrailerView } from './pictures';
import type { DraftField, SeriesField } from './sheet';
import type { ChannelResult, ShowState } from './states';

export interface SaveConflict {
  field: DraftField;
  /** Who changed it meanwhile. */
  by: string;
}

export interface SaveResult {
  show: ShowView;
  conflicts: SaveConflict[];
}

/** The series that a show is one date of. */
export interface SeriesOfShow {
  id: string;
  repeat: Repeat;
  time: string;
  zone: string;
  placesByItself: boolean;
  /** The date by the rule, YYYY-MM-DD; the show may have been moved from it. */
  date: string;
  /** What differs on this date from the rest of the series. */
  differs: SeriesField[];
}

/** A show with all that is kept of its sheet. */
export interface ShowView extends KeptOfSheet {
  id: string;
  /** What it rehearses, and the channels on which that is; null: it is a show. */
  rehearsal: { of: string; channelIds: string[] } | null;
  state: ShowState;
  thumbnail: ThumbnailView | null;
  /** What early viewers see; null: the thumbnail. */
  waiting: ThumbnailView | null;
  houseUrl: string;
  airings: AiringView[];
  channelIds: string[];
  /** Grows with every change of the sheet. */
  version: number;
  changedBy: string | null;
  changedAt: number;
  /** When it was drafted. */
  madeAt: number;
  /** What became of announcements that a channel was to make, by identifier. */
  posted: Record<string, PostedView>;
  trailer: TrailerView | null;
  /** When it was first placed anywhere; null: not yet. */
  placedAt: number | null;
  /** The short address, where the page is for everyone. */
  shortUrl: string | null;
  fold: 'earlier' | 'later' | null;
  onAirSince: number | null;
  endedAt: number | null;
  series: SeriesOfShow | null;
}

/** Something that was removed a short while ago, and can be taken back. */
export interface RemovedView {
  id: string;
  title: string;
  /** Until when it can be taken back. */
  until: number;
}

export interface PlaceResult {
  show: ShowView;
  results: ChannelResult[];
}
