/** @jest-environment ./jest.browser.cjs */
// The mailbag as somebody works in it, with networks that take their time and messages that come meanwhile.
import type { AirView, MessagesView, MessageView, ShowView } from '@lantern/contract';
import { BLANK_SHEET, instant } from '@lantern/core';
import { act, fireEvent, screen, within } from '@testing-library/react';
import { Answers, show as shown } from '../test/page';
import { Mailbag } from './Mailbag';

jest.mock('./mailbag.scss', () => ({}));

const SHOW = {
  ...BLANK_SHEET,
  ...{ id: 's', title: 'Dusk Report', startsAt: instant(Date.UTC(2027, 2, 4, 20, 30)), zone: 'UTC', state: 'onAir', rehearsal: null },
  airings: [{ id: 'a-town', channel: { id: 'town' } }],
  cues: [
    { id: 'open', name: 'Opening' },
    { id: 'moon', name: 'The moon' },
  ],
  shortUrl: 'http://localhost:4700/s/dusk',
} as unknown as ShowView;
const message = (place: number, change: Partial<MessageView> = {}): MessageView => ({
  ...{ id: `m${place}`, place, channelId: 'town', writer: `Viewer ${place}`, standing: 'follower', words: `Said ${place}`, answers: null },
  ...{ writtenAt: Date.UTC(2027, 2, 4, 20, 31), state: 'shown', answeredAt: null, gathered: false, held: null, askedToo: 0, behindMs: null, silence: null },
  ...change,
});
let server: Answers;
let all: MessageView[];

beforeEach(() => {
  jest.useFakeTimers();
  // What a browser measures, and this one does not.
  globalThis.ResizeObserver = class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
  jest.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(336);
  jest.spyOn(HTMLElement.prototype, 'offsetHeight', 'get').mockReturnValue(56);
  HTMLElement.prototype.scrollTo = () => undefined;
  all = [message(1), message(2), message(3, { channelId: 'guild' })];
  server = new Answers();
  for (const since of [0, 3, 43]) server.to(`GET /api/shows/s/messages?since=${since}`, () => ({ body: view(since) }));
});
afterEach(() => {
  jest.useRealTimers();
  jest.restoreAllMocks();
});

const view = (since: number): MessagesView => ({
  rules: { words: [], links: false },
  prepared: ['We come to that after ten.'],
  sources: [
    {
      channelId: 'town',
      name: 'Sky Club (Townfold)',
      network: 'townfold',
      trouble: '',
      talk: null,
      writers: 'everyone',
      offers: [
        { name: 'messages', now: 'everyone', from: ['everyone', 'followers'] },
        { name: 'messagesEveryS', now: 0, from: [0, 10] },
      ],
    },
    { channelId: 'guild', name: 'Sky Club (Guildhand)', network: 'guildhand', trouble: '', talk: null, writers: 'members', offers: [] },
    {
      ...{ channelId: 'house page', name: 'House page', network: 'house page', trouble: '', writers: null, offers: [] },
      talk: { open: true, lookedAt: 'first', everyS: 5 },
    },
  ],
  messages: all.slice(since),
  revision: all.length,
  more: false,
});
const after = (ms: number) => act(() => jest.advanceTimersByTimeAsync(ms));
const line = (words: string) => screen.getAllByRole('article').find(({ textContent }) => textContent!.includes(words))!;
const choose = (words: string) => act(async () => void fireEvent.click(line(words)));
const pressIn = (words: string, name: RegExp) => act(async () => void fireEvent.click(within(line(words)).getByRole('button', { name })));
async function opened(air: AirView | null = null): Promise<void> {
  shown(<Mailbag show={SHOW} air={air} />);
  await after(100);
}

test('what is typed in answer stays while others write, and where the network would not take it', async () => {
  let takes = false;
  server.to('POST /api/shows/s/messages/m2/answer', () => (takes ? { status: 204 } : { status: 502, body: { words: 'Townfold does not answer.' } }));
  await opened();
  await choose('Said 2');
  await pressIn('Said 2', /^Answer/);
  const field = () => screen.getByLabelText<HTMLInputElement>('Answer to Viewer 2, as Sky Club (Townfold)');
  await act(async () => void fireEvent.change(field(), { target: { value: 'The smudge' } }));
  all = [...all, ...Array.from({ length: 40 }, (_, at) => message(10 + at))];
  await after(3_500);
  expect(field().value).toBe('The smudge');
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Send' })));
  await after(100);
  expect([field().value, screen.getByText(/Viewer 2: Townfold does not answer/)]).toEqual(['The smudge', expect.anything()]);
  takes = true;
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Send' })));
  await after(100);
  expect(screen.queryByLabelText(/^Answer to/)).toBeNull();
  // Tried again, it is the same answer: it cannot stand there twice.
  const keys = server.of('POST /api/shows/s/messages/m2/answer').map(({ body }) => (body as { key: string }).key);
  expect([keys.length, new Set(keys).size]).toEqual([2, 1]);
  expect(screen.queryByText(/does not answer/)).toBeNull();
});

