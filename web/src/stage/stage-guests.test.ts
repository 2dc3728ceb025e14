/** @jest-environment ./jest.browser.cjs */
// Who stays in while lines break, servers are started anew and the stage is handed over: by what is said on the stage's line alone.
import type { GuestThere, StageMessage } from '@lantern/contract';
import { StageGuests, type StageGuest } from './stage-guests';

const there = (id: string, change: Partial<GuestThere> = {}): GuestThere => ({
  ...{ id, seat: `guest ${id}` as GuestThere['seat'], name: `Guest ${id}`, caption: '', connected: true, broughtIn: false, muted: false },
  ...{
    ownMicrophone: true,
    ownCamera: true,
    soundOnly: false,
    offersShare: false,
    seesReturn: true,
    uplinkKbps: null,
    says: '',
    saysAt: 0,
    place: 'unheard' as const,
  },
  ...change,
});

let said: StageMessage[];
let bench: readonly StageGuest[];
let guests: StageGuests;

let drawn: number | null;

beforeEach(() => {
  drawn = null;
  jest.useFakeTimers();
  said = [];
  bench = [];
  guests = new StageGuests({
    say: (message) => void said.push(message),
    seat: () => undefined,
    voice: () => undefined,
    share: () => undefined,
    returnSound: () => ({}) as MediaStreamTrack,
    returnPicture: () => ({}) as MediaStreamTrack,
    drawnHeight: () => drawn,
    changed: (all) => (bench = all),
  });
  guests.connected();
});
afterEach(() => {
  guests.close();
  jest.useRealTimers();
});

const hear = (...all: GuestThere[]) => guests.hear({ type: 'guests', guests: all });
const broughtIn = () => said.flatMap((message) => (message.type === 'guest' && message.order.does === 'bring in' ? [message.id] : []));

test('where the machine does not keep up, pictures come smaller than they are drawn, and as large again by the same press', () => {
  drawn = 600;
  hear(there('1', { broughtIn: true }));
  const sizes = () => said.flatMap((message) => (message.type === 'guest' && message.order.does === 'size' ? [message.order.height] : []));
  guests.fit();
  guests.setSmaller(true);
  guests.setSmaller(true);
  guests.setSmaller(false);
  expect(sizes()).toEqual([600, 300, 600]);
  // On the bench they are small already.
  drawn = null;
  guests.fit();
  guests.setSmaller(true);
  expect(sizes().at(-1)).toBe(180);
});

test('another server knows nobody: all who were in are in again, as they come back to it one by one', () => {
  hear(there('1', { broughtIn: true }), there('2', { broughtIn: true }), there('3'));
  guests.connected();
  hear();
  // Their pictures go on: nobody is taken off the bench meanwhile.
  expect(bench.map(({ id }) => id)).toEqual(['1', '2']);
  hear(there('2'));
  hear(there('2', { broughtIn: true }), there('3'), there('1'));
  expect(broughtIn()).toEqual(['2', '1']);
});

test('a server that remembers knows better: who left while the line was broken stays off when they come back', () => {
  hear(there('1', { broughtIn: true }));
  guests.connected();
  hear(there('1', { connected: false }));
  hear(there('1'));
  expect(broughtIn()).toEqual([]);
});

test('who comes back only long after is not brought in by itself', () => {
  hear(there('1', { broughtIn: true }));
  guests.connected();
  hear();
  jest.advanceTimersByTime(61_000);
  hear();
  expect(bench).toEqual([]);
  hear(there('1'));
  expect(broughtIn()).toEqual([]);
});

test('a stage that has handed the show over has no guests any more', () => {
  hear(there('1', { broughtIn: true }));
  hear();
  expect(bench).toEqual([]);
  hear(there('1'));
  expect(broughtIn()).toEqual([]);
});
