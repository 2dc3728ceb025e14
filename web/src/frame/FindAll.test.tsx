/** @jest-environment ./jest.browser.cjs */
// Finding by words, by keys alone.
import type { ChannelView, ContactView, ShowSummary } from '@lantern/contract';
import { act, fireEvent, screen } from '@testing-library/react';
import { Answers, show as shown } from '../test/page';
import { FindAll } from './FindAll';

let server: Answers;
const NOW = Date.now();
const show = (title: string, startsAt: number, people: string[] = []) =>
  ({
    id: title,
    title,
    startsAt,
    lengthMs: 3_600_000,
    zone: 'UTC',
    people: people.map((name) => ({ name, role: 'guest', zone: null })),
  }) as unknown as ShowSummary;
beforeEach(() => {
  server = new Answers();
  server.to('GET /api/channels', () => ({ body: [{ id: 'c', name: 'Alderfell Sky Club', kind: 'page', network: 'townfold' }] as ChannelView[] }));
  server.to('GET /api/contacts', () => ({
    body: [{ id: 'p', name: 'Tomasz Wren', email: 'tomasz@people.example', groups: [], caption: '', zone: null }] as ContactView[],
  }));
});
const type = async (words: string) => {
  await act(async () => void fireEvent.change(screen.getByLabelText('What to find'), { target: { value: words } }));
  await act(async () => undefined);
};
const links = () => screen.queryAllByRole('link').map((link) => [link.textContent, link.getAttribute('href')]);

test('shows, channels and people as one types, what comes next first, each with where it leads', async () => {
  const past = show('Dusk Report, last week', NOW - 7 * 86_400_000);
  server.to('GET /api/shows?words=wren', () => ({ body: [past, show('Later', NOW + 9e8), show('Next', NOW + 1e6, ['Tomasz Wren'])] }));
  shown(<FindAll onClose={() => undefined} />);
  expect(links()).toEqual([]);
  await type('wren');
  await screen.findByText('Next');
  expect(links().map(([, to]) => to)).toEqual(['/shows/Next', '/shows/Later', '/shows/Dusk Report, last week', '/contacts?find=Tomasz%20Wren']);
  expect(links()[0]![0]).toContain('with Tomasz Wren');
});

test('a channel is found by its network too; arrows lead through what was found and back; what is not found is said', async () => {
  server.to('GET /api/shows?words=townfold', () => ({ body: [] }));
  server.to('GET /api/shows?words=nobody', () => ({ body: [] }));
  const closed = jest.fn();
  shown(<FindAll onClose={closed} />);
  await type('townfold');
  expect(links()).toEqual([['Alderfell Sky Club page on Townfold', '/channels/c']]);
  fireEvent.keyDown(screen.getByLabelText('What to find'), { key: 'ArrowDown' });
  expect(document.activeElement).toBe(screen.getByRole('link'));
  fireEvent.keyDown(screen.getByRole('link'), { key: 'ArrowUp' });
  expect(document.activeElement).toBe(screen.getByLabelText('What to find'));
  await act(async () => void fireEvent.keyDown(screen.getByLabelText('What to find'), { key: 'Enter' }));
  expect(closed).toHaveBeenCalled();
  await type('nobody');
  expect((await screen.findByText(/Nothing is called “nobody”/)).textContent).toBeTruthy();
});

test('a server that does not answer is said, and never that nothing was found', async () => {
  server.to('GET /api/shows?words=dusk', () => ({ body: [] }));
  shown(<FindAll onClose={() => undefined} />);
  await type('moon'); // not answered
  expect((await screen.findByRole('alert')).textContent).toContain('The server');
  expect(screen.queryByText(/Nothing is called/)).toBeNull();
  await type('dusk');
  expect(await screen.findByText(/Nothing is called “dusk”/)).toBeTruthy();
});
