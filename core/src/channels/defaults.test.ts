import { defaultsFor, isLanguage, settingsFor, type ChannelDefaults } from './defaults';
import { rulesFor } from './rules';

const library = rulesFor('reelmoor', 'library channel');
const page = rulesFor('townfold', 'page');
const handle = rulesFor('pipwire', 'handle');

test('a show’s choices go over the channel’s, and those over the network’s plain ones', () => {
  const defaults: ChannelDefaults = { ...defaultsFor(library), category: 'science', visibility: 'supporters' };
  expect(settingsFor({}, defaults, library)).toMatchObject({ category: 'science', visibility: 'supporters', language: 'en', audience: 'everybody', tags: [] });
  expect(settingsFor({ category: 'music', tags: ['sky'], replay: false }, defaults, library)).toMatchObject({
    category: 'music',
    tags: ['sky'],
    replay: false,
    rewind: true,
  });
});

test('what a network does not ask for is never told, whatever a show chose', () => {
  const choices = { category: 'music', tags: ['sky'], audience: 'adults', embedding: false, paidMention: true, beginsByItself: true, rewind: true } as const;
  const all = { ...choices, tags: [...choices.tags] };
  expect(settingsFor(all, defaultsFor(page), page)).toMatchObject({
    category: null,
    tags: null,
    audience: 'adults',
    embedding: null,
    paidMention: null,
    rewind: null,
  });
  expect(settingsFor(all, defaultsFor(handle), handle)).toEqual({
    ...{ visibility: 'everyone', category: null, language: null, messages: 'everyone', delayS: 8, rewind: null, replay: null },
    ...{ audience: null, tags: null, embedding: null, paidMention: null, beginsByItself: null },
    ...{ licence: null, listedDays: null, adverts: null, keepsMessages: null, countries: null, playlist: null, next: null },
    ...{ sharing: null, messagesEveryS: null, writersAgedDays: null, shortestMessage: null },
  });
});

test('a channel that was set up before its network asked for something has what is plain there', () => {
  const { visibility, category, language, messages, delayS, rewind, replay } = defaultsFor(library);
  const older = { visibility, category, language, messages, delayS, rewind, replay } as ChannelDefaults;
  expect(settingsFor({}, older, library)).toMatchObject({ licence: 'all rights kept', listedDays: 7, adverts: false, keepsMessages: true });
});

test('a default that has gone from the network falls back to what it offers; a show’s own wish is kept, to be objected to', () => {
  const gone: ChannelDefaults = { ...defaultsFor(page), visibility: 'supporters' };
  expect(settingsFor({}, gone, page).visibility).toBe('everyone');
  expect(settingsFor({ visibility: 'supporters' }, gone, page).visibility).toBe('supporters');
});

test.each([
  ['en', true],
  ['pt-BR', true],
  ['no tag', false],
  ['', false],
])('“%s” as a language tag', (tag, good) => {
  expect(isLanguage(tag)).toBe(good);
});
