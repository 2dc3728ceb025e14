/** @jest-environment ./jest.browser.cjs */
// A sheet as somebody types on it, against a server that is slow, silent, of another opinion, or has heard from somebody else.
import type { SaveResult, ShowDraft, ShowView } from '@lantern/contract';
import { BLANK_SHEET, instant } from '@lantern/core';
import { act, fireEvent, screen } from '@testing-library/react';
import { useForm } from 'react-hook-form';
import { Answers, show as shown } from '../test/page';
import { KeepingLine } from './KeepingLine';
import { draftOf } from './sheet-draft';
import { useSheetKeeping } from './sheet-keeping';

const PATCH = 'PATCH /api/shows/s';
const PAUSE_MS = 600;
const start: ShowView = {
  ...BLANK_SHEET,
  ...{ id: 's', title: 'Dusk Report', startsAt: instant(Date.UTC(2027, 2, 4, 20, 30)), zone: 'UTC', lengthMs: 2_400_000, state: 'draft' },
  ...{ thumbnail: null, waiting: null, houseUrl: '', airings: [], version: 1, changedBy: 'Maren Tolliver', changedAt: 0, madeAt: 0, posted: {}, trailer: null },
  ...{ placedAt: null, shortUrl: null, onAirSince: null, endedAt: null, rehearsal: null, series: null },
};
let server: Answers;
let kept: ShowView;

beforeEach(() => {
  jest.useFakeTimers();
  localStorage.clear();
  server = new Answers();
  kept = start;
  server.to('GET /api/me', () => ({ body: { name: 'Maren Tolliver' } }));
  server.to(PATCH, ({ body }) => ({ body: keep(body as { changes: Partial<ShowDraft> }) }));
});
afterEach(() => jest.useRealTimers());

/** As the server does where nobody else typed. */
function keep({ changes }: { changes: Partial<ShowDraft> }, conflicts: SaveResult['conflicts'] = []): SaveResult {
  const { title = kept.title, room = kept.room, people = kept.people } = changes;
  kept = { ...kept, title: title.trim(), room: room.trim(), people, version: kept.version + 1 };
  return { show: kept, conflicts };
}

function Sheet({ show, editable = true }: { show: ShowView; editable?: boolean }) {
  const form = useForm<ShowDraft>({ defaultValues: draftOf(show) });
  const keeping = useSheetKeeping(form, show, editable);
  return (
    <>
      <input aria-label="Title" {...form.register('title')} />
      <input aria-label="Room" {...form.register('room')} />
      {show.people.map((_, at) => (
        <select key={at} aria-label={`Role ${at + 1}`} {...form.register(`people.${at}.role`)}>
          <option value="host">host</option>
          <option value="guest">guest</option>
        </select>
      ))}
      <p data-testid="trouble">{form.formState.errors.title?.message}</p>
      <button onClick={() => keeping.put({ date: '2027-03-05' })}>A day later</button>
      <KeepingLine show={show} keeping={keeping} editable={editable} />
    </>
  );
}

const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);
const type = (name: string, value: string) => act(async () => void fireEvent.input(field(name), { target: { value } }));
const after = (ms: number) => act(() => jest.advanceTimersByTimeAsync(ms));
const press = (name: RegExp) => act(async () => void fireEvent.click(screen.getByRole('button', { name })));
const says = () => document.querySelector('.keeping-line')!.textContent;

test('what is typed is kept after a pause: only what changed, with the version that was seen', async () => {
  shown(<Sheet show={start} />);
  await type('Title', 'Dusk');
  await after(PAUSE_MS / 2);
  await type('Title', 'Dusk Report, late');
  expect([says(), server.of(PATCH)]).toEqual([expect.stringContaining('Not kept yet'), []]);
  await after(PAUSE_MS);
  expect(server.of(PATCH).map(({ body }) => body)).toEqual([{ base: 1, changes: { title: 'Dusk Report, late' } }]);
  expect(says()).toContain('Kept');
});

