// A show as its sheet holds it, and back.
import type { ShowDraft } from '@lantern/contract';
import { instant, MINUTE_MS, readWallTime, wallTimeOf } from '@lantern/core';
import { PlainError } from '../foundation/errors';
import type { Airing, Show } from './show.entities';

/** A sheet on which nothing but the title and the time has been written. */
export const BLANK_SHEET: Omit<ShowDraft, 'title' | 'date' | 'time' | 'zone'> = {
  description: '',
  fold: null,
  lengthMin: 60,
  channelIds: [],
  lines: [],
  pictureFrom: 'stage',
  thumbnailAlternative: '',
  variants: [],
  people: [],
  room: '',
  episode: null,
  announcements: [],
  said: [],
  houseVisibility: 'everyone',
  reminders: true,
  houseReplay: true,
  embedSites: [],
  milestoneTimes: {},
  ticked: [],
  toLook: [],
};

export function draftOf(show: Show, airings: readonly Airing[]): ShowDraft {
  return {
    title: show.title,
    description: show.description,
    ...whenOf(show),
    zone: show.zone,
    lengthMin: Math.round(show.lengthMs / MINUTE_MS),
    channelIds: airings.map(({ channelId }) => channelId),
    lines: airings.flatMap(({ channelId, lineId }) => (lineId === null ? [] : [{ channelId, lineId }])),
    pictureFrom: show.pictureFrom,
    thumbnailAlternative: show.thumbnailAlternative,
    variants: airings.flatMap(({ channelId, title, description, choices }) =>
      title === null && description === null && !Object.keys(choices).length ? [] : [{ channelId, title, description, choices }],
    ),
    people: show.people,
    room: show.room,
    episode: show.episode,
    announcements: show.announcements,
    said: show.said,
    houseVisibility: show.houseVisibility,
    reminders: show.reminders,
    houseReplay: show.houseReplay,
    embedSites: show.embedSites,
    milestoneTimes: show.milestoneTimes,
    ticked: show.ticked,
    toLook: show.toLook,
  };
}

/** The wall time of a show's start, and which of two it is where clocks show it twice. */
export function whenOf({ startsAt, zone }: Pick<Show, 'startsAt' | 'zone'>): Pick<ShowDraft, 'date' | 'time' | 'fold'> {
  const wall = wallTimeOf(instant(startsAt), zone);
  const reading = readWallTime(wall, zone);
  return { ...wall, fold: reading.kind !== 'twice' ? null : reading.later === startsAt ? 'later' : 'earlier' };
}

export type Planned = Pick<
  Show,
  | 'title'
  | 'description'
  | 'startsAt'
  | 'zone'
  | 'lengthMs'
  | 'thumbnailAlternative'
  | 'pictureFrom'
  | 'people'
  | 'room'
  | 'episode'
  | 'announcements'
  | 'said'
  | 'houseVisibility'
  | 'reminders'
  | 'houseReplay'
  | 'embedSites'
  | 'milestoneTimes'
  | 'ticked'
  | 'toLook'
>;

/** What of a sheet is kept with the show itself. Throws where its time cannot be read. */
export function plannedFacts(draft: ShowDraft): Planned {
  return {
    title: draft.title.trim(),
    description: draft.description.trim(),
    startsAt: startOf(draft),
    zone: draft.zone,
    lengthMs: draft.lengthMin * MINUTE_MS,
    thumbnailAlternative: draft.thumbnailAlternative.trim(),
    pictureFrom: draft.pictureFrom,
    people: draft.people.map(({ name, role, zone }) => ({ name: name.trim(), role, zone })),
    room: draft.room.trim(),
    episode: draft.episode,
    announcements: draft.announcements.map(({ id, place, text, time, channelId }) => ({ id, place: place.trim(), text, time, channelId })),
    said: draft.said,
    houseVisibility: draft.houseVisibility,
    reminders: draft.reminders,
    houseReplay: draft.houseReplay,
    embedSites: draft.embedSites,
    milestoneTimes: { ...draft.milestoneTimes },
    ticked: draft.ticked,
    toLook: draft.toLook,
  };
}

function startOf({ date, time, zone, fold }: ShowDraft): number {
  const reading = readWallTime({ date, time }, zone);
  if (reading.kind === 'once') return reading.instant;
  if (reading.kind === 'twice' && fold) return fold === 'later' ? reading.later : reading.instant;
  throw new PlainError(400, 'This date and time cannot be read in this zone. Choose another.');
}
