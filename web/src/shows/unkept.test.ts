import type { ShowDraft } from '@lantern/contract';
import { noteUnkept, sortedOut, unkeptOf } from './unkept';

const sheet = (change: Partial<ShowDraft> = {}) =>
  ({ title: 'Dusk Report', room: '', date: '2027-03-04', time: '20:30', zone: 'UTC', fold: null, variants: [], ...change }) as unknown as ShowDraft;

/** As browsers have it: texts by name, and a limit. */
function storage(limit = Infinity): Storage {
  const kept = new Map<string, string>();
  return {
    getItem: (name: string) => kept.get(name) ?? null,
    setItem: (name: string, text: string) => {
      if (text.length > limit) throw new DOMException('full', 'QuotaExceededError');
      kept.set(name, text);
    },
    removeItem: (name: string) => void kept.delete(name),
  } as unknown as Storage;
}

test('words wait in the browser until they are kept, each show’s for itself, and not for ever', () => {
  const own = storage();
  noteUnkept('a', { title: 'Typed on a train' }, sheet(), 1_000, own);
  noteUnkept('b', { room: 'Dome' }, sheet(), 1_000, own);
  expect(unkeptOf('a', 2_000, own)).toEqual({ at: 1_000, changes: { title: 'Typed on a train' }, before: { title: 'Dusk Report' } });
  noteUnkept('a', {}, sheet(), 3_000, own);
  expect(unkeptOf('a', 4_000, own)).toBeNull();
  expect(unkeptOf('b', 4_000, own)?.changes).toEqual({ room: 'Dome' });
  expect(unkeptOf('b', 30 * 86_400_000, own)).toBeNull();
});

test('a browser that is full, or holds nonsense, loses nothing that the page has', () => {
  const full = storage(10);
  expect(() => noteUnkept('a', { title: 'x'.repeat(100) }, sheet(), 0, full)).not.toThrow();
  expect(unkeptOf('a', 0, full)).toBeNull();
  const odd = storage();
  odd.setItem('lantern-unkept-a', '{"at":');
  expect(unkeptOf('a', 0, odd)).toBeNull();
});

describe('what was not kept the last time', () => {
  const copy = (changes: Partial<ShowDraft>, base = sheet()) => {
    const own = storage();
    noteUnkept('a', changes, base, 0, own);
    return unkeptOf('a', 1, own)!;
  };

  test('is put back where nobody has changed the same meanwhile', () => {
    const kept = copy({ title: 'Mine', room: 'Dome' });
    expect(sortedOut(kept, sheet())).toEqual({ putBack: { title: 'Mine', room: 'Dome' }, crossed: [] });
    expect(sortedOut(kept, sheet({ title: 'Theirs' }))).toEqual({ putBack: { room: 'Dome' }, crossed: [{ title: 'Mine' }] });
    // It reached the server after all.
    expect(sortedOut(kept, sheet({ title: 'Mine', room: 'Dome' }))).toEqual({ putBack: {}, crossed: [] });
  });

  test('a start is not joined with somebody else’s date, and the words for two channels are told apart by their channel', () => {
    expect(sortedOut(copy({ time: '21:00' }), sheet({ time: '19:00', date: '2027-03-05' })).crossed).toEqual([{ time: '21:00' }]);
    expect(sortedOut(copy({ date: '2027-03-06', time: '21:00' }), sheet({ date: '2027-03-05' }))).toEqual({
      putBack: {},
      crossed: [{ date: '2027-03-06', time: '21:00' }],
    });
    const words = (channelId: string, title: string) => ({ channelId, title, description: null, choices: {} });
    const kept = copy({ variants: [words('library', 'Mine')] });
    expect(sortedOut(kept, sheet({ variants: [words('page', 'Theirs')] })).putBack).toEqual({ variants: [words('library', 'Mine')] });
    expect(sortedOut(kept, sheet({ variants: [words('library', 'Theirs')] })).crossed).toHaveLength(1);
  });
});
