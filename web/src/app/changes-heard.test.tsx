/** @jest-environment ./jest.browser.cjs */
// Two tabs of one browser, and a stream that begins, goes silent and ends.
import { act } from '@testing-library/react';
import { useQuery } from '@tanstack/react-query';
import { Answers, show } from '../test/page';
import { useAskEvery, useStationChanges } from './changes';

class Stream extends EventTarget {
  static all: Stream[] = [];
  onmessage: ((event: MessageEvent<string>) => void) | null = null;
  onerror: (() => void) | null = null;
  readyState = 1;
  closed = false;
  constructor() {
    super();
    Stream.all.push(this);
  }
  close() {
    this.closed = true;
  }
  say(kind: 'begun' | 'here') {
    this.dispatchEvent(new Event(kind));
  }
}

/** The locks of a browser: one tab after the other. */
class Locks {
  private last: Promise<unknown> = Promise.resolve();
  request(_name: string, { signal }: { signal: AbortSignal }, work: () => Promise<void>): Promise<unknown> {
    const mine = this.last.then(() => (signal.aborted ? undefined : work()));
    this.last = mine;
    return mine;
  }
}

class Channel {
  static all: Channel[] = [];
  onmessage: ((event: { data: unknown }) => void) | null = null;
  constructor() {
    Channel.all.push(this);
  }
  postMessage(data: unknown) {
    for (const other of Channel.all) if (other !== this) other.onmessage?.({ data });
  }
  close() {
    Channel.all = Channel.all.filter((each) => each !== this);
  }
}

let asked: number;
function Tab({ name }: { name: string }) {
  useStationChanges();
  const every = useAskEvery(4_000);
  useQuery({ queryKey: ['shows'], queryFn: () => (asked++, Promise.resolve(null)) });
  return <output data-testid={name}>{every}</output>;
}

beforeEach(() => {
  jest.useFakeTimers();
  new Answers();
  asked = 0;
  Stream.all = [];
  Channel.all = [];
  Object.assign(window, { EventSource: Stream, BroadcastChannel: Channel });
  Object.defineProperty(navigator, 'locks', { value: new Locks(), configurable: true });
});
afterEach(() => jest.useRealTimers());

const after = (ms: number) => act(() => jest.advanceTimersByTimeAsync(ms));
const open = () => Stream.all.filter(({ closed }) => !closed);

test('pages ask seldom only for as long as something is heard; a stream that fell silent is asked for anew', async () => {
  const { getByTestId } = show(<Tab name="one" />);
  const every = () => Number(getByTestId('one').textContent);
  await after(0);
  expect(every()).toBe(4_000);
  await act(async () => open()[0]!.say('begun'));
  expect(every()).toBe(60_000);
  for (let said = 0; said < 3; said++) {
    await after(10_000);
    await act(async () => open()[0]!.say('here'));
  }
  expect([every(), Stream.all.length]).toEqual([60_000, 1]);
  // The connection stands and says nothing any more.
  await after(30_000);
  expect([every(), open().length, Stream.all.length]).toEqual([4_000, 1, 2]);
  await act(async () => open()[0]!.say('begun'));
  expect(every()).toBe(60_000);
});

test('what changed is asked for anew, and what was missed before the stream began as well', async () => {
  show(<Tab name="one" />);
  await after(0);
  expect(asked).toBe(1);
  await act(async () => open()[0]!.say('begun'));
  await after(0);
  expect(asked).toBe(2);
  const changes = { shows: ['a'], air: [], recordings: [], questions: [], messages: [], polls: [], channels: false, library: false, jobs: false, team: false };
  await act(async () => open()[0]!.onmessage!({ data: JSON.stringify(changes) } as MessageEvent<string>));
  await after(0);
  expect(asked).toBe(3);
  await act(async () => open()[0]!.onmessage!({ data: JSON.stringify({ ...changes, shows: [], jobs: true }) } as MessageEvent<string>));
  await after(0);
  expect(asked).toBe(3);
});

test('a stream that the server refuses has everything asked for anew at once, and one whose line is broken nothing', async () => {
  show(<Tab name="one" />);
  await after(0);
  const [stream] = open() as [Stream];
  const fails = async (readyState: number) => {
    await act(async () => {
      stream.readyState = readyState;
      stream.onerror!();
    });
    await after(0);
  };
  await fails(0);
  expect(asked).toBe(1);
  await fails(2);
  expect(asked).toBe(2);
});

test('one tab listens for all, and another takes its place when that is closed', async () => {
  const first = show(<Tab name="one" />);
  const second = show(<Tab name="two" />);
  await after(0);
  expect(open()).toHaveLength(1);
  await act(async () => open()[0]!.say('begun'));
  await after(0);
  expect(asked).toBe(4); // Both asked when they were opened, and both again.
  first.unmount();
  await after(0);
  expect([open().length, Stream.all.length]).toEqual([1, 2]);
  second.unmount();
  await after(0);
  expect(open()).toHaveLength(0);
});
