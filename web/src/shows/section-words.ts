// A settled section in plain words: what a host would say of it on the telephone.
import type { ChannelView, SeriesOfShow, ShowDraft, ShowView, StationView } from '@lantern/contract';
import {
  ANNOUNCEMENT_TIMES,
  announcementsAt,
  fillPlaceholders,
  instant,
  isNight,
  MINUTE_MS,
  sayDistance,
  isStale,
  sayRunningOrder,
  sayLength,
  sayNear,
  sayRepeat,
  sayTime,
  settingsFor,
  SHEET,
  wallTimeOf,
  type Filling,
  type Instant,
} from '@lantern/core';
import { placeOf } from './judged';
import { timesOf } from './order-times';
import { variantOf } from './sheet-draft';

/** "Reelmoor, Townfold and Guildhand". */
export function listed(words: readonly string[]): string {
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
}

/** How much of a text a line shows. */
const SHOWN_OF_TEXT = 110;

export function sayWhat(draft: ShowDraft, filling: Filling): string {
  const episode = draft.episode ? `Episode ${draft.episode}. ` : '';
  const { text } = fillPlaceholders(draft.description ?? '', filling);
  const words = text.trim().replace(/\s+/g, ' ');
  if (!words) return `${episode}No text yet.`;
  const shown = words.length > SHOWN_OF_TEXT ? `${words.slice(0, SHOWN_OF_TEXT).replace(/\s\S*$/, '')}…` : words;
  return `${episode}“${shown}”`;
}

/** The place that a zone is called by. */
const cityOf = (zone: string): string => zone.split('/').at(-1)!.replaceAll('_', ' ');

/** The start where the show is at home, and in the station's other cities. The year only where it is not the present one. */
export function sayStart(
  draft: ShowDraft,
  startsAt: Instant | null,
  station: Pick<StationView, 'cities'> | null,
  now: Instant,
): { when: string; elsewhere: string } {
  if (startsAt === null) return { when: 'No start that clocks show.', elsewhere: '' };
  const cities = station?.cities ?? [];
  const home = cities.find(({ zone }) => zone === draft.zone)?.name ?? cityOf(draft.zone);
  const { date } = wallTimeOf(startsAt, draft.zone);
  const elsewhere = cities
    .filter(({ zone }) => zone !== draft.zone)
    .map(({ name, zone }) => {
      const there = wallTimeOf(startsAt, zone).date;
      const marks = [there > date && 'the next day', there < date && 'the day before', isNight(startsAt, zone) && 'night'].filter(Boolean);
      return `${sayTime(startsAt, zone, false)} ${name}${marks.length ? ` (${marks.join(', ')})` : ''}`;
    });
  return { when: `${sayNear(startsAt, draft.zone, now)} in ${home}, ${sayLength((draft.lengthMin || 0) * MINUTE_MS)}.`, elsewhere: elsewhere.join(' · ') };
}

/** In what a date differs from the rest of its series, in words. */
export const differing = ({ differs }: SeriesOfShow): string[] => [
  ...new Set(differs.map((field) => (field === 'thumbnail' ? 'picture' : SHEET[field].words))),
];

export function sayRepeats(series: ShowView['series']): string {
  if (!series) return 'Once.';
  const own = differing(series);
  const parts = [
    `${sayRepeat(series.repeat)}, ${series.time}.`,
    series.placesByItself ? 'Each date is placed by itself.' : 'Each date is placed by hand.',
    own.length && `This date differs from the others: ${own.join(', ')}.`,
  ];
  return parts.filter(Boolean).join(' ');
}

/** Channels of one name together: "Alderfell Sky Club on Reelmoor and Townfold". */
export function sayChannels(channels: readonly Pick<ChannelView, 'name' | 'network'>[]): string {
  const byName = new Map<string, string[]>();
  for (const { name, network } of channels) byName.set(name, [...(byName.get(name) ?? []), ...(network === 'typed-in' ? [] : [placeOf({ name, network })])]);
  return listed([...byName].map(([name, places]) => (places.length ? `${name} on ${listed(places)}` : name)));
}

export function sayWhere(channels: readonly ChannelView[], draft: ShowDraft): string {
  if (!channels.length) return 'On no channel yet.';
  const lines = channels.flatMap((channel) => {
    const chosen = draft.lines?.find(({ channelId }) => channelId === channel.id)?.lineId;
    const line = channel.lines.find(({ id }) => id === chosen);
    return line && channel.lines.length > 1 ? [`${placeOf(channel)} by the line “${line.name}”`] : [];
  });
  return `${sayChannels(channels)}.${lines.length ? ` ${listed(lines)}.` : ''}`;
}

export function sayAudience(channels: readonly ChannelView[], draft: ShowDraft): string {
  if (!channels.length) return 'Each channel offers its own choices.';
  const byWhom = new Map<string, string[]>();
  for (const channel of channels) {
    const { visibility } = settingsFor(variantOf(draft, channel.id).choices, channel.defaults, channel.rules);
    byWhom.set(visibility, [...(byWhom.get(visibility) ?? []), placeOf(channel)]);
  }
  const capital = (words: string) => words[0]!.toUpperCase() + words.slice(1);
  if (byWhom.size === 1) return `${capital([...byWhom.keys()][0]!)} on ${channels.length === 1 ? placeOf(channels[0]!) : `all ${channels.length} channels`}.`;
  return `${capital(listed([...byWhom].map(([whom, places]) => `${whom} on ${listed(places)}`)))}.`;
}

