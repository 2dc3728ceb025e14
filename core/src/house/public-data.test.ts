import fc from 'fast-check';
import { instant } from '../time/instant';
import { broadcastEvent, escapeMarkup, messageFor, summaryOf, writeAtom, type PublicShow } from './public-data';

const show: PublicShow = {
  title: 'Dusk Report',
  description: 'What to look for tonight from the fell.',
  stationName: 'Alderfell Sky Club',
  startsAt: instant(Date.parse('2026-12-03T20:30:00Z')),
  lengthMs: 40 * 60_000,
  zone: 'Europe/Dublin',
  url: 'https://alderfell.example/on/x',
  pictureUrl: null,
  state: 'coming',
};

test('a crawler is told what, when, where and whether it is on', () => {
  expect(broadcastEvent(show)).toMatchObject({
    '@type': 'BroadcastEvent',
    startDate: '2026-12-03T20:30:00.000Z',
    endDate: '2026-12-03T21:10:00.000Z',
    duration: 'PT40M',
    isLiveBroadcast: false,
    eventStatus: 'https://schema.org/EventScheduled',
  });
  expect(broadcastEvent({ ...show, state: 'onAir' })).toMatchObject({ isLiveBroadcast: true });
  expect(broadcastEvent({ ...show, state: 'withdrawn' })).toMatchObject({ eventStatus: 'https://schema.org/EventCancelled' });
});

test('no text breaks out of markup, and all of it is legal in XML', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 80 }), (text) => {
      const escaped = escapeMarkup(text);
      expect(escaped).not.toMatch(/[<>"']|&(?!#\d+;)/);
      expect(escaped).not.toMatch(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/);
    }),
  );
});

test('a feed tells the latest change first and links to itself and its page', () => {
  const entry = (id: string, changedAt: number) => ({
    id,
    title: `${id} & more`,
    text: '<b>',
    url: 'https://x.example',
    startsAt: show.startsAt,
    zone: show.zone,
    changedAt: instant(changedAt),
  });
  const feed = writeAtom(
    { name: 'Club', selfUrl: 'https://x.example/feed.atom', pageUrl: 'https://x.example/', entries: [entry('old', 1_000), entry('new', 2_000)] },
    instant(0),
  );
  expect(feed.indexOf('new &#38; more')).toBeLessThan(feed.indexOf('old &#38; more'));
  expect(feed).toContain('<updated>1970-01-01T00:00:02.000Z</updated>');
  expect(feed).toContain('rel="self"');
  expect(feed).not.toContain('<b>');
});

test('messages end with the right link, and long texts are cut at a word', () => {
  for (const form of ['short', 'long', 'members'] as const) expect(messageFor(show, 'https://there.example/1', form)).toMatch(/https:\/\/there\.example\/1$/);
  expect(messageFor(show, 'u', 'short')).toContain('Thursday, 3 December 2026, 20:30 GMT');
  expect(summaryOf('one two three four five', 12)).toBe('one two…');
  expect(summaryOf(' a \n b ', 12)).toBe('a b');
});
