/** @jest-environment ./jest.browser.cjs */
// Writing down on a line that is slow or gone: no line is lost, none is there twice, and their order stays.
import type { NoteDraft, NotesView } from '@lantern/contract';
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { Answers, show } from '../test/page';
import { NotesOf } from './LiveNotesPage';

jest.mock('./notes.scss', () => ({}));

const LIST = 'GET /api/shows/s1/notes';
const POST = 'POST /api/shows/s1/notes';
let answers: Answers;
let kept: NotesView['notes'];
const view = (): NotesView => ({ showId: 's1', title: 'Dusk Report', open: true, count: kept.length, notes: kept });
const take = (asked: { body: unknown }) => {
  const { id, words } = asked.body as NoteDraft;
  if (!kept.some((note) => note.id === id)) kept = [...kept, { id, words, at: 1_000_000, by: 'Bea' }];
  return { body: view() };
};
const type = (words: string) => {
  const field = screen.getByLabelText('What is said');
  fireEvent.change(field, { target: { value: words } });
  fireEvent.submit(field);
};
const lines = () => screen.getAllByRole('listitem').map(({ textContent }) => textContent);

beforeEach(async () => {
  // As in browsers that promise to have scrolled.
  Element.prototype.scrollIntoView = () => Promise.resolve() as unknown as undefined;
  answers = new Answers();
  kept = [];
  answers.to(LIST, () => ({ body: view() }));
  answers.to(POST, take);
  show(<NotesOf id="s1" />);
  await screen.findByRole('heading', { name: 'Dusk Report' });
});
afterEach(() => jest.useRealTimers());

test('lines typed while the first is still on its way follow it in their order, each once', async () => {
  let answer = () => {};
  answers.to(POST, async (asked) => {
    await new Promise<void>((done) => (answer = done));
    return take(asked);
  });
  type('Good evening');
  type('from the dome');
  expect(lines()[0]).toContain('not kept yet');
  expect(answers.of(POST)).toHaveLength(1);
  answers.to(POST, take);
  await act(async () => answer());
  await waitFor(() => expect(kept.map(({ words }) => words)).toEqual(['Good evening', 'from the dome']));
  await waitFor(() => expect(screen.queryByText('not kept yet')).toBeNull());
});

test('a line that no answer came for is sent again until it is kept', async () => {
  jest.useFakeTimers();
  answers.to(POST, null);
  type('The comet');
  await act(() => jest.advanceTimersByTimeAsync(100));
  expect(lines()[0]).toContain('not kept yet');
  const leave = new Event('beforeunload', { cancelable: true });
  window.dispatchEvent(leave);
  expect(leave.defaultPrevented).toBe(true);
  answers.to(POST, take);
  await act(() => jest.advanceTimersByTimeAsync(3_500));
  expect(kept.map(({ words }) => words)).toEqual(['The comet']);
  const [one, other] = answers.of(POST).map(({ body }) => (body as NoteDraft).id);
  expect(one).toBe(other);
});

test('a line that is refused is shown with the reason, and those after it go on', async () => {
  answers.to(POST, (asked) => ((asked.body as NoteDraft).words === 'Late' ? { status: 409, body: { words: 'This show is not on air.' } } : take(asked)));
  type('Late');
  type('Later');
  await waitFor(() => expect(kept.map(({ words }) => words)).toEqual(['Later']));
  expect(screen.getByText('“Late” was not kept. This show is not on air.')).toBeTruthy();
});

test('a clock that is set back while a line is written takes nothing of it', async () => {
  const field = screen.getByLabelText('What is said');
  const now = jest.spyOn(Date, 'now');
  now.mockReturnValue(2_000_000);
  fireEvent.change(field, { target: { value: 'The comet' } });
  now.mockReturnValue(1_000_000);
  fireEvent.submit(field);
  now.mockRestore();
  await waitFor(() => expect(kept).toHaveLength(1));
  expect((answers.of(POST)[0]!.body as NoteDraft).begunMsAgo).toBeGreaterThanOrEqual(0);
});