test('what is put by a press, and not typed, is kept as well, also where it is the first and only change', async () => {
  shown(<Sheet show={start} />);
  await press(/^A day later$/);
  expect(says()).toContain('Not kept yet');
  await after(PAUSE_MS);
  expect(server.of(PATCH).map(({ body }) => body)).toEqual([{ base: 1, changes: { date: '2027-03-05' } }]);
});

test('what is typed on while the server is slow is neither overwritten by its answer nor left out', async () => {
  let answer: () => void = () => undefined;
  server.to(PATCH, async ({ body }) => {
    await new Promise<void>((go) => (answer = go));
    return { body: keep(body as never) };
  });
  shown(<Sheet show={start} />);
  await type('Title', 'One');
  await after(PAUSE_MS);
  expect(says()).toContain('Keeping');
  await type('Title', 'One and two');
  await act(async () => answer());
  // The server has what was sent, and not what was typed meanwhile: that is no time to say that all is kept.
  expect([field('Title').value, says()]).toEqual(['One and two', expect.stringContaining('Not kept yet')]);
  await after(PAUSE_MS);
  await act(async () => answer());
  await after(0);
  expect(server.of(PATCH).map(({ body }) => body)).toEqual([
    { base: 1, changes: { title: 'One' } },
    { base: 2, changes: { title: 'One and two' } },
  ]);
  expect(says()).toContain('Kept');
});

test('what is chosen within a list while the server is slow stays as well, and is kept', async () => {
  let answer: () => void = () => undefined;
  server.to(PATCH, async ({ body }) => {
    await new Promise<void>((go) => (answer = go));
    return { body: keep(body as never) };
  });
  kept = { ...start, people: [{ name: 'Juno Hartsel', role: 'host', zone: null }] };
  shown(<Sheet show={kept} />);
  const choose = (value: string) => act(async () => void fireEvent.change(field('Role 1'), { target: { value } }));
  await choose('guest');
  await choose('host');
  await type('Title', 'One');
  await after(PAUSE_MS);
  await choose('guest');
  await act(async () => answer());
  expect([field('Role 1').value, says()]).toEqual(['guest', expect.stringContaining('Not kept yet')]);
  await after(PAUSE_MS);
  await act(async () => answer());
  await after(0);
  expect([field('Role 1').value, kept.people[0]!.role, says()]).toEqual(['guest', 'guest', expect.stringContaining('Kept')]);
});

test('a server that cannot be reached is told, and asked again by itself until it has the words', async () => {
  server.to(PATCH, null);
  shown(<Sheet show={start} />);
  await type('Room', 'Dome');
  await after(PAUSE_MS);
  expect(screen.getByText(/tried again by itself, and this browser holds a copy/)).toBeTruthy();
  expect(localStorage.getItem('lantern-unkept-s')).toContain('Dome');
  await after(2_000);
  expect(server.of(PATCH)).toHaveLength(2);
  server.to(PATCH, ({ body }) => ({ body: keep(body as never) }));
  await after(4_000);
  expect([says(), kept.room, localStorage.getItem('lantern-unkept-s')]).toEqual([expect.stringContaining('Kept'), 'Dome', null]);
});

test('what the server refuses stands at its field and waits for whoever typed it', async () => {
  server.to(PATCH, () => ({ status: 422, body: { words: 'This title cannot be.', fields: { title: 'This title cannot be.' } } }));
  shown(<Sheet show={start} />);
  await type('Title', 'Odd');
  await after(PAUSE_MS);
  expect(screen.getByTestId('trouble').textContent).toBe('This title cannot be.');
  await after(60_000);
  expect(server.of(PATCH)).toHaveLength(1);
  expect(field('Title').value).toBe('Odd');
});

test('a field that cannot be right keeps no other from being kept', async () => {
  shown(<Sheet show={start} />);
  await type('Title', 'x'.repeat(301));
  await type('Room', 'Dome');
  await after(PAUSE_MS);
  expect(server.of(PATCH).map(({ body }) => body)).toEqual([{ base: 1, changes: { room: 'Dome' } }]);
  expect([field('Title').value.length, says()]).toEqual([301, expect.stringMatching(/^Not kept/)]);
});

