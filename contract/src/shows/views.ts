// A whole show, as its sheet shows it.
import type { Announcement, MilestoneName, MilestoneTimes, Repeat } from '@lantern/core';
import type { HouseVisibility } from '../house/house';
import type { PostedView } from './announcing';
import type { AiringView } from './on-channels';
import type { ThumbnailView, TrailerView } from './pictures';
import { type DraftField, PersonOnShow, type SeriesField } from './sheet';
import type { ChannelResult, FieldToLook, PictureFrom, ShowState } from './states';

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

export interface ShowView {
  id: string;
  title: string;
  description: string;
  state: ShowState;
  startsAt: number;
  zone: string;
  lengthMs: number;
  thumbnail: ThumbnailView | null;
  /** What early viewers see; null: the thumbnail. */
  waiting: ThumbnailView | null;
  thumbnailAlternative: string;
  pictureFrom: PictureFrom;
  houseUrl: string;
  airings: AiringView[];
  channelIds: string[];
  /** Grows with every change of the sheet. */
  version: number;
  changedBy: string | null;
  changedAt: number;
  people: PersonOnShow[];
  room: string;
  episode: number | null;
  houseVisibility: HouseVisibility;
  reminders: boolean;
  embedSites: string[];
  announcements: Announcement[];
  said: string[];
  /** What became of announcements that a channel was to make, by identifier. */
  posted: Record<string, PostedView>;
  houseReplay: boolean;
  trailer: TrailerView | null;
  /** When it was first placed anywhere; null: not yet. */
  placedAt: number | null;
  /** The short address, where the page is for everyone. */
  shortUrl: string | null;
  milestoneTimes: Partial<MilestoneTimes>;
  ticked: MilestoneName[];
  toLook: FieldToLook[];
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
