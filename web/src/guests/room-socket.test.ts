/** @jest-environment ./jest.browser.cjs */
// The guest's line: it comes back by itself where it breaks or falls silent, and ends where the pass does.
import { PASS_ENDED, PLACE_TAKEN, type ToGuest } from '@lantern/contract';
import { RoomSocket, type RoomListener } from './room-socket';

class Line {
  static all: Line[] = [];
  static readonly CONNECTING = 0;
  static readonly OPEN = 1;
  readyState = 0;
  sent: string[] = [];
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string | ArrayBuffer }) => void) | null = null;
  onclose: ((event: { code: number }) => void) | null = null;

  constructor(readonly url: string) {
    Line.all.push(this);
  }
  open(): this {
    this.readyState = 1;
    this.onopen?.();
    return this;
  }
  says(message: ToGuest): void {
    this.onmessage?.({ data: JSON.stringify(message) });
  }
  ends(code: number): void {
    this.readyState = 3;
    this.onclose?.({ code });
  }
  send(text: string): void {
    this.sent.push(text);
  }
  close(): void {
    this.readyState = 3;
  }
}

const ROOM: ToGuest = {
  type: 'room',
  room: { name: 'Juno', caption: '', place: 'on air', muted: false, others: [], host: 'Maren', onAir: true, rehearsal: false, now: 0 },
};
let told: unknown[] = [];
const listener: RoomListener = {
  hear: () => undefined,
  picture: (isKey, bytes) => void told.push([isKey, ...bytes]),
  connected: (yes) => void told.push(yes),
  ended: (why) => void told.push(why),
};
let socket: RoomSocket;

beforeEach(() => {
  jest.useFakeTimers();
  Line.all = [];
  told = [];
  Object.assign(globalThis, { WebSocket: Line });
  const hello = { type: 'hello' as const, pass: 'a pass', page: 'page', takeOver: false, soundOnly: false, seesReturn: true };
  socket = new RoomSocket({ showId: 'show', air: { port: 4701, url: null } }, () => hello, listener);
});
afterEach(() => {
  socket.close();
  jest.useRealTimers();
});

test('the pass is said on the line and never in its address; a line that breaks comes back', () => {
  const first = Line.all[0]!.open();
  expect(first.url).not.toContain('pass');
  expect(JSON.parse(first.sent[0]!)).toMatchObject({ pass: 'a pass' });
  // That somebody answers says nothing of how one stands.
  first.says({ type: 'refused', words: 'The server is being started anew.' });
  expect(told).toEqual([]);
  first.says(ROOM);
  first.ends(1006);
  jest.advanceTimersByTime(400);
  Line.all[1]!.open().says(ROOM);
  expect(told).toEqual([true, false, true]);
});

test('a line on which nothing is said any more is a broken one', () => {
  Line.all[0]!.open().says(ROOM);
  jest.advanceTimersByTime(4_000);
  expect(told).toEqual([true]);
  jest.advanceTimersByTime(4_000);
  expect(told).toEqual([true, false]);
  expect(Line.all.length).toBe(2);
});

test.each([
  [PASS_ENDED, 'pass'],
  [PLACE_TAKEN, 'taken'],
])('code %d is the end of it: nothing is tried again', (code, why) => {
  Line.all[0]!.open().ends(code);
  jest.advanceTimersByTime(60_000);
  expect(told).toEqual([false, why]);
  expect(Line.all.length).toBe(1);
});

test('pictures are told by their first number from what stands alone and what does not', () => {
  const line = Line.all[0]!.open();
  line.onmessage?.({ data: new Uint8Array([0, 0, 0, 1, 7, 8]).buffer });
  line.onmessage?.({ data: new Uint8Array([0, 0, 0, 0, 9]).buffer });
  expect(told).toEqual([
    [true, 7, 8],
    [false, 9],
  ]);
});
