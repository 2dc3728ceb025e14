import { instant } from '../time/instant';
import { happened, toldWith, type LastTold, type StandsNow } from './happenings';

const NOW: StandsNow = { scene: 'holding', ran: [], graphic: null, clip: null, source: 'stage' };
const cue = (name: string, at: number) => ({ cue: name, at: instant(at) });

test('each change is told once, with its moment; a cue with that at which it began', () => {
  let last: LastTold = {};
  const tell = (change: Partial<StandsNow>, at: number) => {
    const all = happened(last, { ...NOW, ...change }, at);
    last = toldWith(last, all);
    return all.map(({ kind, what, at: when }) => [kind, what, when]);
  };
  expect(tell({}, 10)).toEqual([
    ['scene', 'holding', 10],
    ['source', 'stage', 10],
  ]);
  expect(tell({}, 20)).toEqual([]);
  const opening = { scene: 'host', ran: [cue('a', 28)], graphic: 'g' };
  expect(tell(opening, 30)).toEqual([
    ['cue', 'a', 28],
    ['scene', 'host', 30],
    ['graphic', 'g', 30],
  ]);
  // Told again, as after a line that broke, it is nothing new; the same cue once more is.
  expect(tell(opening, 31)).toEqual([]);
  expect(tell({ ...opening, ran: [cue('a', 28), cue('b', 40), cue('a', 50)], graphic: null }, 55)).toEqual([
    ['cue', 'b', 40],
    ['cue', 'a', 50],
    ['graphic', null, 55],
  ]);
});

test('a server that is started anew tells nothing twice', () => {
  const last = toldWith({}, [...happened({}, { ...NOW, scene: 'host', ran: [cue('a', 28)] }, 30)]);
  expect(happened(last, { ...NOW, scene: 'host', ran: [cue('a', 28)] }, 90)).toEqual([]);
});
