import { DAY_MS, HOUR_MS, instant, MINUTE_MS } from '../time/instant';
import { mayBroadcast, sayCondition, type Condition } from './conditions';
import { defaultsFor, defaultsNotOffered } from './defaults';
import { rulesFor, rulesWithLimits, type AccountKind, type NetworkId, type RuleSheet } from './rules';
import { sayLimit, sayRules } from './rules-in-words';

const KINDS: [NetworkId | 'typed-in', AccountKind][] = [
  ['reelmoor', 'library channel'],
  ['townfold', 'page'],
  ['townfold', 'group'],
  ['townfold', 'profile'],
  ['guildhand', 'member'],
  ['guildhand', 'organisation'],
  ['pipwire', 'handle'],
  ['typed-in', 'service'],
];
const AT = instant(Date.UTC(2026, 11, 1));
const said = (rules: RuleSheet) =>
  sayRules(rules)
    .flatMap(({ sentences }) => sentences)
    .join(' ');

test.each(KINDS)('the rules of %s for a %s are whole sentences without a hole', (network, kind) => {
  const paragraphs = sayRules(rulesFor(network, kind));
  expect(paragraphs.length).toBeGreaterThan(1);
  for (const sentence of paragraphs.flatMap(({ sentences }) => sentences)) {
    expect(sentence).toMatch(/^[A-Z].*\.$/);
    expect(sentence).not.toMatch(/undefined|NaN|null|\[object| {2}/);
  }
});

test('the words follow the figures: change a limit and the page says so', () => {
  const sheet = rulesFor('reelmoor', 'library channel');
  expect(said(sheet)).toContain('Titles have 100 characters at most.');
  expect(said({ ...sheet, titleMax: 64, furthestAheadMs: 30 * DAY_MS, startWindow: { earliestMs: -10 * MINUTE_MS, latestMs: HOUR_MS } })).toMatch(
    /up to 30 days ahead.*from 10 min before its time.*not begun 1 h after its time.*Titles have 64 characters/,
  );
  expect(said(rulesFor('pipwire', 'handle'))).toMatch(/There is no title.*270 characters.*counts 24/);
  expect(said(rulesFor('guildhand', 'member'))).toMatch(/cannot be moved.*words for those who cannot see it.*marked as cancelled/);
});

test('kinds of account differ where the network’s do', () => {
  expect(rulesFor('townfold', 'profile').maySchedule).toBe(false);
  expect(rulesFor('townfold', 'group').visibilities).toContain('group members');
  expect(rulesFor('townfold', 'page').visibilities).toEqual(['everyone']);
});

test('an announced change holds from its day on, the later one over the earlier, and dates the sheet', () => {
  const notices = [
    { id: 'b', limit: 'titleMax' as const, value: 50, from: instant(AT + DAY_MS) },
    { id: 'a', limit: 'titleMax' as const, value: 80, from: AT },
  ];
  const max = (at: number) => rulesFor('reelmoor', 'library channel', notices, instant(at)).titleMax;
  expect([max(AT - 1), max(AT), max(AT + DAY_MS)]).toEqual([100, 80, 50]);
  expect(rulesFor('reelmoor', 'library channel', notices, AT).asOf).toBe('2026-12-01');
  // Nothing of it stays behind for others.
  expect(rulesFor('reelmoor', 'library channel').titleMax).toBe(100);
  expect(sayLimit(notices[1]!)).toBe('titles of 80 characters');
});

test('limits typed in by hand become the sheet of a service', () => {
  const sheet = rulesWithLimits({ titleMax: 40, textMax: null, longestMs: 2 * HOUR_MS, maxKbps: 3_000 });
  expect(sheet).toMatchObject({ titleMax: 40, textMax: null, longestMs: 2 * HOUR_MS });
  expect(said(sheet)).toMatch(/Titles have 40 characters.*3,000 kbit\/s.*ended after 2 h/);
});

test.each<[Condition, string, string]>([
  [{ code: 'access', state: 'unmet' }, 'act for the account', 'Link the channel again'],
  [{ code: 'verified-phone', state: 'unmet' }, 'phone', 'Verify a phone number'],
  [{ code: 'waiting-day', state: 'unmet' }, 'A day since', 'Ask Reelmoor now'],
  [{ code: 'waiting-day', state: 'waiting', metAt: AT }, 'A day since', 'Tuesday, 1 December 2026, 00:00 GMT'],
  [{ code: 'page-role', state: 'unmet' }, 'A role on the page', 'Ask whoever runs the page'],
  [{ code: 'group-allows', state: 'unmet' }, 'Leave of the group', 'administrator'],
  [{ code: 'account-age', state: 'waiting', have: 12, need: 30, metAt: AT }, 'older than 30 days; this one has 12', '1 December'],
  [{ code: 'connections', state: 'unmet', have: 31, need: 50 }, '50 connections; this account has 31', '19 more'],
  [{ code: 'followers', state: 'unmet', have: 86, need: 100 }, '100 followers; this account has 86', '14 more'],
])('a condition that is not met comes with its remedy: %j', (condition, what, remedy) => {
  const words = sayCondition(condition, 'Reelmoor', 'Europe/Dublin');
  expect(words.what).toContain(what);
  expect(words.remedy).toContain(remedy);
  expect(sayCondition({ ...condition, state: 'met' }, 'Reelmoor', 'Europe/Dublin')).toMatchObject({ remedy: '', askThere: false });
  expect(mayBroadcast([condition])).toBe(false);
});

test.each(KINDS)('what %s for a %s starts out with is what it offers', (network, kind) => {
  const rules = rulesFor(network, kind);
  expect(defaultsNotOffered(defaultsFor(rules), rules)).toEqual({});
});

test('a default that the network does not offer is named with what it does', () => {
  const rules = rulesFor('guildhand', 'organisation');
  const wrong = defaultsNotOffered({ ...defaultsFor(rules), visibility: 'supporters', delayS: 4, category: 'music', replay: true }, rules);
  expect(Object.keys(wrong).sort()).toEqual(['category', 'delayS', 'replay', 'visibility']);
  expect(wrong.visibility).toContain('everyone, invited people');
  const library = rulesFor('reelmoor', 'library channel');
  expect(Object.keys(defaultsNotOffered({ ...defaultsFor(library), language: 'not a tag', rewind: null }, library)).sort()).toEqual(['language', 'rewind']);
});
