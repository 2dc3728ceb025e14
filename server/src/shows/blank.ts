// What rows begin with.
import type { Airing, Show } from './show.entities';

/** What an airing has before anything was said or heard about it. */
export const BLANK_AIRING = {
  placing: 'none',
  placedAt: null,
  lineId: null,
  title: null,
  description: null,
  choices: {},
  told: null,
  toldPicture: null,
  toldChoices: null,
  round: 0,
  seen: null,
  seenAt: null,
  gone: false,
  remoteId: null,
  watchUrl: null,
  refusal: '',
  endWords: '',
} as const satisfies Partial<Airing>;

type Unwritten = 'state' | 'thumbnail' | 'waiting' | 'posted' | 'trailer' | 'breakCard' | 'onAirSince' | 'endedAt' | 'version' | 'fieldVersions' | 'placedAt';

/** What a show has beyond its sheet before anything happened to it. */
export const BLANK_SHOW: Pick<Show, Unwritten | 'rehearsalOf' | 'changedBy' | 'changedAt' | 'madeAt' | 'seriesId' | 'seriesDate' | 'differs'> = {
  rehearsalOf: null,
  state: 'draft',
  thumbnail: null,
  waiting: null,
  posted: {},
  trailer: null,
  breakCard: null,
  onAirSince: null,
  endedAt: null,
  version: 1,
  fieldVersions: {},
  placedAt: null,
  changedBy: null,
  changedAt: 0,
  madeAt: 0,
  seriesId: null,
  seriesDate: null,
  differs: [],
};
