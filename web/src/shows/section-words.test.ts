import type { ChannelView, ShowDraft, ShowView, StationView } from '@lantern/contract';
import { BLANK_SHEET, DAY_MS, defaultsFor, HOUR_MS, instant, rulesFor, startOf } from '@lantern/core';
import * as say from './section-words';

const channel = (id: string, network: 'reelmoor' | 'townfold' | 'pipwire', name: string, lines = 1) => {
  const rules = rulesFor(network, network === 'reelmoor' ? 'library channel' : network === 'townfold' ? 'page' : 'handle');
  const named = Array.from({ length: lines }, (_, at) => ({ id: `${id}${at}`, name: at ? 'Dome camera' : 'Main' }));
  return { id, network, name, rules, defaults: defaultsFor(rules), lines: named } as unknown as ChannelView;
};
const CHANNELS = [channel('r', 'reelmoor', 'Alderfell Sky Club', 2), channel('t', 'townfold', 'Alderfell Sky Club'), channel('p', 'pipwire', '@alderfellsky')];
const draft = (change: Partial<ShowDraft> = {}): ShowDraft => ({
  ...BLANK_SHEET,
  ...{ title: 'Dusk Report', date: '2026-12-17', time: '20:30', zone: 'Europe/Dublin', lengthMin: 40 },
  ...change,
});
const NOW = instant(Date.UTC(2026, 10, 26, 12));
const station = {
  cities: [
    { name: 'Alderfell', zone: 'Europe/Dublin' },
    { name: 'Santiago', zone: 'America/Santiago' },
    { name: 'Kolkata', zone: 'Asia/Kolkata' },
  ],
} as StationView;
const show = (change: object = {}) =>
  ({ state: 'draft', airings: [], startsAt: startOf(draft())!, placedAt: null, thumbnail: null, ...change }) as unknown as ShowView;

test('when: at home first, then in the cities, with the next day and the night', () => {
  const { when, elsewhere } = say.sayStart(draft(), startOf(draft()), station, NOW);
  expect(when).toBe('Thursday 17 December, 20:30 in Alderfell, 40 min.');
  expect(elsewhere).toBe('17:30 Santiago · 02:00 Kolkata (the next day, night)');
  expect(say.sayStart(draft({ date: '2027-01-07' }), startOf(draft({ date: '2027-01-07' })), station, NOW).when).toMatch(/^Thursday, 7 January 2027, 20:30 in/);
  expect(say.sayStart(draft(), null, station, NOW)).toEqual({ when: 'No start that clocks show.', elsewhere: '' });
});

test('where the picture comes from, with music on the break card where there will be one', () => {
  expect(say.sayPictureFrom(draft())).toBe('From the stage here.');
  expect(say.sayPictureFrom(draft({ breakMusicId: 'm' }))).toBe('From the stage here. With music on the break card.');
  expect(say.sayPictureFrom(draft({ pictureFrom: 'encoder', breakMusicId: 'm' }))).toBe('From an outside encoder, straight to the channels.');
});

test('the running order in a line', () => {
  const cue = (name: string, lengthS: number) => ({ id: name, name, lengthS, hardAt: null, who: '', notes: '' });
  const at = startOf(draft());
  expect(say.sayOrder(draft(), at)).toBe('Nothing is planned.');
  expect(say.sayOrder(draft({ cues: [cue('Opening', 300), cue('Talk', 2_100)] }), at)).toBe('2 cues, on time.');
  expect(say.sayOrder(draft({ cues: [cue('Talk', 2_490)] }), at)).toBe('1 cue, 1:30 over.');
  expect(say.sayOrder(draft({ cues: [cue('Talk', 2_490)] }), null)).toBe('No start that clocks show.');
});

test('where: channels of one name together, each with its network, and a line that is not the first', () => {
  expect(say.sayWhere([], draft())).toBe('On no channel yet.');
  expect(say.sayWhere(CHANNELS, draft())).toBe('Alderfell Sky Club on Reelmoor and Townfold and @alderfellsky on Pipwire.');
  expect(say.sayWhere(CHANNELS.slice(0, 1), draft({ lines: [{ channelId: 'r', lineId: 'r1' }] }))).toBe(
    'Alderfell Sky Club on Reelmoor. Reelmoor by the line “Dome camera”.',
  );
});

test('who may see it: once where all are alike, otherwise by network', () => {
  expect(say.sayAudience(CHANNELS, draft())).toBe('Everyone on all 3 channels.');
  const variants = [{ channelId: 'r', title: null, description: null, choices: { visibility: 'link holders' as const } }];
  expect(say.sayAudience(CHANNELS.slice(0, 2), draft({ variants }))).toBe('Link holders on Reelmoor and everyone on Townfold.');
});

test('what: the beginning of the text with its placeholders filled, and how long it is', () => {
  const filling = { startsAt: null, zone: 'UTC', cities: [], watchUrl: null, houseUrl: '', episode: 41, guests: ['Tomasz Wren'] };
  expect(say.sayWhat(draft(), filling)).toBe('No text yet.');
  expect(say.sayWhat(draft({ episode: 41, description: 'With {guests}.' }), filling)).toBe('Episode 41. “With Tomasz Wren.”');
  expect(say.sayWhat(draft({ description: 'word '.repeat(60) }), filling)).toMatch(/^“word .*word…”$/);
});

test('people, picture, page and announcements', () => {
  const people = [
    { name: 'Maren Tolliver', role: 'host' as const, zone: null },
    { name: 'Tomasz Wren', role: 'guest' as const, zone: 'Asia/Kolkata' },
    { name: '', role: 'guest' as const, zone: null },
  ];
  expect(say.sayPeople(draft())).toBe('Nobody is named.');
  expect(say.sayPeople(draft({ people, ownSounds: true }))).toContain('own sound of guests');
  expect(say.sayPeople(draft({ people, room: 'Dome' }))).toBe('Maren Tolliver hosts. Tomasz Wren (Kolkata) is a guest. In Dome.');
  expect(say.sayPicture(show(), draft())).toBe('No thumbnail yet.');
  const picture = { thumbnail: { url: '', recipe: null }, waiting: null };
  expect(say.sayPicture(show(picture), draft())).toBe('What it shows is not said in words.');
  expect(say.sayHouse(show(), draft({ houseVisibility: 'supporters', reminders: false, houseReplay: true }))).toBe(
    'For supporters, by code; the recording afterwards.',
  );
  const told = (time: number, id: string) => ({ id, place: 'Members’ mail', text: '', time, channelId: null });
  const announcements = [told(3 * DAY_MS, 'a'), told(HOUR_MS, 'b')];
  const at = startOf(draft())!;
  expect(say.sayAnnouncements(show(), draft(), at, NOW)).toBe('Nothing is prepared.');
  expect(say.sayAnnouncements(show(), draft({ announcements }), at, NOW)).toBe('2 are still to be said; next Members’ mail, in 18 days.');
  expect(say.sayAnnouncements(show(), draft({ announcements, said: ['a', 'b'] }), at, NOW)).toBe('All 2 are said.');
});
