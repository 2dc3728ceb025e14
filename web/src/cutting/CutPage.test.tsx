/** @jest-environment ./jest.browser.cjs */
// Cutting on a line that is slow, beside somebody else, and after a refusal: nothing that was chosen is lost.
import type { CutsView, CutView } from '@lantern/contract';
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { Answers, show } from '../test/page';
import { CutsOf } from './CutPage';

jest.mock('./cutting.scss', () => ({}));

const cut = (change: Partial<CutView> = {}): CutView => ({
  ...{ id: 'c1', name: 'The evening', revision: 1, kept: [{ fromMs: 0, toMs: 60_000 }], levelled: false, cardMs: 0, lengthMs: 60_000 },
  ...{ state: 'idle', progress: 0, trouble: '', made: null, shown: false },
  ...change,
});
const view = (cuts: CutView[]): CutsView => ({
  ...{ showId: 's1', title: 'Dusk Report', recordingUrl: '/recording.mp4', lengthMs: 60_000, surveyTrouble: '' },
  survey: {
    strip: { url: '/strip.jpg', everyMs: 2_000, columns: 16, count: 30, width: 160, height: 90 },
    sound: { url: '/sound', everyMs: 100, count: 600 },
  },
  suggestions: [
    { kind: 'begin', fromMs: 0, toMs: 10_000, why: 'Nobody speaks yet.' },
    { kind: 'silence', fromMs: 30_000, toMs: 36_000, why: 'Nothing is heard for 6 s.' },
  ],
  ran: [{ atMs: 0, name: 'Opening' }],
  chapters: [{ atMs: 0, name: 'Opening' }],
  chaptersRevision: 0,
  cuts,
});
const LIST = 'GET /api/shows/s1/cuts';
const PUT = 'PUT /api/shows/s1/cuts/c1';

let answers: Answers;
/** As the server keeps it. */
let kept: CutsView;
beforeEach(() => {
  global.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
  answers = new Answers();
  kept = view([cut()]);
  answers.to(LIST, () => ({ body: kept }));
  answers.to('GET /api/shows/s1/captions', () => ({ body: { revision: 0, language: 'en', captions: [], troubles: [], unread: [], notes: [] } }));
  answers.to(PUT, ({ body }) => {
    const { base, ...draft } = body as CutView & { base: number };
    if (base !== kept.cuts[0]!.revision) return { status: 409, body: { words: 'Somebody else has changed “The evening” meanwhile.' } };
    kept = view([cut({ ...draft, revision: base + 1 })]);
    return { body: kept };
  });
});

const open = async () => {
  show(<CutsOf id="s1" />);
  await screen.findByRole('heading', { name: 'Kept' });
};
const press = (name: string, at = 0) => fireEvent.click(screen.getAllByRole('button', { name })[at]!);

test('as suggested leaves out what is said to be better left out, silences aside', async () => {
  kept = view([]);
  answers.to('POST /api/shows/s1/cuts', ({ body }) => {
    kept = view([cut(body as Partial<CutView>)]);
    return { body: kept };
  });
  show(<CutsOf id="s1" />);
  fireEvent.click(await screen.findByRole('button', { name: 'Begin as suggested' }));
  await screen.findByRole('heading', { name: 'Kept' });
  expect(answers.of('POST /api/shows/s1/cuts')[0]!.body).toMatchObject({ kept: [{ fromMs: 10_000, toMs: 60_000 }] });
});

test('what is chosen while the line is slow is sent after it, and nothing is lost', async () => {
  await open();
  let goOn: () => void = () => undefined;
  const slow = new Promise<void>((resolve) => (goOn = resolve));
  const usual = (body: unknown) => {
    const { base, ...draft } = body as CutView & { base: number };
    kept = view([cut({ ...draft, revision: base + 1 })]);
    return { body: kept };
  };
  answers.to(PUT, async ({ body }) => {
    await slow;
    return usual(body);
  });
  press('Leave it out');
  press('Leave it out');
  goOn();
  await waitFor(() => expect(kept.cuts[0]!.revision).toBe(3));
  expect(answers.of(PUT).map(({ body }) => (body as { base: number }).base)).toEqual([1, 2]);
  expect(kept.cuts[0]!.kept).toEqual([
    { fromMs: 10_000, toMs: 30_000 },
    { fromMs: 36_000, toMs: 60_000 },
  ]);
  // And one step back.
  press('Take the last step back');
  await waitFor(() => expect(kept.cuts[0]!.kept).toEqual([{ fromMs: 10_000, toMs: 60_000 }]));
});

test('somebody else was first: theirs is told of, and mine can still be kept', async () => {
  await open();
  kept = view([cut({ revision: 5, name: 'Theirs' })]);
  press('Leave it out');
  const notice = await screen.findByRole('alert');
  expect(notice.textContent).toContain('What you chose is still here.');
  fireEvent.click(within(notice).getByRole('button', { name: 'Keep mine over theirs' }));
  await waitFor(() => expect(kept.cuts[0]).toMatchObject({ revision: 6, kept: [{ fromMs: 10_000, toMs: 60_000 }] }));
});

test('a server that does not answer is told of, and it is kept at the next press', async () => {
  await open();
  const usual = answers;
  answers.to(PUT, null);
  press('Leave it out');
  const notice = await screen.findByRole('alert');
  usual.to(PUT, ({ body }) => {
    kept = view([cut({ ...(body as CutView), revision: 2 })]);
    return { body: kept };
  });
  fireEvent.click(within(notice).getByRole('button', { name: 'Keep it now' }));
  await waitFor(() => expect(kept.cuts[0]!.revision).toBe(2));
});

test('a begin that is typed is kept, and one that is none is left as it was typed', async () => {
  await open();
  const begin = screen.getByRole('textbox', { name: 'Begin of part 1' });
  fireEvent.change(begin, { target: { value: '0:12.5' } });
  fireEvent.blur(begin);
  await waitFor(() => expect(kept.cuts[0]!.kept).toEqual([{ fromMs: 12_500, toMs: 60_000 }]));
  const now = screen.getByRole('textbox', { name: 'Begin of part 1' });
  fireEvent.change(now, { target: { value: 'soon' } });
  fireEvent.blur(now);
  expect((now as HTMLInputElement).value).toBe('soon');
  expect(kept.cuts[0]!.kept).toEqual([{ fromMs: 12_500, toMs: 60_000 }]);
});

test('words of a caption that could not be kept stay as they were typed, and are kept at the next try', async () => {
  const captions = (text: string, revision: number) => ({
    revision,
    language: 'en',
    captions: [{ fromMs: 0, toMs: 2_000, text }],
    troubles: [],
    unread: [],
    notes: [],
  });
  answers.to('GET /api/shows/s1/captions', () => ({ body: captions('Good evning', 1) }));
  await open();
  press('Captions');
  const words = await screen.findByRole('textbox', { name: 'Words at 00:00' });
  fireEvent.change(words, { target: { value: 'Good evening' } });
  fireEvent.blur(words);
  await screen.findByRole('alert');
  expect((words as HTMLTextAreaElement).value).toBe('Good evening');
  answers.to('PUT /api/shows/s1/captions', () => ({ body: captions('Good evening', 2) }));
  fireEvent.blur(words);
  await waitFor(() =>
    expect(answers.of('PUT /api/shows/s1/captions').at(-1)!.body).toMatchObject({ base: 1, text: expect.stringContaining('Good evening') as string }),
  );
});
