import type { GuestEndEvents } from './guest-link';
import { StageLines } from './stage-lines';

const WAYS = { servers: [], relayOnly: false };
/** Tracks, told apart by a name alone. */
const tracks = (name: string) => ({ sound: name, picture: name }) as never;

/** Ends that note what they are told, in the order in which they were made. */
function lines() {
  const ends: { events: GuestEndEvents; told: string[] }[] = [];
  const came: string[] = [];
  const made = new StageLines(
    {
      send: (to) => void came.push(`signal to ${to}`),
      returns: ({ sound }) => void came.push(`hears ${String(sound)}`),
      connected: (yes) => void came.push(yes ? 'linked' : 'not linked'),
    },
    (events) => {
      const told: string[] = [];
      ends.push({ events, told });
      const note =
        (name: string) =>
        (what?: unknown): void =>
          void told.push(name === 'send' ? `send ${JSON.stringify(what)}` : name);
      return {
        connect: note('connect'),
        disconnect: () => {
          told.push('disconnect');
          events.connected(false);
        },
        hear: note('hear'),
        send: note('send'),
        fit: note('fit'),
        facts: () => Promise.reject(new Error('not asked here')),
      };
    },
  );
  return { made, ends, came };
}

test('while the stage is handed over both are spoken with; the first is heard until the other has it, and then left', () => {
  const { made, ends, came } = lines();
  made.send({ voice: null });
  made.speakWith('first', null, WAYS);
  ends[0]!.events.returns(tracks('first'));
  ends[0]!.events.connected(true);
  made.speakWith('first', 'second', WAYS);
  expect(ends[1]!.told).toEqual(['send {"voice":null}', 'connect']);
  ends[1]!.events.returns(tracks('second'));
  ends[1]!.events.connected(true);
  expect(came).toEqual(['not linked', 'hears first', 'linked']);
  made.speakWith('second', null, WAYS);
  expect(came.slice(3)).toEqual(['hears second', 'linked']);
  expect(ends[0]!.told.at(-1)).toBe('disconnect');
  // It was linked already: nothing is made anew.
  expect(ends[1]!.told.filter((each) => each === 'connect')).toHaveLength(1);
});

test('a hand-over that comes to nothing leaves the line to the first as it is', () => {
  const { made, ends, came } = lines();
  made.speakWith('first', null, WAYS);
  ends[0]!.events.connected(true);
  made.speakWith('first', 'second', WAYS);
  made.speakWith('first', 'second', WAYS);
  expect(ends[1]!.told).toEqual(['send {}', 'connect']);
  made.speakWith('first', null, WAYS);
  expect(ends[1]!.told.at(-1)).toBe('disconnect');
  expect(ends[0]!.told).toEqual(['send {}', 'connect']);
  expect(came).toEqual(['not linked', 'linked']);
});

test('signals and sizes go to the stage that they come from, and none to one that is gone', () => {
  const { made, ends } = lines();
  made.speakWith('first', 'second', WAYS);
  made.hear('second', { line: 1, candidate: null });
  made.fit('first', 360);
  made.hear('third', { line: 1, candidate: null });
  expect(ends.map(({ told }) => told.slice(2))).toEqual([['fit'], ['hear']]);
});

test('the stage is gone: nobody is linked, and a line that was lost is made anew with it', () => {
  const { made, ends, came } = lines();
  made.speakWith('first', null, WAYS);
  ends[0]!.events.connected(true);
  ends[0]!.events.connected(false);
  made.speakWith('first', null, WAYS);
  expect(ends[0]!.told.filter((each) => each === 'connect')).toHaveLength(2);
  made.speakWith(null, null, WAYS);
  expect(came.at(-1)).toBe('not linked');
  expect(ends).toHaveLength(1);
});
