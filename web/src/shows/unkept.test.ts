import { noteUnkept, unkeptOf } from './unkept';

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
  noteUnkept('a', { title: 'Typed on a train' }, 1_000, own);
  noteUnkept('b', { room: 'Dome' }, 1_000, own);
  expect(unkeptOf('a', 2_000, own)).toEqual({ at: 1_000, changes: { title: 'Typed on a train' } });
  noteUnkept('a', {}, 3_000, own);
  expect(unkeptOf('a', 4_000, own)).toBeNull();
  expect(unkeptOf('b', 4_000, own)?.changes).toEqual({ room: 'Dome' });
  expect(unkeptOf('b', 30 * 86_400_000, own)).toBeNull();
});

test('a browser that is full, or holds nonsense, loses nothing that the page has', () => {
  const full = storage(10);
  expect(() => noteUnkept('a', { title: 'x'.repeat(100) }, 0, full)).not.toThrow();
  expect(unkeptOf('a', 0, full)).toBeNull();
  const odd = storage();
  odd.setItem('lantern-unkept-a', '{"at":');
  expect(unkeptOf('a', 0, odd)).toBeNull();
});
