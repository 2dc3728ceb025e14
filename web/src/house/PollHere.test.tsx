/** @jest-environment ./jest.browser.cjs */
// A poll as a visitor answers it: what is seen before and after, and answers that come late.
import type { HousePoll, HousePollMine } from '@lantern/contract';
import { act, fireEvent, screen } from '@testing-library/react';
import { Answers, show as shown } from '../test/page';
import type { HearsSaid } from './house-state';
import { PollHere } from './PollHere';

const POLL: HousePoll = { id: 'p', question: 'What first?', options: ['The comet', 'Saturn'], state: 'open', counts: [3, 1], at: 10 };
let server: Answers;
let hearing: Set<HearsSaid>;
const hears = (poll: HousePoll | null) => act(async () => hearing.forEach(({ onPoll }) => onPoll?.(poll)));
const settles = () => act(() => new Promise((next) => setTimeout(next, 20)));
const press = (name: RegExp) => act(async () => void fireEvent.click(screen.getByRole('button', { name })));
const buttons = () => screen.getAllByRole('button').map(({ textContent }) => textContent);

beforeEach(async () => {
  hearing = new Set();
  server = new Answers();
  server.to('POST /api/house/dusk/poll', () => ({ body: { poll: null, mine: null } satisfies HousePollMine }));
  shown(<PollHere slug="dusk" hearing={hearing} />);
  await settles();
});

test('it comes by itself; how it stands is seen only once one has answered, and follows', async () => {
  expect(screen.queryByRole('heading')).toBeNull();
  await hears(POLL);
  expect(buttons()).toEqual(['The comet', 'Saturn']);
  server.to('POST /api/house/dusk/poll/vote', () => ({ body: { poll: { ...POLL, counts: [3, 2], at: 20 }, mine: 1 } satisfies HousePollMine }));
  await press(/Saturn/);
  await settles();
  expect(buttons()).toEqual(['The comet60 %', '✓ Saturn40 %']);
  expect(screen.getByRole('button', { name: /Saturn/ }).getAttribute('aria-pressed')).toBe('true');
  // What was on its way before is older than what is seen.
  await hears({ ...POLL, at: 15 });
  expect(screen.getByRole('status').textContent).toContain('5 votes so far');
  await hears({ ...POLL, counts: [3, 5], state: 'closed', at: 30 });
  expect([buttons(), screen.getByRole('status').textContent]).toEqual([['The comet38 %', '✓ Saturn62 %'], 'Closed, 8 votes.']);
});

test('one that did not arrive is said so, and can be pressed again', async () => {
  await hears(POLL);
  await press(/The comet/);
  await settles();
  expect(screen.getByRole('alert').textContent).toMatch(/\w/);
  expect([buttons(), screen.getByRole('button', { name: 'The comet' }).hasAttribute('disabled')]).toEqual([['The comet', 'Saturn'], false]);
});

test('another poll is another question: what was answered before is no answer to it', async () => {
  await hears(POLL);
  server.to('POST /api/house/dusk/poll/vote', () => ({ body: { poll: { ...POLL, counts: [4, 1], at: 20 }, mine: 0 } satisfies HousePollMine }));
  await press(/The comet/);
  await settles();
  await hears({ ...POLL, id: 'q', question: 'And then?', options: ['Tea', 'Bed'], counts: [0, 0], at: 30 });
  expect(buttons()).toEqual(['Tea', 'Bed']);
});
