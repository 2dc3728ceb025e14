import type { LampReason } from '../air/lamp';
import type { Finding, FindingCode } from '../channels/finding';
import { instant } from '../time/instant';
import { sayFinding } from './findings';
import { sayEnding, sayEndingWork, sayRoom } from './air';
import { sayLampReason } from './lamps';
import { sayNetworkTrouble, sayNoAccess, sayPlaced } from './placing';
import { REFUSALS, sayRefusal, type RefusalCode, type RefusalFacts } from './refusals';

const START = Date.UTC(2026, 10, 26, 20, 30);
const FACTS: Record<FindingCode, Finding['facts']> = {
  'private-in-text': { what: 'personal link' },
  'placeholder-unknown': { name: 'moon' },
  'placeholder-empty': { name: 'guests' },
  'visibility-not-offered': { wanted: 'supporters' },
  'visibility-locked': { placed: 'everyone' },
  'children-no-messages': {},
  'title-missing': {},
  'title-too-long': { length: 132, max: 100 },
  'text-too-long': { length: 2400, max: 2000 },
  'text-shortened': { max: 270 },
  'start-past': {},
  'start-too-soon': { leadMs: 900_000 },
  'start-too-far': { aheadMs: 864_000_000, from: Date.UTC(2026, 10, 30, 20, 30) },
  'start-off-grid': { gridMs: 300_000 },
  'start-late': { leadMs: 259_200_000 },
  'start-locked': { placedAt: Date.UTC(2026, 10, 26, 20, 30) },
  'begins-on-air': { kind: 'handle' },
  'length-none': {},
  'length-too-long': { longestMs: 21_600_000 },
  'recording-cut': { recordedMs: 32_400_000 },
  'thumbnail-missing': {},
  'thumbnail-too-small': { width: 800, height: 450, minWidth: 1280, minHeight: 720 },
  'thumbnail-needed': {},
  'alternative-missing': {},
};
const REASONS: LampReason[] = [
  { code: 'not-placed' },
  { code: 'awaits-air' },
  { code: 'being-placed' },
  { code: 'outside-unconfirmed' },
  { code: 'begins-by-itself' },
  { code: 'nothing-arrives' },
  { code: 'connecting' },
  { code: 'being-started' },
  { code: 'public' },
  { code: 'sent-unconfirmed' },
  { code: 'over' },
  { code: 'ended-there' },
  { code: 'withdrawn' },
  { code: 'public-without-picture' },
  { code: 'event-missing' },
  { code: 'access-ended' },
  { code: 'waits-for-start', startsAt: START },
  { code: 'waits-for-window', opensAt: START },
  { code: 'line-fails', said: 'it hung up', nextTryMs: 4_000 },
  { code: 'line-fails', said: '', nextTryMs: null },
  { code: 'network-silent', silentMs: 12_000 },
  { code: 'start-refused', said: 'It has ended.' },
];

test.each(Object.entries(FACTS))('%s is said in whole sentences', (code, facts) => {
  const words = sayFinding({ code: code as FindingCode, severity: 'objection', subject: 'title', facts }, 'Townfold', 'Europe/Dublin');
  expect(words).toMatch(/^[A-Z].*\.$/);
  expect(words).not.toMatch(/undefined|NaN|null|\[object|-missing|-too-/);
});

test.each(REASONS)('the lamp’s reason $code is said in whole sentences', (reason) => {
  const words = sayLampReason(reason, 'Townfold', 'Europe/Dublin');
  expect(words).toMatch(/^[A-Z].*[.…]$/);
  expect(words).not.toMatch(/undefined|NaN|null|\[object/);
});

test('an objection names the limit, what there is, and the way out', () => {
  const say = (code: FindingCode, fix?: Finding['fix']) => {
    const finding: Finding = { code, severity: 'objection', subject: 'startsAt', facts: FACTS[code] };
    return sayFinding(fix ? { ...finding, fix } : finding, 'Townfold', 'Europe/Dublin');
  };
  expect(say('title-too-long')).toBe('Townfold takes titles of 100 characters; this one has 132.');
  expect(say('start-too-soon', { startsAt: instant(START) })).toBe(
    'Townfold wants at least 15 min between placing and start. The next start it takes is 20:30 GMT.',
  );
  expect(say('thumbnail-too-small')).toBe('Townfold wants a picture of at least 1280×720; this one is 800×450.');
});

/** Those that are said with facts; a new one does not compile before it stands here. */
const WITH_FACTS: { [Code in RefusalCode as RefusalFacts<Code> extends void ? never : Code]: RefusalFacts<Code> } = {
  'air: too early': { startsAt: START, zone: 'Europe/Dublin' },
  'air: somebody has it': { holder: 'Maren Tolliver' },
  'placing: objections': { objections: [{ channel: 'Sky Club (Townfold)', words: 'The show needs a title.' }] },
  'placing: objection': { words: 'The show needs a title.' },
  'attaching: stands already': { channel: 'Sky Club' },
  'attaching: event gone': { channel: 'Sky Club (Townfold)' },
};

test.each(Object.keys(REFUSALS) as RefusalCode[])('the refusal “%s” is said in whole sentences, with a status that blames nobody else', (code) => {
  const words = sayRefusal(code, (WITH_FACTS as unknown as Record<string, never>)[code]!);
  expect(words).toMatch(/^[A-Z].*\.$/);
  expect(words).not.toMatch(/undefined|NaN|\[object/);
  expect(REFUSALS[code].status).toBeGreaterThanOrEqual(400);
  expect(REFUSALS[code].status).toBeLessThan(500);
});

test('what came of asking is said in whole sentences', () => {
  const channel = 'Sky Club (Townfold)';
  const said = [
    ...(['placed', 'changed', 'withdrawn', 'ready for picture', 'begins on air', 'says the same', 'taken over'] as const).map((code) =>
      sayPlaced({ code, channel }),
    ),
    sayPlaced({ code: 'not there after all', network: 'Townfold' }),
    sayPlaced({ code: 'without picture', trouble: 'Townfold is busy.' }),
    ...(['ended', 'ended later', 'asked again', 'still runs', 'given up'] as const).map((code) => sayEnding({ code, network: 'Townfold' })),
    sayEnding({ code: 'no more picture', channel: 'Hall' }),
    ...(['ended', 'unreadable'] as const).map((state) => sayNoAccess(state, 'Sky Club')),
    ...[sayRoom({ code: 'all but full' }), sayRoom({ code: 'short', minutes: 12 }), sayRoom({ code: 'broken off' })],
  ];
  for (const words of said) expect(words).toMatch(/^[A-Z].*\.$/);
  expect(new Set(said).size).toBe(said.length);
  expect(sayEndingWork({ title: 'Dusk Report', startsAt: START, zone: 'Europe/Dublin', channel })).toBe(
    'End “Dusk Report”, Thursday 26 November, on Sky Club (Townfold)',
  );
});

test('whoever reads that a network is silent is told to try again only where nothing does so by itself', () => {
  const silent = { code: 'silent', network: 'Townfold', how: 'it took too long' } as const;
  expect(sayNetworkTrouble(silent)).toBe('Townfold gave no answer: it took too long. Try again; nothing is made twice.');
  expect(sayNetworkTrouble(silent, 'by itself')).toBe('Townfold gave no answer: it took too long. It is asked again by itself; nothing is made twice.');
});