export function sayPicture(show: ShowView, draft: ShowDraft): string {
  if (!show.thumbnail) return 'No thumbnail yet.';
  const shows = draft.thumbnailAlternative?.trim();
  const made = show.thumbnail.recipe ? 'Made here.' : '';
  const waiting = show.waiting && !show.waiting.follows ? 'Early viewers see a picture of its own.' : '';
  return [shows ? `“${shows.length > 60 ? `${shows.slice(0, 60)}…` : shows}”` : 'What it shows is not said in words.', made, waiting].filter(Boolean).join(' ');
}

export function sayPeople(draft: ShowDraft): string {
  const people = (draft.people ?? []).filter(({ name }) => name.trim());
  const named = (role: 'host' | 'guest') =>
    people.filter((person) => person.role === role).map(({ name, zone }) => (zone && zone !== draft.zone ? `${name} (${cityOf(zone)})` : name));
  const [hosts, guests] = [named('host'), named('guest')];
  const room = draft.room?.trim() ? `In ${draft.room.trim()}.` : '';
  const sounds = draft.ownSounds && guests.length ? 'With the own sound of guests who agree.' : '';
  if (!people.length) return room || 'Nobody is named.';
  const parts = [
    hosts.length && `${listed(hosts)} ${hosts.length === 1 ? 'hosts' : 'host'}.`,
    guests.length && `${listed(guests)} ${guests.length === 1 ? 'is a guest' : 'are guests'}.`,
    room,
    sounds,
  ];
  return parts.filter(Boolean).join(' ');
}

const FROM: Record<ShowDraft['pictureFrom'], string> = {
  stage: 'From the stage here.',
  'outside line': 'From an outside line.',
  encoder: 'From an outside encoder, straight to the channels.',
};
export const sayPictureFrom = ({ pictureFrom, breakMusicId }: ShowDraft): string =>
  `${FROM[pictureFrom]}${breakMusicId && pictureFrom !== 'encoder' ? ' With music on the break card.' : ''}`;

export function sayHouse(show: ShowView, draft: ShowDraft): string {
  const whom = {
    everyone: 'For everyone',
    'link holders': 'For whoever has the link',
    'invited people': 'For those whom you invite',
    supporters: 'For supporters, by code',
  };
  const parts = [
    whom[draft.houseVisibility],
    draft.reminders && 'reminders by mail',
    draft.houseReplay && draft.pictureFrom !== 'encoder' && 'the recording afterwards',
    show.trailer?.state === 'ready' && 'a trailer before',
  ];
  return `${parts.filter(Boolean).join('; ')}.`;
}

export function sayAnnouncements(show: ShowView, draft: ShowDraft, startsAt: Instant | null, now: Instant): string {
  const times = { startsAt: startsAt ?? instant(show.startsAt), placedAt: show.placedAt === null ? null : instant(show.placedAt) };
  const all = announcementsAt(draft.announcements ?? [], draft.said ?? [], times, now);
  if (!all.length) return 'Nothing is prepared.';
  const open = all.filter(({ state }) => state !== 'done');
  if (!open.length) return all.length === 1 ? 'Said.' : `All ${all.length} are said.`;
  const [next] = open as [(typeof open)[number]];
  const late = open.filter(({ state }) => state === 'late').length;
  const when = next.at === null ? (ANNOUNCEMENT_TIMES.find(({ time }) => time === next.announcement.time)?.words ?? '') : sayDistance(next.at - now);
  const place = next.announcement.place || 'an announcement';
  return `${open.length === 1 ? '1 is still to be said' : `${open.length} are still to be said`}${late ? `, ${late} of them late` : ''}; next ${place}, ${when}.`;
}

export function sayLinks(show: ShowView): string {
  if (show.state === 'draft') return 'They are here once the show is placed.';
  const there = show.airings.filter(({ placing, watchUrl }) => placing === 'placed' && watchUrl).map(({ channel }) => placeOf(channel));
  return `House page${there.length ? `, and where it is on ${listed(there)}` : ''}.`;
}

export function sayOrder(draft: ShowDraft, startsAt: Instant | null): string {
  const times = timesOf(draft, startsAt);
  return times ? sayRunningOrder(times) : 'No start that clocks show.';
}

function sayGraphics({ graphics = [], people = [] }: ShowDraft, startsAt: Instant | null): string {
  const stale = startsAt === null ? 0 : graphics.filter((graphic) => isStale(graphic, startsAt)).length;
  const own = graphics.length ? `${graphics.length} prepared${stale ? `, ${stale} of another evening` : ''}` : 'Nothing is prepared';
  return people.length ? `${own}; names make themselves.` : `${own}.`;
}

/** What is laid over the picture, and what is played into it. */
export function sayOnPicture(draft: ShowDraft, startsAt: Instant | null): string {
  const { clips = [], scenes = [] } = draft;
  const [films, stills] = [clips.filter(({ from }) => from === 'clip').length, clips.filter(({ from }) => from === 'still').length];
  const parts = [films && (films === 1 ? '1 clip' : `${films} clips`), stills && (stills === 1 ? '1 still' : `${stills} stills`)].filter(Boolean);
  const own = scenes.length ? ` ${scenes.length === 1 ? 'One scene is' : `${scenes.length} scenes are`} other than the station’s.` : '';
  return `${sayGraphics(draft, startsAt)}${parts.length ? ` ${parts.join(' and ')}.` : ''}${own}`;
}