test('words that could not be kept are put back when the sheet is opened again, and kept', async () => {
  server.to(PATCH, null);
  const first = shown(<Sheet show={start} />);
  await type('Room', 'Dome');
  await after(PAUSE_MS);
  first.unmount();
  await after(0);
  server.to(PATCH, ({ body }) => ({ body: keep(body as never) }));
  shown(<Sheet show={start} />);
  await after(0);
  expect(field('Room').value).toBe('Dome');
  expect([kept.room, localStorage.getItem('lantern-unkept-s')]).toEqual(['Dome', null]);
});

describe('somebody else', () => {
  const other = { ...start, version: 2, title: 'Theirs', room: 'Shed', changedBy: 'Idris Calloway' };

  test('changes fields in which nobody types here: they follow, and what is being typed stays', async () => {
    const { rerender } = shown(<Sheet show={start} />);
    await type('Title', 'Mine');
    rerender(<Sheet show={other} />);
    await after(0);
    expect([field('Title').value, field('Room').value]).toEqual(['Mine', 'Shed']);
    // An older answer that comes late takes nothing back.
    rerender(<Sheet show={start} />);
    await after(0);
    expect(field('Room').value).toBe('Shed');
  });

  async function conflict() {
    server.to(PATCH, () => {
      kept = other;
      return { body: { show: other, conflicts: [{ field: 'title', by: 'Idris Calloway' }] } satisfies SaveResult };
    });
    const page = shown(<Sheet show={start} />);
    await type('Title', 'Mine');
    await after(PAUSE_MS);
    page.rerender(<Sheet show={other} />);
    expect(screen.getByText(/Idris Calloway changed the title while you typed/).textContent).toContain('Yours was “Mine”');
    expect(field('Title').value).toBe('Theirs');
  }

  test('typed in the same field: theirs stands, mine is offered, and can be put in its place', async () => {
    await conflict();
    server.to(PATCH, ({ body }) => ({ body: keep(body as never) }));
    await press(/Put mine in its place/);
    await after(0);
    expect(server.of(PATCH).at(-1)!.body).toEqual({ base: 2, changes: { title: 'Mine' } });
    expect([field('Title').value, screen.queryByText(/changed the title while you typed/)]).toEqual(['Mine', null]);
  });

  test('typed in the same field: theirs can be left, and nothing more is sent', async () => {
    await conflict();
    await press(/Leave theirs/);
    await after(60_000);
    expect([field('Title').value, server.of(PATCH).length, screen.queryByText(/while you typed/)]).toEqual(['Theirs', 1, null]);
  });
});

test('a kept change is taken back by its button and by the keys, and the change before it after that', async () => {
  const { rerender } = shown(<Sheet show={start} />);
  for (const title of ['One', 'Two']) {
    await type('Title', title);
    await after(PAUSE_MS);
    rerender(<Sheet show={kept} />);
  }
  await press(/Undo the title/);
  await after(0);
  expect([field('Title').value, kept.title]).toEqual(['One', 'One']);
  await act(async () => void fireEvent.keyDown(document.body, { key: 'z', ctrlKey: true }));
  await after(0);
  expect([field('Title').value, kept.title]).toEqual(['Dusk Report', 'Dusk Report']);
  expect(screen.queryByRole('button', { name: /Undo/ })).toBeNull();
});

test('a sheet that can no longer be changed sends nothing, whatever was left in this browser', async () => {
  localStorage.setItem('lantern-unkept-s', JSON.stringify({ at: Date.now(), changes: { room: 'Dome' }, before: { room: '' } }));
  shown(<Sheet show={start} editable={false} />);
  await after(60_000);
  expect(server.of(PATCH)).toEqual([]);
  expect(screen.getByText('This show can no longer be changed.')).toBeTruthy();
});