test('a prepared answer goes behind what is typed, and is sent as it is then', async () => {
  server.to('POST /api/shows/s/messages/m2/answer', () => ({ status: 204 }));
  await opened();
  await choose('Said 2');
  await pressIn('Said 2', /^Answer/);
  const field = screen.getByLabelText<HTMLInputElement>('Answer to Viewer 2, as Sky Club (Townfold)');
  await act(async () => void fireEvent.change(field, { target: { value: 'Good evening.' } }));
  await act(async () => void fireEvent.change(screen.getByLabelText('A prepared answer'), { target: { value: 'We come to that after ten.' } }));
  expect(field.value).toBe('Good evening. We come to that after ten.');
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Send' })));
  await after(100);
  expect(server.of('POST /api/shows/s/messages/m2/answer').map(({ body }) => (body as { words: string }).words)).toEqual([
    'Good evening. We come to that after ten.',
  ]);
});

test('a first message of the house page is shown by H, and whoever wrote it silenced by S once it is said for how long', async () => {
  all = [message(1, { channelId: 'house page', standing: 'newcomer', state: 'hidden', held: 'looked at first', silence: 'no', askedToo: 2 })];
  server.to('GET /api/shows/s/messages?since=1', () => ({ body: view(1) }));
  server.to('PUT /api/shows/s/messages/m1/hidden', () => ({ status: 204 }));
  server.to('PUT /api/shows/s/messages/m1/silence', () => ({ status: 204 }));
  await opened();
  await choose('Said 1');
  expect(line('Said 1').textContent).toMatch(/first message here.*Nobody sees it before you have looked at it. 2 others ask this too./);
  await act(async () => void fireEvent.keyDown(line('Said 1'), { key: 'h' }));
  await after(100);
  expect(server.of('PUT /api/shows/s/messages/m1/hidden').map(({ body }) => body)).toEqual([{ hidden: false }]);
  await act(async () => void fireEvent.keyDown(line('Said 1'), { key: 's' }));
  expect(server.of('PUT /api/shows/s/messages/m1/silence')).toEqual([]);
  await pressIn('Said 1', /^For ten minutes/);
  await after(100);
  expect(server.of('PUT /api/shows/s/messages/m1/silence').map(({ body }) => body)).toEqual([{ silence: 'ten minutes' }]);
});

test('a network that takes its time holds up its own message, and no other', async () => {
  server.to('PUT /api/shows/s/messages/m1/hidden', () => new Promise(() => undefined));
  server.to('PUT /api/shows/s/messages/m2/hidden', () => ({ status: 204 }));
  await opened();
  await choose('Said 1');
  await pressIn('Said 1', /^Hide/);
  expect(within(line('Said 1')).getByRole<HTMLButtonElement>('button', { name: /^Hide/ }).disabled).toBe(true);
  await choose('Said 2');
  await pressIn('Said 2', /^Hide/);
  await after(100);
  expect(server.of('PUT /api/shows/s/messages/m2/hidden').map(({ body }) => body)).toEqual([{ hidden: true }]);
});

test('what would be gone for good is asked about first, also by key', async () => {
  server.to('PUT /api/shows/s/messages/m3/hidden', () => ({ status: 204 }));
  await opened();
  await choose('Said 3');
  await act(async () => void fireEvent.keyDown(line('Said 3'), { key: 'h' }));
  expect(server.of('PUT /api/shows/s/messages/m3/hidden')).toEqual([]);
  await pressIn('Said 3', /^Take it away for good/);
  await after(100);
  expect(server.of('PUT /api/shows/s/messages/m3/hidden')).toHaveLength(1);
});

test('an answer can invite onto the page, never by a pass', async () => {
  await opened();
  await choose('Said 1');
  await pressIn('Said 1', /^Answer/);
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Invite them in' })));
  expect(screen.getByLabelText<HTMLInputElement>(/^Answer to Viewer 1/).value).toContain('http://localhost:4700/s/dusk');
});

test('a message stands beside what its writer was seeing, by how late the channel is', async () => {
  const begun = Date.UTC(2027, 2, 4, 20, 30);
  const ran = [
    { cue: 'open', at: begun },
    { cue: 'moon', at: begun + 50_000 },
  ];
  all = [message(1), message(2, { writtenAt: begun + 65_000 }), message(3, { channelId: 'guild' })];
  // Twelve seconds late: what was written 60 s after the opening was written of the opening.
  await opened({ ran, airings: [{ airingId: 'a-town', behind: { ms: 12_000, at: begun } }] } as unknown as AirView);
  expect(line('Said 1').textContent).toContain('seeing “Opening”');
  // That is on still.
  expect(line('Said 2').textContent).not.toContain('seeing');
  // Nobody knows how late that channel is.
  expect(line('Said 3').textContent).not.toContain('seeing');
  // Whoever answers by word of mouth is heard so much later.
  await choose('Said 2');
  expect(line('Said 2').textContent).toContain('hears you 12 s late');
});

test('of the house page, each writer’s own page has said how late it was', async () => {
  const begun = Date.UTC(2027, 2, 4, 20, 30);
  const ran = [
    { cue: 'open', at: begun },
    { cue: 'moon', at: begun + 50_000 },
  ];
  const here = { channelId: 'house page', writtenAt: begun + 53_000 };
  all = [message(1, { ...here, behindMs: 4_000 }), message(2, { ...here, behindMs: 2_000 }), message(3, here)];
  await opened({ ran, airings: [] } as unknown as AirView);
  expect(line('Said 1').textContent).toContain('seeing “Opening”');
  expect(line('Said 2').textContent).not.toContain('seeing');
  expect(line('Said 3').textContent).not.toContain('seeing');
  await choose('Said 1');
  expect(line('Said 1').textContent).toContain('hears you 4 s late');
});
