/** @jest-environment ./jest.browser.cjs */
// The guide of a first show: it follows the draft, is there for nobody else, and can be left.
import type { ShowDraft, ShowView } from '@lantern/contract';
import { BLANK_SHEET, instant } from '@lantern/core';
import { act, cleanup, fireEvent, screen } from '@testing-library/react';
import { Answers, show as shown } from '../test/page';
import { FirstShowGuide } from './FirstShowGuide';

const NOW = instant(Date.UTC(2026, 10, 26));
const draft: ShowDraft = { ...BLANK_SHEET, date: '2026-12-17', time: '20:30', zone: 'UTC', title: 'Dusk Report' };
const show = { id: 's', state: 'draft', thumbnail: null, placedAt: null, airings: [] } as unknown as ShowView;
let server: Answers;
beforeEach(() => {
  localStorage.clear();
  server = new Answers();
  server.to('GET /api/shows', () => ({ body: [{ id: 's', placedAt: null }] }));
});
async function guide(change: Partial<ShowDraft> = {}, state: Partial<ShowView> = {}) {
  cleanup();
  shown(<FirstShowGuide show={{ ...show, ...state }} draft={{ ...draft, ...change }} startsAt={instant(NOW + 1e9)} now={NOW} />);
  await act(() => new Promise((answered) => setTimeout(answered, 20)));
  return screen.queryByRole('complementary')?.textContent ?? null;
}

test('each step is told once the one before is done, from the draft itself', async () => {
  expect(await guide()).toContain('step 1 of 6');
  const text = { description: 'What to look for.' };
  expect(await guide(text)).toContain('step 2 of 6');
  const where = { ...text, channelIds: ['c'] };
  expect(await guide(where)).toContain('step 4 of 6. Give it a picture');
  expect(await guide(where, { thumbnail: { url: '' } as never })).toContain('step 5 of 6. Place it');
  expect(await guide(where, { thumbnail: { url: '' } as never, state: 'placed', placedAt: 1 })).toContain('step 6 of 6. Share its links');
});

test('whoever has placed another show, or has left it, is not guided', async () => {
  expect(await guide()).not.toBeNull();
  fireEvent.click(screen.getByRole('button', { name: 'Leave the guide' }));
  expect(screen.queryByRole('complementary')).toBeNull();
  expect(await guide()).toBeNull();
  localStorage.clear();
  server.to('GET /api/shows', () => ({
    body: [
      { id: 's', placedAt: null },
      { id: 'other', placedAt: 5 },
    ],
  }));
  expect(await guide()).toBeNull();
});
