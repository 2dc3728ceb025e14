import { instant, MINUTE_MS } from '../time/instant';
import { rulesFor } from '../channels/rules';
import { sayLampReason } from '../words/lamps';
import { backoffMs } from './backoff';
import { lampOf, mayBeMadeAnew, shouldStartThere, startOnAir, type AiringOnAir, type NetworkReport } from './lamp';

const START = instant(Date.UTC(2026, 10, 26, 20, 30));
const sending = { state: 'sending', said: '', nextTryAt: null } as const;

function airing(report: NetworkReport | null, change: Partial<AiringOnAir> = {}): AiringOnAir {
  const rules = rulesFor('reelmoor', 'library channel');
  const heard = report && { at: START, facts: report };
  return {
    placed: true,
    beingPlaced: false,
    heldBack: false,
    fromOutside: false,
    startsAt: START,
    rules,
    relay: sending,
    report: heard,
    silentSince: null,
    startRefused: null,
    accessEnded: false,
    ...change,
  };
}
const planned = (pictureArrives: boolean): NetworkReport => ({ event: 'planned', pictureArrives, watching: 0 });
const publicThere = (pictureArrives: boolean): NetworkReport => ({ event: 'public', pictureArrives, watching: 4 });
const townfold = { rules: rulesFor('townfold', 'page') };
const waiting = { state: 'waiting', said: 'it hung up', nextTryAt: instant(START + 3_000) } as const;

test.each([
  ['not placed', airing(null, { placed: false }), 'dark', 'not-placed'],
  ['sent, but the network sees nothing', airing(planned(false)), 'dark', 'connecting'],
  ['the network sees a picture', airing(planned(true)), 'warm', 'being-started'],
  ['the network says public', airing(publicThere(true)), 'lit', 'public'],
  ['public without a picture', airing(publicThere(false)), 'fault', 'public-without-picture'],
  ['ended there by somebody else', airing({ event: 'over', pictureArrives: true, watching: 0 }), 'out', 'ended-there'],
  ['gone', airing({ event: 'missing', pictureArrives: false, watching: null }), 'fault', 'event-missing'],
  ['the connection broke', airing(publicThere(false), { relay: waiting }), 'fault', 'line-fails'],
  ['silent for two seconds', airing(publicThere(true), { silentSince: instant(START - 2_000) }), 'lit', 'public'],
  ['silent for six seconds', airing(publicThere(true), { silentSince: instant(START - 6_000) }), 'fault', 'network-silent'],
  ['access was withdrawn in mid-show', airing(publicThere(true), { accessEnded: true }), 'fault', 'access-ended'],
  [
    'a typed-in service never reports, and what is sent there has to be taken for public',
    airing(null, { rules: rulesFor('typed-in', 'service') }),
    'lit',
    'sent-unconfirmed',
  ],
  ['an encoder sends straight to it', airing(null, { rules: rulesFor('typed-in', 'service'), fromOutside: true }), 'dark', 'outside-unconfirmed'],
  ['Townfold refuses nothing at its time', airing(planned(true), townfold), 'warm', 'begins-by-itself'],
  ['being announced where nothing is taken in advance', airing(null, { placed: false, beingPlaced: true }), 'dark', 'being-placed'],
  ['refused there', airing(null, { placed: false, beingPlaced: true, startRefused: 'No.' }), 'fault', 'start-refused'],
  ['Pipwire begins by itself', airing(planned(true), { rules: rulesFor('pipwire', 'handle') }), 'warm', 'begins-by-itself'],
] as const)('%s', (_name, facts, lamp, code) => {
  const state = lampOf(facts, START);
  expect([state.lamp, state.reason.code]).toEqual([lamp, code]);
});

test('before its time Townfold is warm and says when it starts by itself', () => {
  const { lamp, reason } = lampOf(airing(planned(true), townfold), instant(START - MINUTE_MS));
  expect(lamp).toBe('warm');
  expect(sayLampReason(reason, 'Townfold', 'Europe/Dublin')).toBe('The picture arrives. Townfold makes it public by itself at 20:30 GMT.');
});

test('Reelmoor is told to start once a picture arrives, and not before its window', () => {
  expect(shouldStartThere(airing(planned(true)), START)).toBe(true);
  expect(shouldStartThere(airing(planned(false)), START)).toBe(false);
  expect(shouldStartThere(airing(publicThere(true)), START)).toBe(false);
  expect(shouldStartThere(airing(planned(true)), instant(START - 46 * MINUTE_MS))).toBe(false);
  expect(shouldStartThere(airing(planned(true)), instant(START - 45 * MINUTE_MS))).toBe(true);
  expect(shouldStartThere(airing(planned(true), townfold), START)).toBe(false);
});

test('the wait between tries grows, is spread, and has an end', () => {
  const plain = [1, 2, 3, 4, 5, 6, 7, 60].map((failures) => backoffMs(failures, 0.5));
  expect(plain).toEqual([500, 1000, 2000, 4000, 8000, 15000, 15000, 15000]);
  expect(backoffMs(2, 0)).toBe(800);
  expect(backoffMs(2, 0.999)).toBeLessThanOrEqual(1200);
});

test('what is held back is dark, and is not started, whatever its network says', () => {
  const ready = airing({ event: 'planned', pictureArrives: true, watching: null }, { heldBack: true });
  expect(lampOf(ready, START)).toEqual({ lamp: 'dark', reason: { code: 'held-back' } });
  expect(shouldStartThere(ready, START)).toBe(false);
  expect(shouldStartThere({ ...ready, heldBack: false }, START)).toBe(true);
});

test('another event may be made where the first has ended, is gone or was refused, and nowhere else', () => {
  const ended = (event: NetworkReport['event'], change: Partial<AiringOnAir> = {}) =>
    mayBeMadeAnew(airing({ event, pictureArrives: false, watching: null }, change));
  expect([ended('over'), ended('withdrawn'), ended('missing')]).toEqual([true, true, true]);
  expect([ended('planned'), ended('public'), mayBeMadeAnew(airing(null))]).toEqual([false, false, false]);
  // An encoder in a hall has the key of the event that ended.
  expect([ended('over', { fromOutside: true }), ended('over', { heldBack: true })]).toEqual([false, false]);
  const made = airing(null, { placed: false, beingPlaced: true });
  expect([mayBeMadeAnew(made), mayBeMadeAnew({ ...made, startRefused: 'Not now.' })]).toEqual([false, true]);
});

test('an event that is made on air is for its planned time, or as soon after it as its network takes', () => {
  const at = (network: 'reelmoor' | 'townfold' | 'guildhand' | 'pipwire', kind: 'library channel' | 'page' | 'member' | 'handle', lateMs: number) => {
    const start = startOnAir(rulesFor(network, kind), START, instant(START + lateMs));
    return start === null ? null : (start - START) / MINUTE_MS;
  };
  expect(at('reelmoor', 'library channel', -10 * MINUTE_MS)).toBe(0);
  expect(at('reelmoor', 'library channel', 20 * MINUTE_MS)).toBe(25);
  // Where it must be announced, its window opens later; where it need not be, it is for now.
  expect(at('guildhand', 'member', 20 * MINUTE_MS)).toBe(60);
  expect([at('townfold', 'page', 20 * MINUTE_MS), at('townfold', 'page', -5 * MINUTE_MS), at('pipwire', 'handle', 0)]).toEqual([null, null, null]);
});
