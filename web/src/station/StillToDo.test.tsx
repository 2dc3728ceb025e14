/** @jest-environment ./jest.browser.cjs */
import type { JobView } from '@lantern/contract';
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { Answers, show } from '../test/page';
import { StillToDo, StillToDoLine } from './StillToDo';

const JOBS: JobView[] = [
  { id: 'a', words: 'End “Dusk Report” on Hall', trouble: 'Hall gave no answer.', nextTryAt: Date.now() + 120_000, tries: 2 },
  { id: 'b', words: 'Put together the recording of “Dusk Report”', trouble: 'The disk is full.', nextTryAt: null, tries: 5 },
];
let server: Answers;
let jobs: JobView[];
beforeEach(() => {
  server = new Answers();
  jobs = JOBS;
  server.to('GET /api/jobs', () => ({ body: jobs }));
});

/** A press, and the least time that passes before anybody can press again. */
const press = (name: string) =>
  act(async () => {
    fireEvent.click(screen.getByRole('button', { name }));
    await new Promise((next) => setTimeout(next, 10));
  });

test('what was not done is told with its reason and with what becomes of it', async () => {
  show(<StillToDo />);
  expect((await screen.findAllByRole('listitem')).map(({ textContent }) => textContent)).toEqual([
    expect.stringMatching(/End “Dusk Report” on Hall.*Hall gave no answer\..*Tried again in 2 min\./),
    expect.stringMatching(/The disk is full\..*Given up; it waits for you\./),
  ]);
});

test('where all is done nothing is said', async () => {
  jobs = [];
  const { container } = show(<StillToDo />);
  await waitFor(() => expect(server.asked).toHaveLength(1));
  expect(container.textContent).toBe('');
});

test('a press that is being carried out takes no second one, and what it came to is asked for', async () => {
  let done: () => void = () => undefined;
  server.to('POST /api/jobs/a/now', () => new Promise((answer) => (done = () => answer({ status: 204 }))));
  show(<StillToDo />);
  await screen.findAllByRole('listitem');
  const name = 'End “Dusk Report” on Hall: try now';
  await press(name);
  await press(name);
  expect(server.of('POST /api/jobs/a/now')).toHaveLength(1);
  jobs = [JOBS[1]!];
  await act(async () => done());
  await waitFor(() => expect(screen.getAllByRole('listitem')).toHaveLength(1));
});

test('what could not be left is told', async () => {
  server.to('DELETE /api/jobs/b', () => ({ status: 409, body: { words: 'It is being done at this moment.' } }));
  show(<StillToDo />);
  await screen.findAllByRole('listitem');
  await press('Put together the recording of “Dusk Report”: leave it');
  expect(await screen.findByText('It is being done at this moment.')).toBeTruthy();
  expect(screen.getAllByRole('listitem')).toHaveLength(2);
});

test('elsewhere only what was given up is spoken of, and where it stands', async () => {
  show(<StillToDoLine />);
  expect((await screen.findByText(/One thing was given up/)).textContent).toContain('waits for you');
  expect(screen.getByRole('link').getAttribute('href')).toBe('/station');
});
