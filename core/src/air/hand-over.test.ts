import { ANSWER_WITHIN_MS, handOverAfter, PICTURE_WITHIN_MS, type HandOver, type HandOverEvent } from './hand-over';

const MAREN = { person: { id: 'maren', name: 'Maren Tolliver' }, tab: 'tab-maren' };
const BEA = { person: { id: 'bea', name: 'Bea Lorne' }, tab: 'tab-bea' };
const IDRIS = { person: { id: 'idris', name: 'Idris Vance' }, tab: 'tab-idris' };

/** Events a second apart, and what stands after the last. */
function after(...events: HandOverEvent[]) {
  let handOver: HandOver | null = null;
  let step = handOverAfter(null, { type: 'time' }, 0);
  events.forEach((event, at) => {
    step = handOverAfter(handOver, event, at * 1_000);
    handOver = step.handOver;
  });
  return step;
}

const asked: HandOverEvent = { type: 'asked', from: MAREN, to: BEA };
const offered: HandOverEvent = { type: 'offered', from: MAREN, to: BEA };
const agreed = ({ tab }: { tab: string }): HandOverEvent => ({ type: 'agreed', tab });
const declined = ({ tab }: { tab: string }): HandOverEvent => ({ type: 'declined', tab });

test.each<[string, HandOverEvent[], HandOver['state']]>([
  ['asked for, it waits for whoever has the stage', [asked], 'asked'],
  ['offered, it waits for whoever is to have it', [offered], 'offered'],
  ['asked and agreed by the holder', [asked, agreed(MAREN)], 'coming'],
  ['offered and agreed by the taker', [offered, agreed(BEA)], 'coming'],
  ['asked and offered at the same moment: both have said it', [asked, offered], 'coming'],
  ['a second press of asking changes nothing', [asked, asked], 'asked'],
  ['nor one of agreeing', [asked, agreed(MAREN), agreed(MAREN)], 'coming'],
  ['the holder’s page is loaded anew meanwhile', [asked, { type: 'gone', tab: MAREN.tab }], 'asked'],
])('%s', (_, events, state) => {
  expect(after(...events)).toMatchObject({ handOver: { state, from: MAREN, to: BEA }, ended: null, understood: true });
});

test.each<[string, HandOverEvent[]]>([
  ['whoever asks does not answer for the other', [asked, agreed(BEA)]],
  ['whoever offers neither', [offered, agreed(MAREN)]],
  ['nor does anybody else', [asked, agreed(IDRIS)]],
  ['or refuse', [asked, declined(IDRIS)]],
  ['a second person asks while it is asked for', [asked, { type: 'asked', from: MAREN, to: IDRIS }]],
  ['nobody hands over to the own tab', [{ type: 'offered', from: MAREN, to: MAREN }]],
  ['there is nothing to agree to', [agreed(MAREN)]],
])('%s: not understood, and nothing changes', (_, events) => {
  const before = after(...events.slice(0, -1)).handOver;
  expect(after(...events)).toEqual({ handOver: before, ended: null, understood: false });
});

test.each<[string, HandOverEvent[], string]>([
  ['the one who asked thinks better of it', [asked, declined(BEA)], 'left'],
  ['the one who is asked keeps it', [asked, declined(MAREN)], 'kept'],
  ['the one who is offered does not want it', [offered, declined(BEA)], 'left'],
  ['the one who offers takes it back, even when it was agreed', [offered, agreed(BEA), declined(MAREN)], 'kept'],
  ['the taker is gone', [asked, agreed(MAREN), { type: 'gone', tab: BEA.tab }], 'gone'],
  ['their picture breaks', [asked, agreed(MAREN), { type: 'broke' }], 'no picture'],
  ['somebody takes the stage without asking', [asked, { type: 'taken' }], 'taken'],
])('%s', (_, events, ended) => {
  expect(after(...events)).toEqual({ handOver: null, ended, understood: true });
});

test('nobody answers, or no picture comes: it ends by itself, and not a moment before', () => {
  const { handOver } = after(asked);
  expect(handOverAfter(handOver, { type: 'time' }, ANSWER_WITHIN_MS - 1).ended).toBeNull();
  expect(handOverAfter(handOver, { type: 'time' }, ANSWER_WITHIN_MS).ended).toBe('unanswered');
  const coming = handOverAfter(handOver, agreed(MAREN), 50_000).handOver;
  expect(handOverAfter(coming, { type: 'time' }, 50_000 + PICTURE_WITHIN_MS - 1).ended).toBeNull();
  expect(handOverAfter(coming, { type: 'time' }, 50_000 + PICTURE_WITHIN_MS).ended).toBe('no picture');
});
